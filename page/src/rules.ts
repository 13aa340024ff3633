// SPDX-License-Identifier: MIT
// The rules of the scene: which conditions hold now, when each has fired; switched off, or fired by hand.

import { button, el } from "./dom";
import type { Edits } from "./edits";
import type { Mark, Order, RuleInfo } from "./messages";
import { SidePane } from "./side_pane";

export interface RuleAsks {
  send(order: Order): void;
  edits: Edits;
  goTo(time: number): void;
}

const mostTimes = 5;

interface Item {
  element: HTMLElement;
  show(rule: RuleInfo): void;
}

export class Rules {
  readonly pane: SidePane;
  private readonly list = el("ul");
  private marks: readonly Mark[] = [];
  private items: Item[] = [];
  private shape = "";
  private asked = 0;
  private known: readonly RuleInfo[] = [];

  constructor(
    host: HTMLElement,
    private readonly asks: RuleAsks,
  ) {
    this.pane = new SidePane(host, "rules", "Rules: what holds now, and when they fired", (isOpen) => isOpen && this.ask(true));
    this.pane.content.append(this.list);
  }

  /** Another frame or another state: asks again, at most ten times a second. */
  ask(isNow = false): void {
    if (!this.pane.isOpen || (!isNow && performance.now() - this.asked < 100)) return;
    this.asked = performance.now();
    this.asks.send({ do: "rules" });
  }

  setMarks(marks: readonly Mark[]): void {
    this.marks = marks;
    if (this.pane.isOpen) this.hear(this.known);
  }

  hear(rules: readonly RuleInfo[]): void {
    this.known = rules;
    const shape = JSON.stringify(rules.map(({ name, written }) => [name, written]));
    if (shape !== this.shape) {
      this.shape = shape;
      this.items = rules.map((rule) => this.item(rule));
      this.list.replaceChildren(...this.items.map(({ element }) => element));
      if (rules.length === 0) this.list.append(el("li", { class: "none" }, "This scene has no rules."));
    }
    rules.forEach((rule, i) => this.items[i]?.show(rule));
  }

  /** A rule, whose elements stay while its conditions and times change: they can be clicked at any moment. */
  private item({ name, written }: RuleInfo): Item {
    const isOn = el("input", { type: "checkbox", "aria-label": `${name} is on` });
    isOn.addEventListener("change", () => this.asks.edits.make([{ edit: "set rule", rule: name, key: "enabled", to: isOn.checked ? null : "false" }]));
    const holds = el("span", { class: "quiet" });
    const fired = el("p", { class: "fired" });
    const signs: HTMLElement[] = [];
    const group = (words: string, texts: readonly string[] = []): HTMLElement[] =>
      texts.map((text) => {
        const sign = el("span", { role: "img" });
        signs.push(sign);
        return el("li", {}, sign, ` ${words} `, el("code", {}, text));
      });
    const element = el(
      "li",
      {},
      el("header", {}, el("label", {}, isOn, el("strong", {}, name)), holds, button("Fire", "Execute its actions now", () => this.asks.send({ do: "fire", rule: name }), { "aria-label": `Fire ${name}` })),
      el("ul", { class: "conditions" }, ...group("when", written.when), ...group("any of", written.any), ...group("unless", written.unless)),
      el("p", { class: "actions" }, "does ", ...(written.do ?? []).map((action) => el("code", {}, action))),
      fired,
    );
    let shownTimes = "";
    const show = (rule: RuleInfo): void => {
      isOn.checked = rule.enabled;
      element.classList.toggle("off", !rule.enabled);
      holds.textContent = rule.holds ? "holds now" : "";
      signs.forEach((sign, i) => showSign(sign, rule.conditions[i]));
      const times = this.marks.filter((mark) => mark.name === name && mark.words.startsWith("rule ")).map((mark) => mark.time);
      if (times.join() === shownTimes) return;
      shownTimes = times.join();
      const buttons = times.slice(-mostTimes).map((time) => button(`${time.toFixed(2)} s`, "Go to this moment", () => this.asks.goTo(time), { class: "quiet link" }));
      fired.replaceChildren("fired at ", ...buttons, times.length > mostTimes ? ` and ${times.length - mostTimes} times before` : "");
    };
    fired.textContent = "has not fired";
    return { element, show };
  }
}

function showSign(sign: HTMLElement, holds: boolean | undefined): void {
  const help = holds === undefined ? "not known in this frame" : holds ? "holds" : "does not hold";
  sign.textContent = holds === undefined ? "?" : holds ? "●" : "○";
  sign.title = help;
  sign.setAttribute("aria-label", help);
  sign.parentElement?.classList.toggle("holds", holds === true);
}
