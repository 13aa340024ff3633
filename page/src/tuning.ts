// SPDX-License-Identifier: MIT
// Tuning: the stack of the selected object from the rest pose up, and all values of each behaviour.

import { button, el, shortened } from "./dom";
import { EasingControl } from "./easing";
import { controlOf, quoted, textOf, textOfEntries, typedText, type Control, type Range } from "./fields";
import { typed } from "./format";
import { Gestures } from "./gestures";
import type { Behaviour, Changed, Entries, Field, NamedCurve, ObjectMessage } from "./messages";
import type { Sought } from "./finder";
import { StackTools } from "./stack_tools";
import type { Edits } from "./edits";

export interface ValueAsks {
  set(path: string, to: string, gesture: number): void;
  reset(path: string): void;
  find?(sought: Sought): void; // the value for a wish
}

export interface TuningAsks extends ValueAsks {
  editScript(behaviour: string): void; // opens its text
  addBehaviour(): void; // to the selected object
  edits: Edits;
}

/** One value with its control. */
class Row {
  readonly element: HTMLElement;
  /** The controls of its entries, for a list of tables. */
  readonly below = el("div");
  private readonly host = el("div", { class: "control" });
  private readonly help: HTMLElement;
  private readonly marks = el("span", { class: "marks" });
  private readonly finds = el("span", { class: "finds" });
  private was?: string | null;
  private isOwn = false;
  private control?: Control;
  private entries?: EntryRows;
  private update?: (control: Control) => void;

  constructor(
    private readonly path: string,
    private readonly id: string,
    private readonly easings: () => NamedCurve[],
    private readonly asks: ValueAsks,
    private readonly gestures: Gestures,
    field: Field,
  ) {
    this.help = el("p", { class: "help", id: `${id}-help` }, field.help);
    this.element = el(
      "div",
      { class: "field" },
      el("div", { class: "name" }, el("label", { for: id }, field.name), el("span", { class: "unit" }, field.unit), this.finds, this.marks),
      this.host,
      this.help,
    );
    this.show(field);
  }

  show(field: Field): void {
    const control = controlOf(field);
    if (!this.update || !this.control || !isAlike(control, this.control)) this.build(field, control);
    this.control = control;
    this.update?.(control);
    const isDefault = field.default !== undefined ? field.text === field.default : field.text === undefined;
    const range = control.kind === "numbers" ? ` Slider: ${typed(control.range.low)} to ${typed(control.range.high)}.` : "";
    const usual = field.default === undefined ? "" : ` Default: ${field.default}.`;
    this.help.replaceChildren(`${field.help}.${range}${usual} `);
    if (!isDefault && !field.required)
      this.help.append(
        button(
          field.default === undefined ? "Remove" : `Set to ${field.default}`,
          "Reset to the default",
          () => this.asks.reset(this.path),
          { class: "quiet link" },
        ),
      );
    this.offerToFind(control);
    this.isOwn = field.own === true;
    this.mark(this.was);
    if (field.entries) this.showEntries(field.entries);
  }

  private offerToFind(control: Control): void {
    const { find } = this.asks;
    this.finds.replaceChildren();
    if (!find || control.kind !== "numbers") return;
    const { labels, range: { low, high } } = control;
    const parts = labels.every((label) => /^[xyz]$/.test(label)) ? labels : [];
    if (control.values.length > 1 && parts.length === 0) return; // which of them could not be said
    const open = (): void => find({ path: this.path, parts, low, high });
    this.finds.append(button("find", "Find the value with which the motion is as you wish", open, { class: "quiet link", "aria-label": `Find ${this.path}` }));
  }

  private showEntries(entries: Entries): void {
    if (!this.entries?.fits(entries)) {
      const send = (to: string, gesture: number): void => this.asks.set(this.path, to, gesture);
      const rows = new EntryRows(this.path, this.id, entries, send, this.easings, this.gestures);
      this.below.replaceChildren(rows.element);
      this.entries = rows;
    }
    this.entries.show(entries);
  }

  /** The value before it was tuned; empty where it was not. */
  mark(was: string | null | undefined): void {
    this.was = was;
    this.element.classList.toggle("tuned", was !== undefined);
    const back = (): void => (was === null || was === undefined ? this.asks.reset(this.path) : this.send(was));
    this.marks.replaceChildren(
      ...(this.isOwn ? [el("span", { class: "own", title: "The object's own value, instead of its preset's" }, "own")] : []),
      ...(was === undefined ? [] : [button(`was ${shortened(was ?? "not set", 9)}`, `Back to ${was ?? "nothing"}`, back, { class: "quiet link" })]),
    );
  }

  private build(field: Field, control: Control): void {
    switch (control.kind) {
      case "yes-no":
        return this.buildYesNo();
      case "word":
        return this.buildWord(control.names);
      case "numbers":
        return this.buildNumbers(control);
      case "easing":
        return this.buildEasing();
      case "text":
        return this.buildText(field);
    }
  }

  private send(text: string): void {
    this.asks.set(this.path, text, this.gestures.of(this.path));
  }

  private buildYesNo(): void {
    const box = el("input", { type: "checkbox", id: this.id, "aria-describedby": this.help.id });
    box.addEventListener("change", () => this.send(String(box.checked)));
    this.host.replaceChildren(box);
    this.update = (control) => (box.checked = control.kind === "yes-no" && control.value);
  }

  private buildWord(names: string[]): void {
    const list = el("select", { id: this.id, "aria-describedby": this.help.id }, ...names.map((name) => el("option", {}, name)));
    list.addEventListener("change", () => this.send(quoted(list.value)));
    this.host.replaceChildren(list);
    this.update = (control) => (list.value = control.kind === "word" ? control.value : "");
  }

  private buildNumbers(first: Control & { kind: "numbers" }): void {
    const values = [...first.values];
    const { isList } = first;
    let { range } = first;
    const rows = values.map((_, i) => {
      const label = first.labels[i] ?? "";
      const name = `${this.path.slice(this.path.lastIndexOf(".") + 1)} ${label}`.trim();
      const slider = this.slider(range, `${name}, slider`);
      const box = el("input", {
        type: "number",
        step: "any",
        id: i === 0 ? this.id : undefined,
        "aria-label": i === 0 && label === "" ? undefined : name,
        "aria-describedby": this.help.id,
      });
      const take = (value: number): void => {
        if (!Number.isFinite(value)) return;
        values[i] = value;
        this.send(textOf(values, isList));
      };
      slider.addEventListener("input", () => {
        box.value = typed(Number(slider.value), range.step);
        take(Number(box.value));
      });
      box.addEventListener("input", () => (box.dataset.typed = "yes")); // what is being typed is not replaced
      box.addEventListener("blur", () => delete box.dataset.typed);
      box.addEventListener("change", () => {
        delete box.dataset.typed;
        take(Number(box.value));
      });
      box.addEventListener("keydown", (event) => {
        const way = event.key === "ArrowUp" ? 1 : event.key === "ArrowDown" ? -1 : 0;
        if (way === 0) return;
        event.preventDefault();
        const by = (event.shiftKey ? 10 : 1) * range.step;
        box.value = typed(Number(box.value) + way * by, range.step);
        take(Number(box.value));
      });
      return { slider, box, element: el("div", { class: "number-row" }, el("span", { class: "part" }, label), slider, box) };
    });
    this.host.replaceChildren(...rows.map((row) => row.element));
    this.update = (control) => {
      if (control.kind !== "numbers") return;
      range = control.range;
      control.values.forEach((value, i) => {
        values[i] = value;
        const row = rows[i];
        if (!row) return;
        const isTyping = document.activeElement === row.box && row.box.dataset.typed === "yes";
        if (!isTyping && (row.box.value === "" || Number(row.box.value) !== value)) row.box.value = typed(value);
        if (this.gestures.isDragging(row.slider)) return;
        row.slider.min = String(range.low); // another, where a script or a value has changed
        row.slider.max = String(range.high);
        row.slider.step = String(range.step);
        row.slider.value = String(value);
      });
    };
  }

  private slider(range: Range, label: string): HTMLInputElement {
    const slider = el("input", { type: "range", min: range.low, max: range.high, step: range.step, "aria-label": label });
    this.gestures.watch(slider);
    return slider;
  }

  private buildEasing(): void {
    const easing = new EasingControl(this.id, this.help.id, this.easings, (text) => this.send(quoted(text)), this.gestures);
    this.host.replaceChildren(easing.element);
    this.update = (control) => {
      if (control.kind === "easing") easing.show(control.value);
    };
  }

  private buildText(field: Field): void {
    const input = el("input", {
      type: "text",
      id: this.id,
      spellcheck: "false",
      placeholder: field.form.words,
      title: field.form.words,
      "aria-describedby": this.help.id,
    });
    input.addEventListener("change", () => {
      if (input.value.trim() === "") this.asks.reset(this.path);
      else this.send(input.value.trim());
    });
    this.host.replaceChildren(input);
    this.update = (control) => {
      if (document.activeElement !== input) input.value = control.kind === "text" ? control.value : "";
    };
  }
}

/** The values of each table in a list. A change sends the whole list. */
class EntryRows {
  readonly element = el("div", { class: "entries" });
  private readonly rows: Row[][];

  constructor(
    path: string,
    id: string,
    private entries: Entries,
    private readonly send: (to: string, gesture: number) => void,
    easings: () => NamedCurve[],
    gestures: Gestures,
  ) {
    this.rows = entries.list.map(({ name, help, fields }, i) => {
      const rows = fields.map((field, j) => {
        const own = `${path}.${i}.${field.name}`;
        const asks = {
          set: (_: string, to: string, gesture: number): void => this.set(i, j, to, gesture),
          reset: (): void => this.set(i, j, field.default, gestures.of(own)),
        };
        return new Row(own, `${id}-${i}-${field.name}`, easings, asks, gestures, field);
      });
      const group = el("div", { class: "entry", role: "group", "aria-label": name }, el("h4", { title: help }, name));
      group.append(...rows.map((row) => row.element));
      this.element.append(group);
      return rows;
    });
  }

  fits(entries: Entries): boolean {
    const names = ({ list }: Entries): string => list.map((entry) => entry.name).join();
    return names(entries) === names(this.entries);
  }

  show(entries: Entries): void {
    this.entries = entries;
    entries.list.forEach(({ fields }, i) => fields.forEach((field, j) => this.rows[i]?.[j]?.show(field)));
  }

  /** Changes the local copy at once, so that the next change starts from it. */
  private set(i: number, j: number, text: string | undefined, gesture: number): void {
    const field = this.entries.list[i]?.fields[j];
    if (!field) return;
    if (text === undefined) delete field.text;
    else field.text = typedText(field, text);
    this.send(textOfEntries(this.entries), gesture);
  }
}

function isAlike(a: Control, b: Control): boolean {
  if (a.kind !== b.kind) return false;
  if (a.kind !== "numbers" || b.kind !== "numbers") return true;
  return a.values.length === b.values.length && a.isList === b.isList && a.values.every((value) => value >= b.range.low && value <= b.range.high);
}

/** One behaviour of the stack. */
class Card {
  readonly element: HTMLElement;
  private readonly rows = new Map<string, Row>();
  private readonly path: string;
  private readonly state = el("span", { class: "state" });
  private readonly tools?: ReturnType<StackTools["of"]>;

  constructor(behaviour: Behaviour, easings: () => NamedCurve[], asks: TuningAsks, gestures: Gestures, stack?: StackTools) {
    this.path = behaviour.path;
    const make = (fields: Field[]): HTMLElement[] =>
      fields.flatMap((field) => {
        const path = `${behaviour.path}.${field.name}`;
        const row = new Row(path, `value-${path.replaceAll(".", "-")}`, easings, asks, gestures, field);
        this.rows.set(field.name, row);
        return [row.element, row.below];
      });
    const name = behaviour.path.slice(behaviour.path.indexOf(".") + 1);
    this.tools = stack?.of(behaviour, () => this.element);
    this.element = el(
      "section",
      { class: "card", "aria-label": `${behaviour.path}, ${behaviour.kind}` },
      el(
        "header",
        {},
        el("h3", {}, name),
        name === behaviour.kind ? "" : el("span", { class: "kind" }, behaviour.kind),
        behaviour.preset === "" ? "" : el("span", { class: "kind" }, `of ${behaviour.preset}`),
        this.state,
        behaviour.script === null ? "" : button("Edit script", `Open ${behaviour.script}`, () => asks.editScript(behaviour.path)),
        this.tools?.element ?? "",
      ),
      ...make(behaviour.fields),
      el("details", {}, el("summary", {}, "delay, weight, fade"), ...make(behaviour.common)),
    );
    this.show(behaviour);
  }

  mark(changed: ReadonlyMap<string, string | null>): void {
    for (const [name, row] of this.rows) row.mark(changed.get(`${this.path}.${name}`));
  }

  show(behaviour: Behaviour): void {
    this.state.textContent = behaviour.running ? "" : "waits";
    this.tools?.show(behaviour);
    for (const field of [...behaviour.fields, ...behaviour.common]) this.rows.get(field.name)?.show(field);
  }
}

export class Tuning {
  private readonly chain = el("div", { class: "chain" });
  private cards: Card[] = [];
  private shape = "";
  private changed = new Map<string, string | null>();
  private easings: NamedCurve[] = [];
  private readonly gestures = new Gestures();
  private readonly stack: StackTools;
  private canEdit = false;

  constructor(
    host: HTMLElement,
    private readonly asks: TuningAsks,
  ) {
    host.append(this.chain);
    this.stack = new StackTools({ ...asks, edits: asks.edits, set: asks.set, gesture: () => this.gestures.next() });
  }

  /** Only scenes of a file can be edited. */
  allowEdits(canEdit: boolean): void {
    this.canEdit = canEdit;
  }

  setEasings(easings: NamedCurve[]): void {
    this.easings = easings;
  }

  /** Marks tuned values, with their previous values. */
  mark(changed: readonly Changed[]): void {
    this.changed = new Map(changed.map((each) => [each.path, each.before]));
    for (const card of this.cards) card.mark(this.changed);
  }

  show(object: ObjectMessage): void {
    this.stack.show(object.behaviours);
    const shape = JSON.stringify([this.canEdit, object.name, object.behaviours.map((each) => [each.path, each.kind, each.preset])]);
    if (shape === this.shape) {
      object.behaviours.forEach((behaviour, i) => this.cards[i]?.show(behaviour));
      return;
    }
    this.shape = shape;
    this.cards = object.behaviours.map((behaviour) => new Card(behaviour, () => this.easings, this.asks, this.gestures, this.canEdit ? this.stack : undefined));
    const steps: Node[] = [el("p", { class: "end" }, "rest pose")];
    for (const card of this.cards) steps.push(el("span", { class: "arrow", "aria-hidden": "true" }, "→"), card.element);
    steps.push(el("span", { class: "arrow", "aria-hidden": "true" }, "→"), el("p", { class: "end" }, this.cards.length === 0 ? "stays as it is; it has no behaviour" : "its pose"));
    if (this.canEdit) steps.splice(-2, 0, button("+ behaviour", "Add a behaviour on top of the stack", () => this.asks.addBehaviour(), { class: "add" }));
    this.chain.replaceChildren(...steps);
    for (const card of this.cards) card.mark(this.changed);
  }

  clear(): void {
    this.shape = "";
    this.cards = [];
    this.chain.replaceChildren(el("p", { class: "end" }, "Select an object here or in the scene."));
  }
}
