// SPDX-License-Identifier: MIT
// Axes by sliders or a gamepad; what was pressed as a key file, and key files to be played.

import { button, el } from "./dom";
import type { Order } from "./messages";
import { SidePane } from "./side_pane";

const dead = 0.08; // of a stick around its middle
const least = 0.01; // change that is sent

/** The axes of a gamepad with the standard layout: its left stick, and its triggers. */
export function axesOf(pad: { axes: readonly number[]; buttons: readonly { value: number }[] }): Record<string, number> {
  const stick = (value = 0): number => (Math.abs(value) < dead ? 0 : value);
  const trigger = (i: number): number => pad.buttons[i]?.value ?? 0;
  return { forward: -stick(pad.axes[1]), left: -stick(pad.axes[0]), rise: trigger(7) - trigger(6) };
}

export class Inputs {
  readonly pane: SidePane;
  private readonly sliders = new Map<string, HTMLInputElement>();
  private readonly axes = el("div", { class: "axes" });
  private readonly pad = el("p", { class: "quiet" });
  private readonly sent = new Map<string, number>();

  constructor(
    host: HTMLElement,
    private readonly send: (order: Order) => void,
  ) {
    this.pane = new SidePane(host, "input", "Axes by sliders or a gamepad; key files", (isOpen) => isOpen && this.poll());
    const choice = el("input", { type: "file", accept: ".csv,text/csv", "aria-label": "Play a key file" });
    choice.addEventListener("change", () => void this.play(choice));
    this.pane.content.append(
      this.axes,
      this.pad,
      el("p", {}, button("Save what was pressed", "A key file, as hushed play --keys reads it", () => this.send({ do: "export", what: "keys" }))),
      el("label", {}, "Play a key file from the current frame on: ", choice),
    );
  }

  setAxes(names: readonly string[]): void {
    if ([...this.sliders.keys()].join() === names.join()) return;
    this.sliders.clear();
    for (const name of names) {
      const slider = el("input", { type: "range", min: -1, max: 1, step: 0.01, value: "0", "aria-label": `Axis ${name}` });
      slider.addEventListener("input", () => this.set(name, Number(slider.value)));
      const release = (): void => this.set(name, 0); // like a stick that is let go
      slider.addEventListener("pointerup", release);
      slider.addEventListener("pointercancel", release);
      slider.addEventListener("dblclick", release);
      this.sliders.set(name, slider);
    }
    this.axes.replaceChildren(...[...this.sliders].map(([name, slider]) => el("label", {}, el("span", {}, name), slider)));
    if (names.length === 0) this.axes.append(el("p", {}, "No behaviour of this scene reads an axis."));
  }

  private set(name: string, value: number): void {
    const slider = this.sliders.get(name);
    if (slider && Number(slider.value) !== value) slider.value = String(value);
    if (Math.abs((this.sent.get(name) ?? 0) - value) < (value === 0 ? Number.MIN_VALUE : least)) return;
    this.sent.set(name, value);
    this.send({ do: "axis", name, value });
  }

  /** Reads the first gamepad, as long as the pane is open. */
  private poll(): void {
    if (!this.pane.isOpen) return;
    const pad = [...(navigator.getGamepads?.() ?? [])].find((each) => each !== null);
    this.pad.textContent = pad ? `Gamepad: ${pad.id}` : "No gamepad. Press a button on one to connect it.";
    if (pad) for (const [name, value] of Object.entries(axesOf(pad))) if (this.sliders.has(name)) this.set(name, value);
    requestAnimationFrame(() => this.poll());
  }

  private async play(choice: HTMLInputElement): Promise<void> {
    const file = choice.files?.[0];
    if (file) this.send({ do: "input", text: await file.text() });
    choice.value = "";
  }
}
