// SPDX-License-Identifier: MIT
// The dialog in which a behaviour is chosen for the selected object.

import { button, el } from "./dom";
import { kindPicture } from "./kind_pictures";
import type { KindsMessage, StartingKind } from "./messages";

export class Picker {
  private readonly dialog = el("dialog", { class: "picker", "aria-label": "Add a behaviour" });
  private readonly title = el("h2");
  private readonly search = el("input", {
    type: "search",
    placeholder: "name or what it does",
    "aria-label": "Find a behaviour",
    spellcheck: "false",
    autocomplete: "off",
  });
  private readonly list = el("ul", { "aria-label": "Behaviours" });
  private kinds: StartingKind[] = [];
  private pictures: ((seconds: number) => void)[] = [];
  private begun = 0;

  constructor(
    host: HTMLElement,
    private readonly choose: (kind: StartingKind) => void,
  ) {
    this.dialog.append(this.title, this.search, this.list, button("Cancel", "Add nothing (Escape)", () => this.dialog.close()));
    host.append(this.dialog);
    this.search.addEventListener("input", () => this.render());
    this.search.addEventListener("keydown", (event) => {
      if (event.key !== "Enter") return;
      event.preventDefault();
      const first = this.found()[0];
      if (first) this.take(first);
    });
  }

  open({ object, kinds }: KindsMessage): void {
    this.kinds = kinds;
    this.title.textContent = `Add a behaviour to ${object}`;
    this.search.value = "";
    this.render();
    if (!this.dialog.open) this.dialog.showModal();
    this.search.focus();
    this.begun = performance.now();
    this.animate();
  }

  private found(): StartingKind[] {
    const text = this.search.value.trim().toLowerCase();
    return this.kinds.filter(({ name, summary }) => `${name} ${summary}`.toLowerCase().includes(text));
  }

  private take(kind: StartingKind): void {
    this.dialog.close();
    this.choose(kind);
  }

  private render(): void {
    this.pictures = [];
    const items = this.found().map((kind) => {
      const { canvas, draw } = kindPicture(kind.name);
      this.pictures.push(draw);
      const choice = el("button", { type: "button", onclick: () => this.take(kind) }, canvas, el("strong", {}, kind.name), el("span", {}, kind.summary));
      return el("li", {}, choice);
    });
    this.list.replaceChildren(...items);
    if (items.length === 0) this.list.append(el("li", { class: "none" }, `No behaviour has "${this.search.value.trim()}" in its name or description.`));
    for (const draw of this.pictures) draw(0.6);
  }

  private animate(): void {
    if (!this.dialog.open || matchMedia("(prefers-reduced-motion: reduce)").matches) return;
    const seconds = (performance.now() - this.begun) / 1000;
    for (const draw of this.pictures) draw(seconds);
    requestAnimationFrame(() => this.animate());
  }
}
