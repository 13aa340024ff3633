// SPDX-License-Identifier: MIT
// A pane at the right of the scene that a button opens. One is open at a time.

import { button, el } from "./dom";

let open: SidePane | undefined;

export class SidePane {
  readonly opener: HTMLButtonElement;
  readonly content = el("div");

  /** `name`: of the button and the pane; `changed`: it was opened or closed. */
  constructor(
    readonly host: HTMLElement,
    name: string,
    help: string,
    private readonly changed: (isOpen: boolean) => void,
  ) {
    this.opener = button(name, help, () => this.toggle(), { "aria-expanded": "false" });
    const title = `${name.charAt(0).toUpperCase()}${name.slice(1)}`;
    host.classList.add("side-pane");
    host.append(el("header", {}, el("h2", {}, title), button("×", "Close (Escape)", () => this.toggle(), { "aria-label": `Close the ${name}` })), this.content);
    host.addEventListener("keydown", (event) => {
      if (event.key !== "Escape") return;
      event.stopPropagation();
      this.toggle();
    });
  }

  get isOpen(): boolean {
    return !this.host.hidden;
  }

  private toggle(): void {
    if (!this.isOpen && open?.isOpen) open.toggle();
    this.host.hidden = !this.host.hidden;
    open = this.isOpen ? this : undefined;
    this.opener.setAttribute("aria-expanded", String(this.isOpen));
    if (!this.isOpen) this.opener.focus();
    this.changed(this.isOpen);
  }
}
