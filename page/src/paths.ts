// SPDX-License-Identifier: MIT
// The paths of the chosen objects: where they were, where they will be if nothing changes, and, once something was
// changed, where they would have been.

import { joined, pathIn, type History, type Path } from "./history";
import type { Order } from "./messages";
import type { Frame, Stretch } from "./wire";

export interface PathsOf {
  past: Path;
  ahead?: Path;
  before?: Path;
}

const furthest = 10; // s ahead, where all of the past is shown

export class Paths {
  seconds = 10; // that are shown, back and ahead; 0 for all
  private names: readonly string[] = []; // of the chosen, as the history tracks them
  private frame?: Frame;
  private ahead?: Stretch;
  private before = new Map<string, Path>();
  private gesture = -1;
  private asked = { past: 0, ahead: 0, before: 0 };
  private questions = 0;
  private isAsking = false; // for frames of the past

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
  }

  /** A frame is shown. Asks for those that this tab has not seen. */
  see(frame: Frame, isPlaying: boolean): void {
    const isOneMore = this.frame !== undefined && frame.shown > this.frame.shown && frame.shown === frame.last;
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
      // What would have come, had nothing been changed: it goes on from the past as it was.
      this.names.forEach((name, i) => this.before.set(name, joined(this.past(i), pathIn(stretch, i))));
    } else if (stretch.ask === this.asked.ahead) {
      this.ahead = stretch;
    }
  }

  /** One question at a time, for the newest frames first. */
  private askMissing(): void {
    const range = this.frame && this.history.missing(this.frame.first, this.frame.last);
    if (!range || this.isAsking) return;
    this.isAsking = true;
    this.asked.past = ++this.questions;
    this.send({ do: "past", ask: this.asked.past, objects: this.names, ...range });
  }

  /** The question will not be answered. */
  giveUp(): void {
    this.isAsking = false;
  }

  /** All is asked for anew. */
  askPast(): void {
    this.isAsking = false;
    this.askMissing();
  }

  /** Where later frames are kept, these are shown; while it plays, one sees them come. */
  askAhead(isPlaying: boolean): void {
    this.ahead = undefined;
    if (isPlaying || !this.frame || this.frame.shown !== this.frame.last || this.names.length === 0) return;
    this.asked.ahead = this.ask();
  }

  /** The paths that things would take, before the first change of a gesture. */
  remember(gesture: number): void {
    if (gesture === this.gesture || !this.frame) return;
    this.gesture = gesture;
    const now = this.frame.time;
    if (this.frame.shown === this.frame.last) {
      this.asked.before = this.ask();
      return;
    }
    const [from, to] = this.seconds === 0 ? [-Infinity, Infinity] : [now - this.seconds, now + this.seconds];
    this.names.forEach((name, i) => this.before.set(name, this.history.path(i, from, to)));
  }

  of(i: number): PathsOf {
    const now = this.frame?.time ?? 0;
    const isLast = this.frame?.shown === this.frame?.last;
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
