// SPDX-License-Identifier: MIT
// The handles of the selected object over the scene: dragged with the pointer, moved with the keys, or typed as numbers.

import * as THREE from "three";

import { button, el } from "./dom";
import type { Handle, HandleGroup, ValueChange } from "./handles";

export interface Screen {
  /** The pixels of a point; nothing behind the camera. */
  project(at: THREE.Vector3): { x: number; y: number } | undefined;
  /** The ray of the camera through a pixel of the page. */
  rayAt(x: number, y: number): THREE.Ray;
}

export interface GripAsks {
  /** A handle has new numbers. Changes of one gesture are undone together. */
  change(handle: Handle, numbers: number[], gesture: number): void;
  /** Several values change at once. */
  changeAll(changes: ValueChange[], gesture: number): void;
}

const svg = "http://www.w3.org/2000/svg";
const finest = 0.001; // m

/** A number rounded to a multiple of a step, without digits that are not needed. */
export function snapped(value: number, step: number): number {
  const fine = step > 0 ? step : finest;
  return Number((Math.round(value / fine) * fine + 0).toFixed(6));
}

/** Where a dragged handle is: on the horizontal plane of its start, or on the vertical through it. */
export function draggedTo(start: THREE.Vector3, from: THREE.Ray, to: THREE.Ray, isVertical: boolean): THREE.Vector3 {
  const normal = isVertical ? new THREE.Vector3(from.direction.x, 0, from.direction.z) : new THREE.Vector3(0, 1, 0);
  if (normal.lengthSq() < 1e-9) normal.set(0, 0, 1);
  const plane = new THREE.Plane().setFromNormalAndCoplanarPoint(normal.normalize(), start);
  const first = from.intersectPlane(plane, new THREE.Vector3());
  const now = to.intersectPlane(plane, new THREE.Vector3());
  if (!first || !now) return start.clone();
  const by = now.sub(first);
  if (isVertical) by.setX(0).setZ(0);
  const furthest = 20 * Math.max(from.origin.distanceTo(start), 1); // near the horizon, a pixel is very far
  return start.clone().add(by.clampLength(0, furthest));
}

interface Grip {
  handle: Handle;
  element: HTMLButtonElement;
  add?: HTMLButtonElement;
}

export class Grips {
  private readonly lines: SVGSVGElement = document.createElementNS(svg, "svg");
  private readonly layer = el("div", { class: "grips", role: "group", "aria-label": "Handles of the selected object" });
  private readonly numbers = el("form", { class: "exact", hidden: "" });
  private groups: HandleGroup[] = [];
  private grips: Grip[] = [];
  private shape = "";
  private gesture = Math.floor(Math.random() * 2 ** 40);
  private dragged?: { grip: Grip; start: THREE.Vector3; from: THREE.Ray; hasMoved: boolean };
  private typedFor?: Grip;
  private moved?: { element: HTMLElement; at: THREE.Vector3 }; // by a key; the new numbers are not known yet
  step = 0.1; // m: the grid to which handles snap; 0 for none

  constructor(
    host: HTMLElement,
    private readonly screen: Screen,
    private readonly asks: GripAsks,
  ) {
    this.lines.setAttribute("class", "grip-lines");
    this.lines.setAttribute("aria-hidden", "true");
    host.append(this.lines, this.layer, this.numbers);
  }

  /** The next handles contain all changes of their values. */
  answered(): void {
    this.moved = undefined;
  }

  show(groups: HandleGroup[]): void {
    this.groups = groups;
    const handles = groups.flatMap((group) => group.handles);
    const shape = JSON.stringify(handles.map(({ id, label, after, without }) => [id, label, !!after, !!without]));
    if (shape !== this.shape) this.build(handles);
    this.shape = shape;
    handles.forEach((handle, i) => {
      const grip = this.grips[i];
      if (grip) grip.handle = handle;
    });
    this.place();
  }

  private build(handles: Handle[]): void {
    const focused = this.grips.findIndex(({ element }) => element === document.activeElement);
    this.grips = handles.map((handle) => {
      const element = button("", `${handle.label}: drag ${handle.isVertical ? "along the vertical, with Shift on the plane" : "on the plane, with Shift along the vertical"}; click to type`, () => undefined, {
        class: handle.id.includes(".") ? "grip-point" : "grip-point rest",
        "aria-label": [...handle.id.split(".").slice(1, 2), handle.label].join(" "),
      });
      const grip: Grip = { handle, element };
      if (handle.after) grip.add = button("+", "Add a point here", () => this.asks.changeAll(grip.handle.after?.changes ?? [], ++this.gesture), { class: "grip-add", "aria-label": `Add a point after ${handle.label}` });
      this.listen(grip);
      return grip;
    });
    this.layer.replaceChildren(...this.grips.flatMap(({ element, add }) => (add ? [element, add] : [element])));
    if (focused >= 0) this.grips[Math.min(focused, this.grips.length - 1)]?.element.focus();
    this.closeNumbers();
  }

  private listen(grip: Grip): void {
    const { element } = grip;
    element.addEventListener("pointerdown", (event) => {
      element.setPointerCapture(event.pointerId);
      ++this.gesture;
      this.dragged = { grip, start: grip.handle.at.clone(), from: this.screen.rayAt(event.clientX, event.clientY), hasMoved: false };
    });
    element.addEventListener("pointermove", (event) => {
      if (this.dragged?.grip !== grip) return;
      const { start, from } = this.dragged;
      if (!this.dragged.hasMoved && Math.hypot(event.movementX, event.movementY) === 0) return;
      this.dragged.hasMoved = true;
      this.move(grip, draggedTo(start, from, this.screen.rayAt(event.clientX, event.clientY), event.shiftKey !== (grip.handle.isVertical ?? false)));
    });
    const end = (): void => {
      if (this.dragged?.grip !== grip) return;
      const { hasMoved } = this.dragged;
      this.dragged = undefined;
      ++this.gesture;
      if (!hasMoved) this.openNumbers(grip);
    };
    element.addEventListener("pointerup", end);
    element.addEventListener("pointercancel", end);
    element.addEventListener("keydown", (event) => this.key(grip, event));
  }

  private key(grip: Grip, event: KeyboardEvent): void {
    const by = (event.shiftKey ? 10 : 1) * (this.step > 0 ? this.step : 0.1);
    const ways: Record<string, [number, number, number]> = {
      ArrowLeft: [-by, 0, 0], ArrowRight: [by, 0, 0], ArrowUp: [0, 0, -by], ArrowDown: [0, 0, by], PageUp: [0, by, 0], PageDown: [0, -by, 0],
    };
    const way = ways[event.key];
    const { without } = grip.handle;
    if (way) {
      ++this.gesture;
      const from = this.moved?.element === grip.element ? this.moved.at : grip.handle.at;
      this.moved = { element: grip.element, at: from.clone().add(new THREE.Vector3(...way)) };
      this.move(grip, this.moved.at);
    } else if (event.key === "Enter" || event.key === " ") this.openNumbers(grip);
    else if ((event.key === "Delete" || event.key === "Backspace") && without !== undefined) this.asks.changeAll(without, ++this.gesture);
    else return;
    event.preventDefault();
    event.stopPropagation();
  }

  private move(grip: Grip, at: THREE.Vector3): void {
    const { handle } = grip;
    const numbers = handle.numbersAt(at).map((number, i) => {
      const old = handle.numbers[i] ?? 0;
      return Math.abs(number - old) < 1e-9 ? old : handle.isAngle ? number : snapped(number, this.step);
    });
    if (numbers.every((number, i) => number === handle.numbers[i])) return;
    this.asks.change(handle, numbers, this.gesture);
  }

  // --- numbers by hand -----------------------------------------------------------------------------------------------

  private openNumbers(grip: Grip): void {
    const { handle } = grip;
    this.typedFor = grip;
    const input = el("input", { type: "text", value: handle.numbers.map((each) => snapped(each, 0)).join(", "), "aria-label": `${handle.label}, numbers`, spellcheck: "false" });
    const remove = button("Remove", "Remove this point (Delete)", () => {
      this.asks.changeAll(grip.handle.without ?? [], ++this.gesture);
      this.closeNumbers();
    });
    remove.hidden = handle.without === undefined;
    this.numbers.replaceChildren(el("span", {}, handle.label), input, remove);
    this.numbers.onsubmit = (event) => {
      event.preventDefault();
      const numbers = input.value.split(",").map(Number);
      if (numbers.length === handle.numbers.length && numbers.every(Number.isFinite)) {
        this.asks.change(grip.handle, numbers, ++this.gesture);
        this.closeNumbers();
        grip.element.focus();
      } else input.setCustomValidity(`Give ${handle.numbers.length === 1 ? "a number" : `${handle.numbers.length} numbers`}.`);
      input.reportValidity();
    };
    this.numbers.onkeydown = (event) => {
      input.setCustomValidity("");
      event.stopPropagation();
      if (event.key !== "Escape") return;
      this.closeNumbers();
      grip.element.focus();
    };
    this.numbers.hidden = false;
    this.place();
    input.select();
  }

  private closeNumbers(): void {
    this.numbers.hidden = true;
    this.typedFor = undefined;
  }

  // --- drawing -------------------------------------------------------------------------------------------------------

  /** Puts everything where the camera sees it. */
  place(): void {
    const put = (element: HTMLElement | undefined, at: THREE.Vector3 | undefined): void => {
      const place = at && this.screen.project(at.clone());
      if (!element) return;
      element.hidden = place === undefined;
      if (place) element.style.transform = `translate(-50%, -50%) translate(${place.x}px, ${place.y}px)`;
    };
    for (const { handle, element, add } of this.grips) {
      put(element, handle.at);
      put(add, handle.after?.at);
    }
    if (this.typedFor) {
      const place = this.screen.project(this.typedFor.handle.at.clone());
      if (place) this.numbers.style.transform = `translate(-50%, 12px) translate(${place.x}px, ${place.y}px)`;
    }
    this.lines.replaceChildren(...this.groups.flatMap((group) => this.linesOf(group)));
  }

  private linesOf({ handles, line, box }: HandleGroup): SVGElement[] {
    const made: SVGElement[] = [];
    const add = (points: THREE.Vector3[]): void => {
      const places = points.map((point) => this.screen.project(point.clone()));
      if (places.some((place) => place === undefined)) return;
      const element = document.createElementNS(svg, "polyline");
      element.setAttribute("points", places.map((place) => `${place?.x.toFixed(1)},${place?.y.toFixed(1)}`).join(" "));
      made.push(element);
    };
    if (line) add(line);
    for (const { from, at, ellipse } of handles) {
      if (from) add([from, at]);
      if (ellipse) add(ellipsePoints(ellipse));
    }
    if (box)
      for (let i = 0; i < 8; ++i)
        for (const bit of [1, 2, 4]) if ((i & bit) === 0) add([box[i] as THREE.Vector3, box[i | bit] as THREE.Vector3]);
    return made;
  }
}

function ellipsePoints({ centre, semiaxes: [first, second] }: { centre: THREE.Vector3; semiaxes: [THREE.Vector3, THREE.Vector3] }): THREE.Vector3[] {
  return Array.from({ length: 65 }, (_, i) => {
    const angle = (i / 64) * 2 * Math.PI;
    return centre.clone().addScaledVector(first, Math.cos(angle)).addScaledVector(second, Math.sin(angle));
  });
}
