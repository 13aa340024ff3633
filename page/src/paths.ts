// SPDX-License-Identifier: MIT
// The paths of the selected objects: the past, the future if nothing changes, and, after a change, the future that it
// has replaced.

import { joined, pathIn, type History, type Path } from "./history";
import type { Order } from "./messages";
import type { Frame, Stretch } from "./wire";

export interface PathsOf {
  past: Path;
  ahead?: Path;
  before?: Path;
}

/** False where the play does not have the object. */
const isKnown = ({ places }: Path): boolean => !Number.isNaN(places[0] ?? 0);

const furthest = 10; // s ahead, where the whole past is drawn

export class Paths {
  seconds = 10; // drawn back and ahead; 0 for all
  private names: readonly string[] = []; // of the selected objects that the history tracks
  private frame?: Frame;
  private ahead?: Stretch;
  private before = new Map<string, Path>();
  private gesture = -1;
  private compared: ((Path | undefined)[] | undefined)[] = []; // those of two tries
  private asked = { past: 0, ahead: 0, before: 0, tries: 0 };
  private questions = 0;
  private isAsking = false; // a request for past frames is pending

  constructor(
    private readonly history: History,
    private readonly send: (order: Order) => void,
  ) {}

  get hasOld(): boolean {
    return this.before.size > 0;
  }

  forgetOld(): void {
    this.before.clear();
  }

  choose(names: readonly string[], numbers: readonly number[]): void {
    this.names = names;
    this.history.track(numbers);
    this.forgetOld();
    this.forgetTries();
  }

  /** Handles the current frame, and requests frames that this tab does not know. */
  see(frame: Frame, isPlaying: boolean): void {
    const isOneMore = this.frame !== undefined && frame.current > this.frame.current && frame.current === frame.last;
    this.frame = frame;
    this.history.see(frame);
    this.askMissing();
    if (isOneMore && !isPlaying) this.askAhead(isPlaying);
  }

  hear(stretch: Stretch): void {
    if (stretch.kind === "past") {
      if (stretch.ask !== this.asked.past) return;
      this.isAsking = false;
      this.history.fill(stretch);
      this.askMissing();
    } else if (stretch.ask === this.asked.before) {
      // The future without the change: it continues the previous past.
      this.names.forEach((name, i) => this.before.set(name, joined(this.past(i), pathIn(stretch, i))));
    } else if (stretch.ask === this.asked.tries || stretch.ask === this.asked.tries + 1) {
      this.compared[stretch.ask - this.asked.tries] = this.names.map((_, i) => pathIn(stretch, i)).map((path) => (isKnown(path) ? path : undefined));
    } else if (stretch.ask === this.asked.ahead) {
      this.ahead = stretch;
    }
  }

  /** Sends one request at a time, for the newest frames first. */
  private askMissing(): void {
    const range = this.frame && this.history.missing(this.frame.first, this.frame.last);
    if (!range || this.isAsking) return;
    this.isAsking = true;
    this.asked.past = ++this.questions;
    this.send({ do: "past", ask: this.asked.past, objects: this.names, ...range });
  }

  /** The pending request will not be answered. */
  giveUp(): void {
    this.isAsking = false;
  }

  /** Requests everything anew. */
  askPast(): void {
    this.isAsking = false;
    this.askMissing();
  }

  /** The future is drawn from later frames where they are stored, and not while the scene plays. */
  askAhead(isPlaying: boolean): void {
    this.ahead = undefined;
    if (isPlaying || !this.frame || this.frame.current !== this.frame.last || this.names.length === 0) return;
    this.asked.ahead = this.ask();
  }

  /** Stores the future before the first change of a gesture. Returns true for the first. */
  remember(gesture: number): boolean {
    if (gesture === this.gesture || !this.frame) return false;
    this.gesture = gesture;
    const now = this.frame.time;
    if (this.frame.current === this.frame.last) {
      this.asked.before = this.ask();
      return true;
    }
    const [from, to] = this.seconds === 0 ? [-Infinity, Infinity] : [now - this.seconds, now + this.seconds];
    this.names.forEach((name, i) => this.before.set(name, this.history.path(i, from, to)));
    return true;
  }

  /** Requests the comparison of two tries, with the paths of both. */
  askTries(tries: [string, string]): void {
    this.asked.tries = this.questions + 1;
    this.questions += 2;
    this.send({ do: "compare", ask: this.asked.tries, tries, objects: this.names, seconds: this.seconds || furthest });
  }

  forgetTries(): void {
    this.compared = [];
  }

  /** The path of an object in the first or the second of two tries. */
  ofTry(which: number, i: number): Path | undefined {
    return this.compared[which]?.[i];
  }

  of(i: number): PathsOf {
    const now = this.frame?.time ?? 0;
    const isLast = this.frame?.current === this.frame?.last;
    const known = (): Path => this.history.path(i, now, this.seconds === 0 ? Infinity : now + this.seconds);
    return {
      past: this.past(i),
      ahead: isLast ? this.ahead && pathIn(this.ahead, i) : known(),
      before: this.before.get(this.names[i] ?? ""),
    };
  }

  private past(i: number): Path {
    const now = this.frame?.time ?? 0;
    return this.history.path(i, this.seconds === 0 ? -Infinity : now - this.seconds, now);
  }

  private ask(): number {
    const ask = ++this.questions;
    this.send({ do: "ahead", ask, objects: this.names, seconds: this.seconds || furthest });
    return ask;
  }
}
