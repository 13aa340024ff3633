// SPDX-License-Identifier: MIT
// The dialog that writes tuned values and edits into the file and shows the changes of its text.

import { button, el } from "./dom";
import type { Changed, Plan } from "./messages";

export interface KeepAsk {
  path: string;
  for: "own" | "preset";
}

export class Keeping {
  private readonly dialog = el("dialog", { class: "keeping", "aria-label": "Keep changes" });
  private readonly list = el("ul");
  private readonly plan = el("div", { class: "plan" });
  private readonly write: HTMLButtonElement;
  private choices = new Map<string, { isWanted: boolean; for: "own" | "preset" }>();
  private changed: Changed[] = [];
  private edits: readonly string[] = [];

  constructor(
    host: HTMLElement,
    private readonly asks: { plan(values: KeepAsk[]): void; keep(values: KeepAsk[]): void },
  ) {
    this.write = button("Write these lines", "Write them into the file", () => {
      this.asks.keep(this.wanted());
      this.dialog.close();
    });
    this.dialog.append(
      el("h2", {}, "Keep changes in the file"),
      this.list,
      this.plan,
      el("div", { class: "buttons" }, button("Not now", "Leave the file unchanged (Escape)", () => this.dialog.close()), this.write),
    );
    host.append(this.dialog);
  }

  /** `edits`: of the structure, in words; all of them are written. */
  open(changed: Changed[], edits: readonly string[] = []): void {
    this.changed = changed;
    this.edits = edits;
    this.choices = new Map(changed.map((each) => [each.path, { isWanted: true, for: "own" }]));
    this.list.replaceChildren(...edits.map((words) => el("li", {}, words)), ...changed.map((each) => this.item(each)));
    this.ask();
    if (!this.dialog.open) this.dialog.showModal();
  }

  /** The tuned values have changed in another tab. */
  refresh(changed: Changed[], edits: readonly string[]): void {
    if (this.dialog.open && JSON.stringify([changed, edits]) !== JSON.stringify([this.changed, this.edits])) this.open(changed, edits);
  }

  private item(change: Changed): HTMLElement {
    const choice = this.choices.get(change.path);
    const box = el("input", { type: "checkbox", checked: true });
    box.addEventListener("change", () => {
      if (choice) choice.isWanted = box.checked;
      this.ask();
    });
    const item = el(
      "li",
      {},
      el("label", {}, box, " ", el("code", {}, change.path), " ", el("span", { class: "before" }, change.before ?? "left out"), " → ", el("strong", {}, change.now ?? "left out")),
    );
    if (change.preset !== "") {
      const preset = change.preset.split(".")[1] ?? "";
      const list = el("select", { "aria-label": `Where to keep ${change.path}` }, el("option", { value: "own" }, "for this object"), el("option", { value: "preset" }, `for all users of ${preset}`));
      list.addEventListener("change", () => {
        if (choice) choice.for = list.value as "own" | "preset";
        this.ask();
      });
      item.append(" ", list);
    }
    return item;
  }

  private wanted(): KeepAsk[] {
    return [...this.choices].filter(([, choice]) => choice.isWanted).map(([path, choice]) => ({ path, for: choice.for }));
  }

  private ask(): void {
    this.write.disabled = true;
    this.asks.plan(this.wanted());
  }

  showPlan(plan: Plan): void {
    this.plan.replaceChildren(
      ...plan.lines.map((line) =>
        el(
          "div",
          { class: "line" },
          el("p", {}, `${line.file}, line ${line.line}`, line.note === "" ? "" : el("em", {}, ` ${line.note}`)),
          line.before === "" ? "" : el("pre", { class: "old" }, `− ${line.before}`),
          line.after === "" ? "" : el("pre", { class: "new" }, `+ ${line.after}`),
        ),
      ),
      ...plan.refusals.map((refusal) => el("p", { class: "refusal" }, `${refusal.path}: ${refusal.why}`)),
    );
    if (plan.lines.length === 0 && plan.refusals.length === 0) this.plan.replaceChildren(el("p", {}, "The file would not change."));
    this.write.disabled = plan.lines.length === 0;
  }
}
