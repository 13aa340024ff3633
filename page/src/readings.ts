// SPDX-License-Identifier: MIT
// The readings: each watch with its numbers in this frame and the one before, and its curve with this frame marked.

import uPlot from "uplot";

import { breakable, button, el } from "./dom";
import { change, reading } from "./format";
import type { History } from "./history";
import type { Watch } from "./messages";
import type { Frame } from "./wire";

/** The time span of all curves, and the moment that is marked in them. */
export interface Span {
  from: number;
  to: number;
  now: number;
}

const height = 74;
const mostPoints = 600; // points in a curve

/** Draws lines from number to number. null ends a line, however narrow the gap; undefined is skipped. */
function penLines(plot: uPlot, series: number, first: number, last: number): uPlot.Series.Paths {
  const stroke = new Path2D();
  const times = plot.data[0];
  const values = plot.data[series] ?? [];
  let isDown = false;
  for (let i = first; i <= last; ++i) {
    const value = values[i];
    if (value === undefined) continue;
    if (value === null) {
      isDown = false;
      continue;
    }
    const x = plot.valToPos(times[i] as number, "x", true);
    const y = plot.valToPos(value, "y", true);
    if (isDown) stroke.lineTo(x, y);
    else stroke.moveTo(x, y);
    isDown = true;
  }
  return { stroke };
}

class Strip {
  readonly element: HTMLElement;
  private readonly rows: { now: HTMLElement; before: HTMLElement; change: HTMLElement; row: HTMLElement }[];
  private readonly host = el("div", { class: "curve" });
  private plot?: uPlot;
  private span: Span = { from: 0, to: 1, now: 0 };

  constructor(
    readonly watch: Watch,
    readonly firstColumn: number,
    private readonly asks: { remove(text: string): void; goTo(time: number): void; open(watch: Watch, firstColumn: number): void },
  ) {
    this.rows = watch.columns.map(() => ({
      now: el("td", { class: "now" }),
      before: el("td", { class: "before" }),
      change: el("td", { class: "change" }),
      row: el("tr"),
    }));
    watch.columns.forEach((column, i) => {
      const cells = this.rows[i];
      if (!cells) return;
      const part = watch.columns.length > 1 ? column.name.slice(column.name.lastIndexOf(".") + 1) : "";
      cells.row.append(
        el("th", { scope: "row", style: `--mark: var(--line${(i % 6) + 1})` }, part),
        cells.before,
        cells.now,
        cells.change,
      );
    });
    const unit = watch.columns[0]?.unit ?? "";
    this.element = el(
      "section",
      { class: "reading", "aria-label": watch.text },
      el(
        "header",
        {},
        el("h3", {}, ...breakable(watch.text), el("span", { class: "unit" }, unit)),
        button("⤢", `Open ${watch.text} wide over the scene`, () => this.asks.open(watch, firstColumn), {
          class: "quiet",
          "aria-label": `Open ${watch.text} wide`,
        }),
        button("×", `Stop watching ${watch.text}`, () => this.asks.remove(watch.text), {
          class: "quiet",
          "aria-label": `Stop watching ${watch.text}`,
        }),
      ),
      el("table", {}, ...this.rows.map((cells) => cells.row)),
      this.host,
    );
  }

  showNumbers(frame: Frame): void {
    this.rows.forEach((cells, i) => {
      const now = frame.values[this.firstColumn + i];
      const before = frame.before[this.firstColumn + i];
      cells.now.textContent = reading(now);
      cells.before.textContent = reading(before);
      const changed = change(now, before);
      cells.change.textContent = changed;
      cells.row.classList.toggle("changed", changed !== "");
    });
  }

  showCurve(history: History, span: Span): void {
    this.span = span;
    const width = this.host.clientWidth;
    if (width === 0) return;
    const numbers = this.watch.columns.map((_, i) => this.firstColumn + i);
    const isAngle = this.watch.columns[0]?.unit === "deg";
    const { times, columns } = history.curve(numbers, isAngle, span.from, span.to, mostPoints);
    const data = [times, ...columns];
    if (!this.plot) this.plot = this.make(width);
    if (this.plot.width !== width) this.plot.setSize({ width, height });
    this.plot.batch(() => {
      this.plot?.setData(data as uPlot.AlignedData, false);
      this.plot?.setScale("x", { min: span.from, max: span.to });
    });
  }

  /** Reads the colours of the style again. */
  forgetCurve(): void {
    this.plot?.destroy();
    this.plot = undefined;
  }

  private make(width: number): uPlot {
    const style = getComputedStyle(document.documentElement);
    const color = (name: string): string => style.getPropertyValue(name).trim();
    const markNow = (plot: uPlot): void => {
      const x = plot.valToPos(this.span.now, "x", true);
      plot.ctx.save();
      plot.ctx.strokeStyle = color("--now");
      plot.ctx.lineWidth = 1.5 * devicePixelRatio;
      plot.ctx.beginPath();
      plot.ctx.moveTo(x, plot.bbox.top);
      plot.ctx.lineTo(x, plot.bbox.top + plot.bbox.height);
      plot.ctx.stroke();
      plot.ctx.restore();
    };
    const plot = new uPlot(
      {
        width,
        height,
        padding: [6, 6, 4, 0],
        legend: { show: false },
        cursor: { show: false },
        scales: {
          x: { time: false },
          y: {
            range: (_, low, high) => {
              const margin = high - low > 1e-9 ? (high - low) * 0.1 : 1;
              return [low - margin, high + margin];
            },
          },
        },
        axes: [
          { show: false },
          {
            size: 46,
            gap: 3,
            font: "11px system-ui, sans-serif",
            stroke: color("--quiet"),
            grid: { stroke: color("--grid"), width: 1 },
            ticks: { show: false },
            space: 26,
          },
        ],
        series: [
          {},
          ...this.watch.columns.map((_, i) => ({
            stroke: color(`--line${(i % 6) + 1}`),
            width: 1.6,
            pxAlign: 0,
            paths: penLines,
            points: { show: false },
          })),
        ],
        hooks: { draw: [markNow] },
      },
      [[], ...this.watch.columns.map(() => [])],
      this.host,
    );
    plot.over.addEventListener("click", (event) => this.asks.goTo(plot.posToVal(event.offsetX, "x")));
    return plot;
  }
}

export class Readings {
  private strips: Strip[] = [];
  private texts = "";
  private readonly list = el("div", { class: "list" });
  private readonly input = el("input", {
    type: "text",
    list: "watchable",
    placeholder: "tug.speed, distance(tug,ferry) …",
    "aria-label": "Add a watch",
    spellcheck: "false",
    autocomplete: "off",
  });
  private readonly watchable = el("datalist", { id: "watchable" });

  constructor(
    host: HTMLElement,
    private readonly asks: { watch(texts: string[]): void; goTo(time: number): void; open(watch: Watch, firstColumn: number): void },
  ) {
    host.append(
      el("div", { class: "heads", "aria-hidden": "true" }, ...["before", "now", "change"].map((each) => el("span", {}, each))),
      this.list,
      el(
        "form",
        {
          class: "add",
          onsubmit: (event: SubmitEvent) => {
            event.preventDefault();
            const text = this.input.value.trim();
            if (text !== "") this.asks.watch([...this.watched(), text]);
            this.input.value = "";
          },
        },
        this.input,
        this.watchable,
        el("button", { type: "submit" }, "Watch"),
      ),
    );
  }

  private watched(): string[] {
    return this.strips.map((strip) => strip.watch.text);
  }

  /** The watches of an object to choose from. */
  suggest(object: string | undefined): void {
    const parts = ["position", "speed", "velocity", "acceleration", "rotation.yaw", "angular_speed"];
    this.watchable.replaceChildren(
      ...(object === undefined ? [] : parts.map((part) => el("option", { value: `${object}.${part}` }))),
    );
  }

  setWatches(watches: Watch[]): void {
    const texts = JSON.stringify(watches);
    if (texts === this.texts) return;
    this.texts = texts;
    for (const strip of this.strips) strip.forgetCurve();
    let column = 0;
    this.strips = watches.map((watch) => {
      const strip = new Strip(watch, column, {
        remove: (text) => this.asks.watch(this.watched().filter((each) => each !== text)),
        goTo: (time) => this.asks.goTo(time),
        open: this.asks.open,
      });
      column += watch.columns.length;
      return strip;
    });
    this.list.replaceChildren(...this.strips.map((strip) => strip.element));
  }

  /** The watches with their first columns. */
  get columns(): { watch: Watch; firstColumn: number }[] {
    return this.strips.map(({ watch, firstColumn }) => ({ watch, firstColumn }));
  }

  show(frame: Frame, history: History, span: Span): void {
    for (const strip of this.strips) {
      strip.showNumbers(frame);
      strip.showCurve(history, span);
    }
  }

  repaint(): void {
    for (const strip of this.strips) strip.forgetCurve();
  }
}
