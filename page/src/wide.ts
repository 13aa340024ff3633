// SPDX-License-Identifier: MIT
// Readings drawn large over the scene: several curves with scales of their own, zoomed and moved in time and value, a
// ruler between two moments, events, and the curves from before a change.

import { button, el, oncePerFrame } from "./dom";
import { reading, roundStep } from "./format";
import type { Curve, History } from "./history";
import type { Mark, Watch } from "./messages";
import type { Span } from "./readings";

interface Shown {
  watch: Watch;
  firstColumn: number;
  stretch: number; // of its values, by the wheel with Shift; 1: all that is seen fits
  range: [number, number]; // of the values in the present picture
}

const margin = { left: 64, right: 16, top: 26, bottom: 24 };
const mostPoints = 2000;

/** Where a value lies in a curve, by a line between the points around a time; nothing in a gap. */
export function valueIn({ times, columns }: Curve, column: number, time: number): number | undefined {
  const values = columns[column] ?? [];
  let before = -1;
  for (let i = 0; i < times.length; ++i) {
    if (values[i] === undefined) continue;
    if ((times[i] as number) > time) {
      const [a, b] = [values[before], values[i]];
      if (before < 0 || a === null || a === undefined || b === null || b === undefined) return undefined;
      const share = (time - (times[before] as number)) / ((times[i] as number) - (times[before] as number));
      return a + (b - a) * share;
    }
    before = i;
  }
  return before >= 0 && times[before] === time ? (values[before] ?? undefined) : undefined;
}

export class Wide {
  private readonly canvas = el("canvas", { tabindex: 0, role: "img", "aria-label": "Curves over time" });
  private readonly legend = el("ul");
  private readonly measured = el("p", { class: "measured", "aria-live": "polite" });
  private readonly rulerButton = button("Ruler", "Drag between two moments to measure them", () => this.toggleRuler(), { "aria-pressed": "false" });
  private shown: Shown[] = [];
  private active = 0; // whose scale is drawn and stretched
  private marks: readonly Mark[] = [];
  private span: Span = { from: 0, to: 1, now: 0 };
  private own?: { from: number; to: number }; // the time that was zoomed to; otherwise that of all curves
  private ruler?: { from: number; to: number };
  private drag?: { x: number; from: number; to: number; isMoved: boolean };
  private readonly due = oncePerFrame(() => this.draw());

  constructor(
    private readonly host: HTMLElement,
    private readonly history: History,
    private readonly goTo: (time: number) => void,
  ) {
    host.append(
      el(
        "header",
        {},
        this.legend,
        this.rulerButton,
        button("Follow", "The time of the other curves again", () => this.follow()),
        button("Close", "Close the curves (Escape)", () => this.close()),
      ),
      this.canvas,
      this.measured,
    );
    this.listen();
    new ResizeObserver(() => this.due()).observe(host);
  }

  /** Adds a reading, or removes it where it is shown already. */
  /** The picture of the curves, if they are open. */
  get picture(): HTMLCanvasElement | undefined {
    if (this.host.hidden) return undefined;
    const copy = el("canvas", { width: this.canvas.width, height: this.canvas.height });
    const context = copy.getContext("2d");
    if (!context) return undefined;
    context.fillStyle = getComputedStyle(document.documentElement).getPropertyValue("--paper").trim();
    context.fillRect(0, 0, copy.width, copy.height);
    context.drawImage(this.canvas, 0, 0);
    return copy;
  }

  toggle(watch: Watch, firstColumn: number): void {
    const at = this.shown.findIndex((each) => each.watch.text === watch.text);
    if (at >= 0) this.shown.splice(at, 1);
    else this.shown.push({ watch, firstColumn, stretch: 1, range: [0, 1] });
    this.active = Math.max(0, this.shown.length - 1);
    this.host.hidden = this.shown.length === 0;
    this.list();
    if (!this.host.hidden && at < 0) this.canvas.focus();
  }

  /** The watches have changed: those that are gone are no longer shown. */
  setWatches(watches: readonly { watch: Watch; firstColumn: number }[]): void {
    this.shown = this.shown.flatMap((each) => {
      const now = watches.find(({ watch }) => watch.text === each.watch.text);
      return now ? [{ ...each, ...now }] : [];
    });
    this.active = Math.min(this.active, Math.max(0, this.shown.length - 1));
    this.host.hidden = this.shown.length === 0;
    this.list();
  }

  show(span: Span, marks: readonly Mark[]): void {
    this.span = span;
    this.marks = marks;
    if (!this.host.hidden) this.due();
  }

  private close(): void {
    this.shown = [];
    this.host.hidden = true;
  }

  private follow(): void {
    this.own = undefined;
    for (const each of this.shown) each.stretch = 1;
    this.due();
  }

  private toggleRuler(): void {
    const isOn = this.rulerButton.getAttribute("aria-pressed") !== "true";
    this.rulerButton.setAttribute("aria-pressed", String(isOn));
    if (!isOn) this.ruler = undefined;
    this.due();
  }

  private list(): void {
    this.legend.replaceChildren(
      ...this.shown.map((each, i) => {
        const name = button(each.watch.text, "Draw the scale of this one", () => {
          this.active = i;
          this.list();
        });
        name.setAttribute("aria-pressed", String(i === this.active));
        const item = el("li", {}, name, button("×", `Remove ${each.watch.text}`, () => this.toggle(each.watch, each.firstColumn), { class: "quiet", "aria-label": `Remove ${each.watch.text}` }));
        item.style.setProperty("--mark", `var(--line${(i % 6) + 1})`);
        return item;
      }),
    );
    this.due();
  }

  // --- time and value ----------------------------------------------------------------------------------------------

  private time(): { from: number; to: number } {
    return this.own ?? this.span;
  }

  private timeAt(x: number): number {
    const { from, to } = this.time();
    return from + ((x - margin.left) / Math.max(this.canvas.clientWidth - margin.left - margin.right, 1)) * (to - from);
  }

  private xOf(time: number): number {
    const { from, to } = this.time();
    return margin.left + ((time - from) / (to - from)) * (this.canvas.clientWidth - margin.left - margin.right);
  }

  private zoom(around: number, factor: number): void {
    const { from, to } = this.time();
    if ((to - from) * factor < 0.01 || (to - from) * factor > 1e5) return;
    this.own = { from: around - (around - from) * factor, to: around + (to - around) * factor };
    this.due();
  }

  private move(by: number): void {
    const { from, to } = this.time();
    this.own = { from: from + by, to: to + by };
    this.due();
  }

  private listen(): void {
    this.canvas.addEventListener(
      "wheel",
      (event) => {
        event.preventDefault();
        const factor = 1.0015 ** (event.deltaY || event.deltaX); // Shift turns the wheel sideways
        const active = this.shown[this.active];
        if (!event.shiftKey) this.zoom(this.timeAt(event.offsetX), factor);
        else if (active) active.stretch = Math.max(0.05, Math.min(active.stretch / factor, 50));
        this.due();
      },
      { passive: false },
    );
    this.canvas.addEventListener("pointerdown", (event) => {
      this.canvas.setPointerCapture(event.pointerId);
      this.drag = { x: event.offsetX, ...this.time(), isMoved: false };
    });
    this.canvas.addEventListener("pointermove", (event) => {
      const drag = this.drag;
      if (!drag) return;
      drag.isMoved ||= Math.abs(event.offsetX - drag.x) > 3;
      if (!drag.isMoved) return;
      if (this.rulerButton.getAttribute("aria-pressed") === "true") this.ruler = { from: this.timeAt(drag.x), to: this.timeAt(event.offsetX) };
      else {
        const by = ((drag.x - event.offsetX) / (this.canvas.clientWidth - margin.left - margin.right)) * (drag.to - drag.from);
        this.own = { from: drag.from + by, to: drag.to + by };
      }
      this.due();
    });
    this.canvas.addEventListener("pointerup", (event) => {
      if (this.drag && !this.drag.isMoved) this.goTo(this.timeAt(event.offsetX));
      this.drag = undefined;
    });
    this.host.addEventListener("keydown", (event) => {
      const { from, to } = this.time();
      const acts: Record<string, () => void> = {
        Escape: () => this.close(),
        "+": () => this.zoom((from + to) / 2, 0.8),
        "-": () => this.zoom((from + to) / 2, 1.25),
        ArrowLeft: () => this.move((from - to) * 0.1),
        ArrowRight: () => this.move((to - from) * 0.1),
      };
      const act = event.target === this.canvas || event.key === "Escape" ? acts[event.key] : undefined;
      if (!act) return;
      event.preventDefault();
      event.stopPropagation();
      act();
    });
  }

  // --- drawing -----------------------------------------------------------------------------------------------------

  private draw(): void {
    const { clientWidth: width, clientHeight: height } = this.canvas;
    const context = this.canvas.getContext("2d");
    if (!context || width === 0 || this.shown.length === 0) return;
    const ratio = devicePixelRatio;
    this.canvas.width = width * ratio;
    this.canvas.height = height * ratio;
    context.scale(ratio, ratio);
    context.font = "11px system-ui, sans-serif";
    const style = getComputedStyle(document.documentElement);
    const color = (name: string): string => style.getPropertyValue(name).trim();
    const { from, to } = this.time();
    const line = (x1: number, y1: number, x2: number, y2: number): void => {
      context.beginPath();
      context.moveTo(x1, y1);
      context.lineTo(x2, y2);
      context.stroke();
    };
    const [top, bottom] = [margin.top, height - margin.bottom];

    context.strokeStyle = color("--grid");
    context.fillStyle = color("--quiet");
    context.textAlign = "center";
    const step = roundStep((to - from) / 6);
    for (let k = Math.ceil(from / step); k * step <= to; ++k) {
      line(this.xOf(k * step), top, this.xOf(k * step), bottom);
      context.fillText(`${Number((k * step).toFixed(6))} s`, this.xOf(k * step), height - 8);
    }
    this.drawMarks(context, color("--event"), top, bottom);

    context.save();
    context.beginPath();
    context.rect(margin.left, top, width - margin.left - margin.right, bottom - top);
    context.clip();
    const curves = this.shown.map((each, i) => this.drawCurve(context, each, color(`--line${(i % 6) + 1}`), color("--ghost"), top, bottom));
    context.restore();
    this.drawScale(context, color, top, bottom);

    context.strokeStyle = color("--now");
    if (this.span.now >= from && this.span.now <= to) line(this.xOf(this.span.now), top, this.xOf(this.span.now), bottom);
    this.drawRuler(context, color("--accent"), top, bottom);
    this.measure(curves);
  }

  private drawMarks(context: CanvasRenderingContext2D, color: string, top: number, bottom: number): void {
    const { from, to } = this.time();
    context.strokeStyle = context.fillStyle = color;
    context.textAlign = "left";
    let free = 0; // the pixel from which there is room for a name
    for (const mark of this.marks) {
      if (mark.time < from || mark.time > to) continue;
      const x = this.xOf(mark.time);
      context.setLineDash([3, 4]);
      context.beginPath();
      context.moveTo(x, top);
      context.lineTo(x, bottom);
      context.stroke();
      context.setLineDash([]);
      if (x < free) continue;
      context.fillText(mark.words, x + 3, top - 8);
      free = x + context.measureText(mark.words).width + 12;
    }
  }

  private drawCurve(context: CanvasRenderingContext2D, each: Shown, color: string, ghost: string, top: number, bottom: number): Curve {
    const { from, to } = this.time();
    const numbers = each.watch.columns.map((_, i) => each.firstColumn + i);
    const isAngle = each.watch.columns[0]?.unit === "deg";
    const curve = this.history.curve(numbers, isAngle, from, to, mostPoints);
    const former = this.history.formerCurve(numbers, isAngle, from, to, mostPoints);
    const values = [curve, former].flatMap((of) => (of?.columns ?? []).flat()).filter((value): value is number => typeof value === "number");
    const [least, most] = values.reduce(([low, high], value) => [Math.min(low, value), Math.max(high, value)], [Infinity, -Infinity]);
    const middle = values.length > 0 ? (least + most) / 2 : 0;
    const half = (Math.max(values.length > 0 ? most - least : 0, 1e-6) * 0.55) / each.stretch;
    each.range = [middle - half, middle + half];
    const y = (value: number): number => bottom - ((value - each.range[0]) / (each.range[1] - each.range[0])) * (bottom - top);
    for (const [of, stroke, dash] of [[former, ghost, [5, 4]], [curve, color, []]] as [Curve | undefined, string, number[]][])
      of?.columns.forEach((column, part) => {
        context.strokeStyle = stroke;
        context.lineWidth = part === 0 ? 1.8 : 1.1;
        context.setLineDash(dash);
        context.beginPath();
        let isDown = false;
        column.forEach((value, i) => {
          if (value === undefined) return;
          const x = this.xOf(of.times[i] as number);
          if (value !== null) isDown ? context.lineTo(x, y(value)) : context.moveTo(x, y(value));
          isDown = value !== null;
        });
        context.stroke();
      });
    context.setLineDash([]);
    context.lineWidth = 1;
    return curve;
  }

  private drawScale(context: CanvasRenderingContext2D, color: (name: string) => string, top: number, bottom: number): void {
    const active = this.shown[this.active];
    if (!active) return;
    const [low, high] = active.range;
    context.fillStyle = color(`--line${(this.active % 6) + 1}`);
    context.textAlign = "right";
    const step = roundStep((high - low) / 4);
    for (let k = Math.ceil(low / step); k * step <= high; ++k) {
      const y = bottom - ((k * step - low) / (high - low)) * (bottom - top);
      context.fillText(String(Number((k * step).toPrecision(6))), margin.left - 8, y + 4);
      context.fillRect(margin.left - 4, y, 4, 1);
    }
    context.fillText(active.watch.columns[0]?.unit ?? "", margin.left - 8, top - 8);
  }

  private drawRuler(context: CanvasRenderingContext2D, color: string, top: number, bottom: number): void {
    if (!this.ruler) return;
    const [a, b] = [this.xOf(this.ruler.from), this.xOf(this.ruler.to)];
    context.fillStyle = color;
    context.globalAlpha = 0.15;
    context.fillRect(Math.min(a, b), top, Math.abs(b - a), bottom - top);
    context.globalAlpha = 1;
    for (const x of [a, b]) context.fillRect(x - 0.5, top, 1, bottom - top);
  }

  private measure(curves: readonly Curve[]): void {
    const ruler = this.ruler;
    this.measured.hidden = ruler === undefined;
    if (!ruler) return;
    const parts = this.shown.map((each, i) => {
      const values = [ruler.from, ruler.to].map((time) => valueIn(curves[i] ?? { times: [], columns: [] }, 0, time));
      const difference = values[0] !== undefined && values[1] !== undefined ? values[1] - values[0] : undefined;
      return `${each.watch.columns[0]?.name ?? each.watch.text} ${reading(values[0])} → ${reading(values[1])}, ${reading(difference)} ${each.watch.columns[0]?.unit ?? ""}`;
    });
    this.measured.textContent = [`${reading(ruler.from)} s → ${reading(ruler.to)} s, ${reading(ruler.to - ruler.from)} s`, ...parts].join(" · ");
  }
}
