// SPDX-License-Identifier: MIT
// The control of an easing: its text, the named easings as pictures, and a square in which both ends of a cubic-bezier
// are dragged while a dot runs along it.

import { bezierOf, nearestBezier, textOfBezier, valueAt, type Bezier } from "./bezier";
import { curvePicture, el } from "./dom";
import type { Gestures } from "./gestures";
import type { NamedCurve } from "./messages";

const lowest = -0.5; // of the values that the square shows
const highest = 1.5;
const seconds = 1.6; // for one run of the dot, with a pause

function svg(name: string, attributes: Record<string, string | number>): SVGElement {
  const made = document.createElementNS("http://www.w3.org/2000/svg", name);
  for (const [key, value] of Object.entries(attributes)) made.setAttribute(key, String(value));
  return made;
}

class Square {
  readonly element = el("div", { class: "square" });
  private readonly picture = svg("svg", { viewBox: `-0.1 ${1 - highest - 0.05} 1.2 ${highest - lowest + 0.1}`, role: "group", "aria-label": "Curve of the easing" });
  private readonly line = svg("polyline", {});
  private readonly arms = [svg("line", { x1: 0, y1: 1 }), svg("line", { x1: 1, y1: 0 })];
  private readonly handles: SVGElement[];
  private readonly dot = svg("circle", { r: 0.035, class: "dot" });
  private readonly track = el("div", { class: "track", "aria-hidden": "true" }, el("span"));
  private curve: Bezier = { x1: 0, y1: 0, x2: 1, y2: 1 };
  private began = 0;

  constructor(
    private readonly change: (text: string) => void,
    private readonly gestures: Gestures,
  ) {
    this.handles = [this.handle("Start of the curve", 0), this.handle("End of the curve", 1)];
    const frame = svg("rect", { x: 0, y: 0, width: 1, height: 1, class: "frame" });
    this.picture.append(frame, ...this.arms, this.line, this.dot, ...this.handles);
    this.element.append(this.picture, this.track);
  }

  show(curve: Bezier): void {
    this.curve = curve;
    const points = Array.from({ length: 61 }, (_, i) => [i / 60, 1 - valueAt(curve, i / 60)]);
    this.line.setAttribute("points", points.map(([x, y]) => `${x?.toFixed(3)},${y?.toFixed(3)}`).join(" "));
    [
      [curve.x1, curve.y1],
      [curve.x2, curve.y2],
    ].forEach(([x = 0, y = 0], end) => {
      this.handles[end]?.setAttribute("cx", String(x));
      this.handles[end]?.setAttribute("cy", String(1 - y));
      this.handles[end]?.setAttribute("aria-valuetext", `time ${x.toFixed(2)}, value ${y.toFixed(2)}`);
      this.handles[end]?.setAttribute("aria-valuenow", y.toFixed(2));
      this.arms[end]?.setAttribute("x2", String(x));
      this.arms[end]?.setAttribute("y2", String(1 - y));
    });
    this.place(1);
  }

  /** Lets the dot run as long as the square is seen. */
  run(): void {
    if (matchMedia("(prefers-reduced-motion: reduce)").matches) return;
    this.began = performance.now();
    const step = (now: number): void => {
      if (!this.element.checkVisibility()) return;
      this.place(Math.min((((now - this.began) / 1000) % seconds) / (seconds * 0.75), 1));
      requestAnimationFrame(step);
    };
    requestAnimationFrame(step);
  }

  private place(share: number): void {
    const value = valueAt(this.curve, Math.max(share, 0));
    this.dot.setAttribute("cx", String(share));
    this.dot.setAttribute("cy", String(1 - value));
    (this.track.firstElementChild as HTMLElement).style.bottom = `${((value - lowest) / (highest - lowest)) * 100}%`;
  }

  private handle(name: string, end: 0 | 1): SVGElement {
    const handle = svg("circle", { r: 0.06, class: "end-of-curve", role: "slider", tabindex: 0, "aria-label": name, "aria-valuemin": lowest, "aria-valuemax": highest });
    this.gestures.watch(handle);
    handle.addEventListener("pointerdown", (event) => {
      handle.setPointerCapture(event.pointerId);
      handle.focus();
    });
    handle.addEventListener("pointermove", (event) => {
      if (!handle.hasPointerCapture(event.pointerId)) return;
      const box = this.picture.getBoundingClientRect();
      this.move(end, ((event.clientX - box.left) / box.width) * 1.2 - 0.1, highest + 0.05 - ((event.clientY - box.top) / box.height) * (highest - lowest + 0.1));
    });
    handle.addEventListener("keydown", (event) => {
      const ways: Record<string, [number, number]> = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowDown: [0, -1], ArrowUp: [0, 1] };
      const way = ways[event.key];
      if (!way) return;
      event.preventDefault();
      event.stopPropagation();
      const by = event.shiftKey ? 0.1 : 0.01;
      const [x, y] = end === 0 ? [this.curve.x1, this.curve.y1] : [this.curve.x2, this.curve.y2];
      this.move(end, x + way[0] * by, y + way[1] * by);
    });
    return handle;
  }

  private move(end: 0 | 1, x: number, y: number): void {
    const time = Math.max(0, Math.min(x, 1));
    const value = Math.max(lowest, Math.min(y, highest));
    this.show(end === 0 ? { ...this.curve, x1: time, y1: value } : { ...this.curve, x2: time, y2: value });
    this.change(textOfBezier(this.curve));
  }
}

export class EasingControl {
  readonly element = el("div");
  private readonly input: HTMLInputElement;
  private readonly opener = el("button", { type: "button", class: "curve-button", "aria-expanded": "false", title: "Choose a curve, or drag it" });
  private readonly grid = el("div", { class: "easings", role: "group", "aria-label": "Easings" });
  private readonly square: Square;
  private readonly board: HTMLElement;
  private text = "";

  constructor(
    id: string,
    help: string,
    private readonly easings: () => NamedCurve[],
    private readonly send: (text: string) => void,
    gestures: Gestures,
  ) {
    this.input = el("input", { type: "text", id, spellcheck: "false", "aria-describedby": help });
    this.square = new Square(send, gestures);
    this.board = el("div", { class: "easing-board", hidden: "" }, this.square.element, this.grid);
    this.opener.addEventListener("click", () => this.open(this.board.hidden));
    this.input.addEventListener("change", () => this.send(this.input.value.trim()));
    this.element.append(el("div", { class: "easing-row" }, this.opener, this.input), this.board);
  }

  private open(isOpen: boolean): void {
    this.board.hidden = !isOpen;
    this.opener.setAttribute("aria-expanded", String(isOpen));
    if (isOpen && this.grid.childElementCount === 0)
      for (const { name, curve } of this.easings())
        this.grid.append(el("button", { type: "button", title: name, onclick: () => this.send(name) }, curvePicture(curve), el("span", {}, name)));
    this.show(this.text);
    if (isOpen) this.square.run();
  }

  show(text: string): void {
    this.text = text;
    if (document.activeElement !== this.input) this.input.value = text;
    const curve = this.easings().find((each) => each.name === text)?.curve;
    const bezier = bezierOf(text);
    const drawn = curve ?? (bezier ? Array.from({ length: 25 }, (_, i) => valueAt(bezier, i / 24)) : undefined);
    this.opener.replaceChildren(drawn ? curvePicture(drawn, 26) : "curve");
    for (const each of this.grid.children) each.setAttribute("aria-pressed", String((each as HTMLElement).title === text));
    // A named curve of another sort is where a curve by hand begins: as near to it as possible.
    if (!this.board.hidden && !this.square.element.matches(":active")) this.square.show(bezier ?? nearestBezier(curve ?? [0, 1]));
  }
}
