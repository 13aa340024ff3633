// SPDX-License-Identifier: MIT
// Edits the text of a script beside its motion.

import { button, el } from "./dom";
import type { Diagnostic, ScriptText, Written } from "./messages";

export interface ScriptAsks {
  read(behaviour: string): void;
  write(behaviour: string, version: string, text: string): void;
}

export class ScriptEditor {
  private readonly title = el("h2");
  private readonly state = el("span", { class: "state" });
  private readonly numbers = el("pre", { class: "numbers", "aria-hidden": "true" });
  private readonly text = el("textarea", { spellcheck: "false", wrap: "off", autocapitalize: "off", "aria-label": "Text of the script" });
  private readonly mistakes = el("ul", { class: "mistakes" });
  private readonly save = button("Save", "Replace the file; the motion goes on from here (Ctrl+S)", () => this.write());
  private readonly close = button("Close", "Close the text (Escape)", () => this.leave());
  private behaviour = "";
  private file = "";
  private version = "";
  private saved = ""; // the text of the file, as far as it is known
  private sent = "";
  private isLeaving = false; // the next click on Close gives up what is not saved

  constructor(
    private readonly host: HTMLElement,
    private readonly asks: ScriptAsks,
  ) {
    host.append(
      el("header", {}, this.title, this.state, this.save, this.close),
      el("div", { class: "text" }, this.numbers, this.text),
      this.mistakes,
    );
    this.text.addEventListener("input", () => this.show());
    this.text.addEventListener("scroll", () => (this.numbers.scrollTop = this.text.scrollTop));
    host.addEventListener("keydown", (event) => {
      event.stopPropagation(); // the keys of the page mean other things
      if (event.key === "Escape") this.leave();
      if (!(event.ctrlKey || event.metaKey) || event.key.toLowerCase() !== "s") return;
      event.preventDefault();
      this.write();
    });
    window.addEventListener("beforeunload", (event) => {
      if (this.isChanged()) event.preventDefault();
    });
  }

  /** Opens the text of the script of a behaviour, unless another one has changes that are not saved. */
  open(behaviour: string): void {
    if (this.isChanged() && behaviour !== this.behaviour) return this.tell(`Save or close ${this.file} first.`);
    this.behaviour = behaviour;
    this.asks.read(behaviour);
  }

  /** The text of the file has arrived. Changes that are not saved stay. */
  hear(message: ScriptText): void {
    if (message.behaviour !== this.behaviour) return;
    const isFirst = this.host.hidden || message.file !== this.file;
    const wasChanged = this.isChanged();
    if (!isFirst && wasChanged && message.text !== this.text.value) {
      if (message.version !== this.version) this.tell("changed in the file; copy your text, close, and open it again");
      return;
    }
    this.file = message.file;
    this.version = message.version;
    this.saved = message.text;
    this.host.hidden = false;
    if (!isFirst && !wasChanged && this.text.value === message.text) return; // the status, such as "saved", stays
    if (this.text.value !== message.text) this.text.value = message.text;
    this.title.textContent = message.file;
    this.show();
    if (isFirst) this.text.focus();
  }

  written(message: Written): void {
    if (message.behaviour !== this.behaviour) return;
    this.version = message.version;
    this.saved = this.sent;
    this.show();
    this.tell("saved");
  }

  /** The server did not write it. */
  refused(why: string): void {
    this.tell(why, true);
  }

  /** The scene was read again: the file may have another text. */
  again(): void {
    if (!this.host.hidden) this.asks.read(this.behaviour);
  }

  /** Shows the mistakes in this file. */
  mark(diagnostics: readonly Diagnostic[] | null): void {
    const mine = (diagnostics ?? []).filter((each) => each.line > 0 && each.file.split("/").pop() === this.file);
    this.mistakes.replaceChildren(
      ...mine.map((each) => el("li", {}, button(`line ${each.line}`, "Go to this line", () => this.goTo(each.line)), ` ${each.text}`)),
    );
    this.mistakes.hidden = mine.length === 0;
  }

  private isChanged(): boolean {
    return !this.host.hidden && this.text.value !== this.saved;
  }

  private show(): void {
    const lines = this.text.value.split("\n").length;
    this.numbers.textContent = Array.from({ length: lines }, (_, i) => i + 1).join("\n");
    this.save.disabled = !this.isChanged();
    this.tell(this.isChanged() ? "not saved" : "");
  }

  private tell(what: string, isRefusal = false): void {
    this.state.textContent = what;
    this.state.classList.toggle("refusal", isRefusal);
    this.isLeaving = false;
    this.close.textContent = "Close";
  }

  private write(): void {
    if (!this.isChanged()) return;
    this.sent = this.text.value;
    this.asks.write(this.behaviour, this.version, this.sent);
  }

  private leave(): void {
    if (this.isChanged() && !this.isLeaving) {
      this.tell("The changes are not saved.");
      this.isLeaving = true;
      this.close.textContent = "Close without saving";
      return;
    }
    this.host.hidden = true;
    this.tell("");
  }

  private goTo(line: number): void {
    const lines = this.text.value.split("\n");
    const from = lines.slice(0, line - 1).reduce((sum, each) => sum + each.length + 1, 0);
    this.text.focus();
    this.text.setSelectionRange(from, from + (lines[line - 1]?.length ?? 0));
    const height = this.text.scrollHeight / Math.max(lines.length, 1);
    this.text.scrollTop = Math.max(0, (line - 4) * height);
  }
}
