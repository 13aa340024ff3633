// SPDX-License-Identifier: MIT
// Finding a value for a wish: a measure of the whole motion, what it is now, and what it is to be.

import { button, el } from "./dom";
import { typed } from "./format";
import type { Found, Measured, MeasureKind, Order } from "./messages";
import { SidePane } from "./side_pane";

export interface FinderAsks {
  send(order: Order): void;
  /** Numbers of the scene that are watched, such as "hook.position.x". */
  watched(): string[];
  /** Opens the comparison of a try with the present values. */
  compare(name: string): void;
}

/** The value that is looked for. `parts`: of a vector, "x", "y" and "z"; otherwise empty. */
export interface Sought {
  path: string;
  parts: readonly string[];
  low: number;
  high: number;
}

/** What stands in the brackets of a measure, to begin with: "overshoot(WATCH, of = VALUE)" gives "hook.position.x". */
export function argumentsOf(usage: string, object: string, watched: readonly string[]): string {
  const inside = usage.slice(usage.indexOf("(") + 1, usage.lastIndexOf(")"));
  const own = watched.find((watch) => watch.startsWith(`${object}.`) && /\.(x|y|z|yaw|pitch|roll|speed)$/.test(watch)) ?? `${object}.position.x`;
  const words: Record<string, string> = { WATCH: own, OBJECT: object, VALUE: "0", EVENT: "reached", N: "1", "[[MIN], [MAX]]": "[[-10, 0, -10], [10, 10, 10]]" };
  return inside
    .replace("[[MIN], [MAX]]", "[[MIN] [MAX]]") // no comma, until it is split
    .split(", ")
    .filter((part) => !part.includes("="))
    .map((part) => words[part.replace("] [", "], [")] ?? part)
    .join(", ");
}

const withUnit = (value: number | null, unit: string): string => (value === null ? "none" : `${typed(Number(value.toPrecision(6)))} ${unit}`.trimEnd());

export class Finder {
  readonly pane: SidePane;
  private readonly heading = el("p", { class: "quiet" }, "Choose an object, and “find” below one of its numbers.");
  private readonly part = el("select", { "aria-label": "Which number of the vector" });
  private readonly low = this.number("From");
  private readonly high = this.number("To");
  private readonly kind = el("select", { "aria-label": "Measure" });
  private readonly given = el("input", { type: "text", "aria-label": "Of what", spellcheck: "false" });
  private readonly help = el("p", { class: "quiet" });
  private readonly present = el("p", { class: "now", role: "status" });
  private readonly relation = el("select", { "aria-label": "Less, equal or more" }, ...["=", "<", ">"].map((sign) => el("option", {}, sign)));
  private readonly wanted = this.number("Wanted");
  private readonly seconds = this.number("Seconds that are played");
  private readonly unit = el("span");
  private readonly start = button("Find", "Search for the value beside the play", () => this.find());
  private readonly stop = button("Stop", "Stop the search", () => this.end(), { hidden: true });
  private readonly result = el("div", { class: "found", role: "status" });
  private readonly form = el("div", { hidden: true });
  private kinds: readonly MeasureKind[] = [];
  private sought?: Sought;
  private due?: ReturnType<typeof setTimeout>;

  constructor(
    host: HTMLElement,
    private readonly asks: FinderAsks,
  ) {
    this.pane = new SidePane(host, "find", "Find the value with which the motion is as you wish", (isOpen) => isOpen && this.open());
    this.seconds.value = "10";
    const row = (name: string, ...parts: (Node | string)[]): HTMLElement => el("p", { class: "row" }, el("span", { class: "quiet" }, name), ...parts);
    this.form.append(
      row("within", this.part, this.low, " to ", this.high),
      row("so that", this.kind),
      row("of", this.given),
      this.help,
      this.present,
      row("is", this.relation, this.wanted, this.unit),
      row("in the first", this.seconds, "s"),
      el("p", { class: "row" }, this.start, this.stop),
      this.result,
    );
    this.pane.content.append(this.heading, this.form);
    this.kind.addEventListener("change", () => this.choose());
    for (const input of [this.given, this.seconds]) input.addEventListener("change", () => this.measure());
    this.wanted.addEventListener("keydown", (event) => event.key === "Enter" && this.find());
  }

  private number(label: string): HTMLInputElement {
    return el("input", { type: "number", step: "any", "aria-label": label });
  }

  /** Opens the pane for a value. */
  look(sought: Sought): void {
    this.sought = sought;
    if (!this.pane.isOpen) this.pane.opener.click();
    this.heading.replaceChildren("Find ", el("strong", {}, sought.path));
    this.form.hidden = false;
    this.part.replaceChildren(...sought.parts.map((part) => el("option", {}, part)));
    this.part.hidden = sought.parts.length === 0;
    this.low.value = typed(sought.low);
    this.high.value = typed(sought.high);
    this.result.replaceChildren();
    if (this.kinds.length > 0) this.choose();
    this.wanted.focus();
  }

  private open(): void {
    if (this.kinds.length === 0) this.asks.send({ do: "measures" });
  }

  setKinds(kinds: readonly MeasureKind[]): void {
    this.kinds = kinds;
    this.kind.replaceChildren(...kinds.map(({ name }) => el("option", { value: name }, name)));
    this.kind.value = "settled";
    if (this.sought) this.choose();
  }

  private choose(): void {
    const chosen = this.kinds.find(({ name }) => name === this.kind.value);
    if (!chosen || !this.sought) return;
    this.given.value = argumentsOf(chosen.usage, this.sought.path.slice(0, this.sought.path.indexOf(".")), this.asks.watched());
    this.help.textContent = `${chosen.usage}: ${chosen.help}.`;
    this.unit.textContent = chosen.unit === "of the watch" ? "" : chosen.unit;
    this.measure();
  }

  private get text(): string {
    return `${this.kind.value}(${this.given.value})`;
  }

  private get length(): number {
    return Number(this.seconds.value);
  }

  private measure(): void {
    this.present.textContent = "Now: …";
    this.asks.send({ do: "measure", measure: this.text, seconds: this.length });
  }

  private find(): void {
    if (!this.sought || this.wanted.value === "") return this.wanted.focus();
    const path = this.part.value === "" || this.part.hidden ? this.sought.path : `${this.sought.path}.${this.part.value}`;
    this.asks.send({ do: "find", path, low: Number(this.low.value), high: Number(this.high.value), want: `${this.text} ${this.relation.value} ${this.wanted.value}`, seconds: this.length });
    this.work("Searching …");
  }

  private work(words: string): void {
    this.result.replaceChildren(words);
    this.stop.hidden = false;
    this.start.disabled = true;
  }

  private end(): void {
    if (!this.stop.hidden) this.asks.send({ do: "stop finding" });
    this.idle();
    this.result.replaceChildren("Stopped.");
  }

  private idle(): void {
    this.stop.hidden = true;
    this.start.disabled = false;
  }

  /** The values of the scene have changed: what is measured now, too, once they rest. */
  again(): void {
    clearTimeout(this.due);
    this.due = setTimeout(() => {
      if (this.pane.isOpen && this.sought && this.stop.hidden && this.kinds.length > 0) this.measure();
    }, 400);
  }

  measured({ measure, value, unit, at }: Measured): void {
    if (measure !== this.text) return;
    this.present.textContent = `Now: ${withUnit(value, unit)}${at === null || unit === "s" ? "" : `, at ${at.toFixed(2)} s`}`;
    if (this.unit.textContent === "") this.unit.textContent = unit;
  }

  finding(plays: number): void {
    if (!this.stop.hidden) this.result.replaceChildren(`Searching … ${plays} plays`);
  }

  found({ path, value, before, after, unit, met, plays, complete, text, ...found }: Found): void {
    this.idle();
    const name = path.slice(path.indexOf(".") + 1);
    const numbers = `${name} = ${typed(value)}: ${withUnit(after, unit)} instead of ${withUnit(before, unit)}`;
    if (!met) {
      this.result.replaceChildren(`Not found in ${plays} plays${complete ? "" : ", before the search ended"}. Nearest is ${numbers}.`);
      return;
    }
    const own = found.try;
    if (!own) return this.result.replaceChildren(`${numbers}. ${text ?? ""}`);
    this.result.replaceChildren(
      el("p", {}, `${numbers}. It is try `, el("strong", {}, own), `, found in ${plays} plays.`),
      button("Use", "Set this value from the current frame on", () => this.asks.send({ do: "use try", name: own })),
      " ",
      button("Compare", "Both motions from the current frame on", () => this.asks.compare(own)),
    );
  }

  /** The server has refused; the text says why. */
  refused(text: string): void {
    this.idle();
    this.present.textContent = "";
    this.result.replaceChildren(el("p", { class: "wrong" }, text));
  }
}
