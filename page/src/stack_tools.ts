// SPDX-License-Identifier: MIT
// The controls of one behaviour in the stack: move, switch off, play alone, remove.

import { button, el } from "./dom";
import type { Edits } from "./edits";
import type { Behaviour } from "./messages";

export interface StackAsks {
  edits: Edits;
  set(path: string, to: string, gesture: number): void;
  gesture(): number; // the number of a new gesture
}

const nameOf = (path: string): string => path.slice(path.indexOf(".") + 1);

function weightOf(behaviour: Behaviour): number {
  const weight = behaviour.common.find((field) => field.name === "weight")?.value;
  return typeof weight === "number" ? weight : 1;
}

/** What the stack of an object remembers from one message about it to the next. */
export class StackTools {
  private stack: readonly Behaviour[] = [];
  private readonly weights = new Map<string, number>(); // before they were switched off

  constructor(private readonly asks: StackAsks) {}

  show(stack: readonly Behaviour[]): void {
    this.stack = stack;
  }

  /** The controls in the head of a card. `card`: its element, once it is made. */
  of(behaviour: Behaviour, card: () => HTMLElement): { element: HTMLElement; show(behaviour: Behaviour): void } {
    const { path } = behaviour;
    const isOwn = behaviour.preset === "";
    const isOn = el("input", { type: "checkbox", title: "Off: its weight is 0", "aria-label": `${path} is on` });
    isOn.addEventListener("change", () => this.switchOn([path], isOn.checked));
    const alone = button("alone", "Switch all others of this stack off, or on again", () => this.alone(path), { "aria-label": `${path} alone`, class: "quiet" });
    const tools: Node[] = [el("label", { class: "on" }, isOn, "on"), alone];
    if (isOwn) {
      tools.unshift(this.grip(path, card));
      tools.push(
        button("×", "Remove this behaviour", () => this.asks.edits.make([{ edit: "remove behaviour", behaviour: path }]), {
          "aria-label": `Remove ${path}`,
          class: "quiet",
        }),
      );
    }
    const show = (now: Behaviour): void => {
      isOn.checked = weightOf(now) > 0;
      card().classList.toggle("off", !isOn.checked);
      alone.setAttribute("aria-pressed", String(this.isAlone(path)));
      alone.hidden = this.stack.length < 2;
    };
    return { element: el("span", { class: "tools" }, ...tools), show };
  }

  private isAlone(path: string): boolean {
    return this.stack.length > 1 && this.stack.every((each) => weightOf(each) > 0 === (each.path === path));
  }

  private alone(path: string): void {
    const others = this.stack.map((each) => each.path).filter((each) => each !== path);
    this.switchOn(this.isAlone(path) ? others : others.filter((each) => this.isOn(each)), this.isAlone(path));
  }

  private isOn(path: string): boolean {
    return this.stack.some((each) => each.path === path && weightOf(each) > 0);
  }

  private switchOn(paths: string[], isOn: boolean): void {
    const gesture = this.asks.gesture();
    for (const behaviour of this.stack) {
      if (!paths.includes(behaviour.path)) continue;
      if (!isOn && weightOf(behaviour) > 0) this.weights.set(behaviour.path, weightOf(behaviour));
      const to = isOn ? (this.weights.get(behaviour.path) ?? 1) : 0;
      this.asks.set(`${behaviour.path}.weight`, String(to), gesture);
    }
  }

  /** A handle that moves the card by dragging or by the arrow keys. */
  private grip(path: string, card: () => HTMLElement): HTMLElement {
    const grip = el("span", {
      class: "grip",
      role: "button",
      tabindex: 0,
      title: "Drag to another place in the stack, or use the arrow keys",
      "aria-label": `Move ${path}`,
    }, "⠿");
    grip.addEventListener("keydown", (event) => {
      const by = event.key === "ArrowLeft" ? -1 : event.key === "ArrowRight" ? 1 : 0;
      if (by === 0) return;
      event.preventDefault();
      event.stopPropagation();
      this.moveBy(path, by);
    });
    grip.addEventListener("pointerdown", (event) => {
      event.preventDefault();
      grip.focus();
      grip.setPointerCapture(event.pointerId);
      card().classList.add("moving");
    });
    grip.addEventListener("pointerup", (event) => {
      card().classList.remove("moving");
      const cards = [...(card().parentElement?.querySelectorAll<HTMLElement>(".card") ?? [])];
      const middles = cards.map((each) => {
        const box = each.getBoundingClientRect();
        return (box.left + box.right) / 2;
      });
      const from = cards.indexOf(card());
      const to = middles.filter((middle, i) => i !== from && middle < event.clientX).length;
      if (to !== from) this.moveBy(path, to - from);
    });
    return grip;
  }

  /** Only behaviours of the object itself change places. */
  private moveBy(path: string, by: number): void {
    const own = this.stack.filter((each) => each.preset === "").map((each) => each.path);
    const from = own.indexOf(path);
    const to = Math.min(Math.max(from + by, 0), own.length - 1);
    if (from < 0 || to === from) return;
    own.splice(from, 1);
    const before = own[to];
    this.asks.edits.make([{ edit: "move behaviour", behaviour: path, ...(before === undefined ? {} : { before: nameOf(before) }) }]);
  }
}
