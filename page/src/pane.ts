// SPDX-License-Identifier: MIT
// A pane beside the scene: its size can be dragged, it can be folded, and the browser remembers both.

import { button, el } from "./dom";
import { remember, remembered } from "./memory";

export interface PaneOptions {
  name: string; // in words: "readings"
  edge: "right" | "top"; // the side of the pane that is dragged
  property: string; // the CSS variable that holds its size in pixels
  least: number;
  most: () => number;
  usual: () => number;
  changed: () => void;
}

const step = 16; // pixels, by keyboard

export class Pane {
  readonly divider: HTMLElement;
  readonly folder: HTMLButtonElement;
  private size: number;
  private isFolded: boolean;

  constructor(
    private readonly element: HTMLElement,
    private readonly options: PaneOptions,
  ) {
    const { name, edge } = options;
    this.size = Number(remembered(`hushed ${name}`) ?? options.usual());
    this.isFolded = remembered(`hushed ${name} folded`) === "yes";
    this.divider = el("div", {
      class: `divider ${edge}`,
      role: "separator",
      tabindex: 0,
      "aria-orientation": edge === "right" ? "vertical" : "horizontal",
      "aria-label": `Size of the ${name}`,
      title: "Drag, or use the arrow keys; double-click for the usual size",
    });
    this.folder = button("", "", () => this.fold(!this.isFolded), { class: "folder" });
    this.listen();
    this.show();
  }

  private listen(): void {
    const { edge } = this.options;
    this.divider.addEventListener("pointerdown", (event) => {
      this.divider.setPointerCapture(event.pointerId);
      event.preventDefault();
    });
    this.divider.addEventListener("pointermove", (event) => {
      if (!this.divider.hasPointerCapture(event.pointerId)) return;
      const box = this.element.getBoundingClientRect();
      this.resize(edge === "right" ? event.clientX - box.left : box.bottom - event.clientY);
    });
    this.divider.addEventListener("dblclick", () => this.resize(this.options.usual()));
    this.divider.addEventListener("keydown", (event) => {
      const ways: Record<string, number> = edge === "right" ? { ArrowLeft: -step, ArrowRight: step } : { ArrowDown: -step, ArrowUp: step };
      const by = ways[event.key];
      if (by === undefined) return;
      event.preventDefault();
      event.stopPropagation();
      this.resize(this.size + by);
    });
    window.addEventListener("resize", () => this.show());
  }

  private resize(size: number): void {
    this.size = size;
    this.show();
    remember(`hushed ${this.options.name}`, String(Math.round(this.size)));
  }

  private fold(isFolded: boolean): void {
    this.isFolded = isFolded;
    remember(`hushed ${this.options.name} folded`, isFolded ? "yes" : "no");
    this.show();
  }

  private show(): void {
    const { name, edge, least, most, property } = this.options;
    const size = Math.round(Math.max(least, Math.min(this.size, most())));
    document.documentElement.style.setProperty(property, `${size}px`);
    this.divider.setAttribute("aria-valuenow", String(size));
    this.divider.hidden = this.isFolded;
    this.element.classList.toggle("folded", this.isFolded);
    const what = this.isFolded ? `Show the ${name}` : `Fold the ${name}`;
    this.folder.textContent = edge === "right" ? (this.isFolded ? "»" : "«") : this.isFolded ? "▴" : "▾";
    this.folder.title = what;
    this.folder.setAttribute("aria-label", what);
    this.folder.setAttribute("aria-expanded", String(!this.isFolded));
    this.options.changed();
  }
}
