// SPDX-License-Identifier: MIT
// Time: play, pause, single steps, and a bar of all played frames with a mark for each event.

import { button, el, oncePerFrame } from "./dom";
import type { History } from "./history";
import { lowerBound } from "./history";
import type { Stretch } from "./loop";
import type { Mark, State } from "./messages";
import type { Frame } from "./wire";

export interface ClockAsks {
  playOrPause(): void;
  step(by: number): void;
  show(frame: number): void;
  again(): void;
  rhythm(change: { rate?: number; pace?: number; uneven?: number | null }): void;
  setWindow(seconds: number): void;
  /** Frames to be played again and again; nothing to play on. */
  loop(stretch: Stretch | undefined): void;
}

const paces = [0.05, 0.1, 0.25, 0.5, 1, 2, 4];
const rates = [24, 25, 30, 48, 50, 60, 90, 120, 144];
const windows = [2, 5, 10, 30, 60, 0];

function select(label: string, values: number[], words: (value: number) => string, change: (value: number) => void) {
  return el(
    "select",
    { "aria-label": label, title: label, onchange: (event: Event) => change(Number((event.target as HTMLSelectElement).value)) },
    ...values.map((value) => el("option", { value }, words(value))),
  );
}

/** Selects a value, which is added to the choices where it is missing. */
function choose(list: HTMLSelectElement, value: number, words: string): void {
  if (![...list.options].some((option) => Number(option.value) === value)) list.append(el("option", { value }, words));
  if (document.activeElement !== list) list.value = String(value);
}

export class Clock {
  private readonly play: HTMLButtonElement;
  private readonly time = el("output", { class: "time" });
  private readonly number = el("output", { class: "number" });
  private readonly scrubber = el("input", { type: "range", min: 0, max: 0, step: 1, "aria-label": "Current frame" });
  private readonly canvas = el("canvas", { class: "marks", "aria-hidden": "true" });
  private readonly pace: HTMLSelectElement;
  private readonly rate: HTMLSelectElement;
  private readonly rhythm = el("span", {}, "frames");
  private readonly uneven: HTMLInputElement;
  private readonly earlier: HTMLButtonElement;
  private readonly later: HTMLButtonElement;
  private readonly looped: HTMLButtonElement;
  private marks: Mark[] = [];
  private stretch?: Stretch; // the loop, or what is being dragged
  private frame?: Frame;
  private state?: State;
  private wanted?: { frame: number; until: number }; // the frame that the user has dragged the scrubber to
  private readonly due = oncePerFrame(() => this.draw());

  constructor(
    host: HTMLElement,
    private readonly happened: HTMLElement,
    private readonly history: History,
    private readonly asks: ClockAsks,
  ) {
    this.play = button("Play", "Play or pause (Space)", () => asks.playOrPause(), { class: "play" });
    this.pace = select("Playback speed", paces, (pace) => `${pace} ×`, (pace) => asks.rhythm({ pace }));
    this.rate = select("Frames per second", rates, (rate) => `${rate} per s`, (rate) => asks.rhythm({ rate }));
    this.uneven = el("input", {
      type: "checkbox",
      onchange: () => asks.rhythm({ uneven: this.uneven.checked ? 1 : null }),
    });
    this.earlier = button("‹ event", "To the previous event", () => this.toEvent(-1));
    this.later = button("event ›", "To the next event", () => this.toEvent(1));
    const window = select("Time span of curves and paths", windows, (s) => (s === 0 ? "show all" : `show ${s} s`), asks.setWindow);
    window.value = "10";
    this.scrubber.addEventListener("input", () => {
      this.wanted = { frame: Number(this.scrubber.value), until: performance.now() + 1000 };
      asks.show(this.wanted.frame);
    });
    this.looped = button("", "Play on without the loop", () => this.setLoop(undefined), { class: "looped", hidden: "" });
    this.listenToMarks();
    host.append(
      el(
        "div",
        { class: "transport", role: "group", "aria-label": "Play" },
        this.play,
        button("‹ frame", "One frame back (left arrow)", () => asks.step(-1), { "aria-label": "One frame back" }),
        button("frame ›", "One frame forward (right arrow)", () => asks.step(1), { "aria-label": "One frame forward" }),
        button("start", "Back to frame 0 (Home)", () => asks.again(), { "aria-label": "To the start" }),
        el("div", { class: "where" }, this.time, this.number),
        this.earlier,
        this.later,
        this.looped,
        this.pace,
        window,
        el(
          "details",
          { class: "more" },
          el("summary", {}, this.rhythm),
          el(
            "div",
            {},
            el("label", {}, "frames ", this.rate),
            el("label", { title: "Frames of uneven length, as on a busy machine" }, this.uneven, " uneven"),
          ),
        ),
      ),
      el("div", { class: "scrub" }, this.canvas, this.scrubber),
    );
    new ResizeObserver(() => this.due()).observe(this.canvas);
  }

  setState(state: State): void {
    this.state = state;
    this.play.textContent = state.playing ? "Pause" : "Play";
    this.play.setAttribute("aria-pressed", String(state.playing));
    choose(this.pace, state.pace, `${state.pace} ×`);
    this.rate.disabled = state.rate === null;
    if (state.rate !== null) choose(this.rate, state.rate, `${state.rate} per s`);
    this.uneven.disabled = state.rate === null;
    this.uneven.checked = state.uneven !== null;
    this.rhythm.textContent = state.rate === null ? "frames" : `${state.rate} per s${state.uneven === null ? "" : ", uneven"}`;
  }

  setMarks(marks: Mark[], from: number): void {
    this.marks = [...this.marks.slice(0, from), ...marks];
    this.due();
  }

  setFrame(frame: Frame): void {
    this.frame = frame;
    this.time.textContent = `${frame.time.toFixed(3)} s`;
    this.number.textContent = `frame ${frame.current}`;
    this.scrubber.min = String(frame.first);
    this.scrubber.max = String(Math.max(frame.last, frame.first + 1));
    // Frames that arrive late do not move the handle while the user drags it.
    if (this.wanted && (this.wanted.frame === frame.current || performance.now() > this.wanted.until)) this.wanted = undefined;
    if (!this.wanted) this.scrubber.value = String(frame.current);
    this.scrubber.setAttribute("aria-valuetext", `frame ${frame.current}, ${frame.time.toFixed(3)} seconds`);
    const before = lowerBound(this.marks.map((mark) => mark.time), frame.time + 1e-9);
    const last = this.marks[before - 1];
    let from = before;
    while (last && from > 0 && this.frameOf(this.marks[from - 1] ?? last) === this.frameOf(last)) --from;
    const words = this.marks.slice(from, before).map((mark) => mark.words).join("; ");
    this.happened.textContent = last ? `${last.time.toFixed(2)} s: ${words}` : "";
    this.happened.title = words;
    this.happened.classList.toggle("just", last !== undefined && frame.time - last.time < 0.25);
    this.earlier.disabled = before === 0;
    this.later.disabled = before === this.marks.length;
    this.due();
  }

  private toEvent(way: -1 | 1): void {
    if (!this.frame) return;
    const current = this.frame.current;
    const others = this.marks.filter((mark) =>
      way > 0 ? this.frameOf(mark) > current : this.frameOf(mark) < current,
    );
    const to = way > 0 ? others[0] : others.at(-1);
    if (to) this.asks.show(this.frameOf(to));
  }

  private frameOf(mark: Mark): number {
    return this.history.frameAt(mark.time - 1e-9) ?? 0;
  }

  private share(frame: number): number {
    if (!this.frame) return 0;
    return (frame - this.frame.first) / Math.max(this.frame.last - this.frame.first, 1);
  }

  /** A click on a mark goes to its event; a drag sets the loop. */
  private listenToMarks(): void {
    const canvas = this.canvas;
    let begin: number | undefined;
    const frameAt = (event: PointerEvent): number => {
      const share = Math.max(0, Math.min(event.offsetX / Math.max(canvas.clientWidth, 1), 1));
      return Math.round((this.frame?.first ?? 0) + share * ((this.frame?.last ?? 0) - (this.frame?.first ?? 0)));
    };
    canvas.title = "Click a mark to go to its event; drag to play a stretch again and again";
    canvas.addEventListener("pointerdown", (event) => {
      canvas.setPointerCapture(event.pointerId);
      begin = frameAt(event);
    });
    canvas.addEventListener("pointermove", (event) => {
      if (begin === undefined) {
        canvas.title = this.markAt(event)?.words ?? "Drag to play a stretch again and again";
        return;
      }
      const end = frameAt(event);
      if (Math.abs(end - begin) < 2) return;
      this.stretch = { from: Math.min(begin, end), to: Math.max(begin, end) };
      this.due();
    });
    canvas.addEventListener("pointerup", (event) => {
      const isDrag = begin !== undefined && Math.abs(frameAt(event) - begin) >= 2;
      begin = undefined;
      if (isDrag) return this.setLoop(this.stretch);
      const nearest = this.markAt(event);
      if (nearest) this.asks.show(this.frameOf(nearest));
    });
  }

  private setLoop(stretch: Stretch | undefined): void {
    this.stretch = stretch;
    this.looped.hidden = stretch === undefined;
    if (stretch) this.looped.textContent = `loop ${stretch.from}–${stretch.to} ×`;
    this.asks.loop(stretch);
    this.due();
  }

  private markAt(event: MouseEvent): Mark | undefined {
    const x = event.offsetX / this.canvas.clientWidth;
    let nearest: Mark | undefined;
    let least = 8 / this.canvas.clientWidth;
    for (const mark of this.marks) {
      const away = Math.abs(this.share(this.frameOf(mark)) - x);
      if (away < least) [nearest, least] = [mark, away];
    }
    return nearest;
  }

  private draw(): void {
    const { clientWidth: width, clientHeight: height } = this.canvas;
    const ratio = devicePixelRatio;
    this.canvas.width = width * ratio;
    this.canvas.height = height * ratio;
    const context = this.canvas.getContext("2d");
    if (!context || !this.frame) return;
    const style = getComputedStyle(document.documentElement);
    context.scale(ratio, ratio);
    if (this.stretch) {
      context.fillStyle = style.getPropertyValue("--accent");
      context.globalAlpha = 0.35;
      const [from, to] = [this.share(this.stretch.from) * width, this.share(this.stretch.to) * width];
      context.fillRect(from, 0, to - from, height);
      context.globalAlpha = 1;
    }
    context.fillStyle = style.getPropertyValue("--event");
    for (const mark of this.marks) {
      const x = this.share(this.frameOf(mark)) * width;
      context.fillRect(Math.min(Math.max(x - 1, 0), width - 2), 2, 2, height - 4);
    }
    const playable = this.state?.playable ?? 0;
    if (playable > this.frame.first) {
      context.fillStyle = style.getPropertyValue("--quiet");
      context.fillRect(0, height - 2, this.share(playable) * width, 2); // the play cannot continue from there
    }
  }

  repaint(): void {
    this.due();
  }
}
