// SPDX-License-Identifier: MIT
// Tries: sets of values that are kept to be compared. Two are played from the same frame on, and their differences told.

import { button, el, shortened } from "./dom";
import { reading } from "./format";
import type { ComparisonMessage, Order, TryInfo } from "./messages";
import { SidePane } from "./side_pane";

export interface TryAsks {
  send(order: Order): void;
  /** Asks for the comparison of two tries, whose paths are drawn. */
  compare(tries: [string, string]): void;
  /** Opens the dialog that writes the present values. */
  keep(): void;
  changed(): void; // what is compared, or nothing any more
}

const present = "now";

export class Tries {
  readonly pane: SidePane;
  private readonly list = el("ul");
  private readonly result = el("div", { class: "comparison" });
  private readonly pair = [0, 1].map((i) => el("select", { "aria-label": i === 0 ? "First try" : "Second try" })) as [HTMLSelectElement, HTMLSelectElement];
  private readonly addButton = button("Keep the present values as a try", "They can be compared and used again", () => this.asks.send({ do: "try" }));
  private tries: readonly TryInfo[] = [];
  private shown = "";
  private compared?: [string, string];
  private keepsNext = false; // the values of a try were asked for, and are to be written once they are set

  constructor(
    host: HTMLElement,
    private readonly asks: TryAsks,
  ) {
    this.pane = new SidePane(host, "tries", "Tries: keep values, and compare two of them", (isOpen) => {
      if (!isOpen) this.end();
    });
    const compare = button("Compare", "Play both from the current frame on", () => this.compare());
    this.pane.content.append(this.addButton, this.list, el("p", { class: "pair" }, this.pair[0], " with ", this.pair[1], " ", compare), this.result);
  }

  /** The names of the tries whose paths are drawn. */
  get names(): [string, string] | undefined {
    return this.compared;
  }

  setTries(tries: readonly TryInfo[]): void {
    if (this.keepsNext) queueMicrotask(() => this.asks.keep()); // once the page knows the state
    this.keepsNext = false;
    const shown = JSON.stringify(tries);
    if (shown === this.shown) return;
    const isOneMore = tries.length > this.tries.length;
    this.shown = shown;
    this.tries = tries;
    this.list.replaceChildren(...tries.map((each) => this.item(each)));
    if (tries.length === 0) this.list.append(el("li", { class: "none" }, "No tries yet. Tune values, and keep them as try A; tune others, and compare."));
    const names = [...tries.map(({ name }) => name), present];
    const usual = [tries.at(-2)?.name ?? names[0], tries.length > 1 ? tries.at(-1)?.name : present]; // the last two
    this.pair.forEach((choice, i) => {
      const before = choice.value;
      choice.replaceChildren(...names.map((name) => el("option", { value: name }, name === present ? "the present values" : name)));
      choice.value = names.includes(before) && !isOneMore ? before : (usual[i] ?? present);
    });
    if (this.compared?.some((name) => !names.includes(name))) this.end();
  }

  private item({ name, values }: TryInfo): HTMLElement {
    const words = values.map(({ path, now }) => `${path} = ${shortened(now ?? "left out", 24)}`).join(", ");
    return el(
      "li",
      {},
      el("strong", {}, name),
      el("span", { class: "values" }, words === "" ? "the values of the file" : words),
      button("Use", "Set these values from the current frame on", () => this.asks.send({ do: "use try", name }), { "aria-label": `Use try ${name}` }),
      button("Keep", "Set these values, and write them into the file", () => {
        this.asks.send({ do: "use try", name });
        this.keepsNext = true;
      }, { "aria-label": `Keep try ${name}` }),
      button("File", "A scene file with these values", () => this.asks.send({ do: "export", what: "scene", try: name }), { "aria-label": `Scene file of try ${name}` }),
      button("×", "Remove this try", () => this.asks.send({ do: "drop try", name }), { "aria-label": `Remove try ${name}` }),
    );
  }

  /** Compares a try with the present values, as soon as it is there. */
  compareWithNow(name: string): void {
    if (!this.pane.isOpen) this.pane.opener.click();
    this.pair[0].value = name;
    this.pair[1].value = present;
    this.compare();
  }

  private compare(): void {
    this.compared = [this.pair[0].value, this.pair[1].value];
    this.again();
  }

  /** Values, the frame or the selection have changed: compares again. */
  again(): void {
    if (this.compared && this.pane.isOpen) this.asks.compare(this.compared);
  }

  private end(): void {
    this.compared = undefined;
    this.result.replaceChildren();
    this.asks.changed();
  }

  hear({ tries, seconds, values, objects, events, only, structure }: ComparisonMessage): void {
    if (!this.compared) return;
    const heads = (...words: string[]): HTMLElement => el("tr", {}, ...words.map((each, i) => el("th", { scope: "col", class: i === 1 || i === 2 ? `try-${i}` : "" }, each)));
    const [a, b] = tries.map((name) => (name === present ? "present" : name)) as [string, string];
    const table = (head: HTMLElement, rows: HTMLElement[]): HTMLElement => el("table", {}, el("thead", {}, head), el("tbody", {}, ...rows));
    const row = (name: string, ...cells: string[]): HTMLElement => el("tr", {}, el("th", { scope: "row" }, name), ...cells.map((each) => el("td", {}, each)));
    const time = (each: number | null): string => (each === null ? "–" : `${each.toFixed(2)} s`);
    this.result.replaceChildren(
      el("p", { class: "quiet" }, `Both from the current frame on, for ${Number(seconds.toFixed(2))} s. Drawn: `, el("span", { class: "try-1" }, a), " and ", el("span", { class: "try-2" }, b), "."),
      structure ? el("p", {}, ["They differ in objects, behaviours or rules, too.", ...only.flatMap((names, i) => (names.length === 0 ? [] : [`Only in ${[a, b][i] ?? ""}: ${shortened(names.join(", "), 120)}.`]))].join(" ")) : "",
      values.length === 0 ? el("p", {}, "Both have the same values.") : table(heads("value", a, b), values.map(({ path, values: both }) => row(path, ...both.map((each) => shortened(each ?? "left out", 18))))),
      objects.length === 0
        ? el("p", {}, "All objects move in the same way.")
        : table(
            heads("settles after", a, b, "largest distance", "typical"),
            objects.map(({ name, largest, at, typical, settled }) => row(name, time(settled[0]), time(settled[1]), `${reading(largest)} m at ${at.toFixed(2)} s`, `${reading(typical)} m`)),
          ),
      events.length === 0 ? "" : table(heads("event", a, b), events.map(({ words, times }) => row(words, time(times[0]), time(times[1])))),
    );
  }
}
