// SPDX-License-Identifier: MIT
// Lines from the selected object to others, with their distances and bearings.

import { byId, el } from "./dom";
import { reading } from "./format";
import { poseSize, type Frame } from "./wire";

export class Distances {
  readonly choice = el("select", { "aria-label": "Line to another object, with the distance" });
  private names: readonly string[] = [];

  constructor(changed: () => void) {
    this.choice.addEventListener("change", changed);
  }

  setObjects(names: readonly string[]): void {
    const before = this.choice.value;
    this.names = names;
    this.choice.replaceChildren(
      el("option", { value: "" }, "no line"),
      el("option", { value: "*" }, "to all that it reads"),
      ...names.map((each) => el("option", { value: each }, `to ${each}`)),
    );
    this.choice.value = before;
    if (this.choice.selectedIndex < 0) this.choice.value = "";
  }

  /** The numbers of the objects to which lines are drawn. `read`: the names of those that the selected one reads. */
  to(read: readonly string[]): number[] {
    const wanted = this.choice.value;
    if (wanted === "") return [];
    const names = wanted === "*" ? read : [wanted];
    return [...new Set(names)].map((name) => this.names.indexOf(name)).filter((number) => number >= 0);
  }

  show(frame: Frame, from: number, to: readonly number[]): void {
    const part = (object: number, axis: number): number => frame.poses[object * poseSize + axis] ?? 0;
    byId("between").replaceChildren(
      ...to.flatMap((other) => {
        const [x, y, z] = [0, 1, 2].map((axis) => part(other, axis) - part(from, axis)) as [number, number, number];
        const away = Math.hypot(x, y, z);
        const bearing = away === 0 ? 0 : (Math.atan2(x, z) * 180) / Math.PI;
        return [el("dt", {}, `${this.names[from] ?? ""} → ${this.names[other] ?? ""}`), el("dd", {}, `${reading(away)} m, bearing ${bearing.toFixed(1)}°`)];
      }),
    );
  }
}
