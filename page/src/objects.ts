// SPDX-License-Identifier: MIT
// All objects as a tree: children below their parents, crowds folded, found by name or tag.

import { el } from "./dom";
import type { SceneObject } from "./messages";

export interface ObjectNode {
  name: string; // of the object; of a crowd, the part that its members have in common
  isCrowd: boolean;
  children: ObjectNode[];
}

const leastCrowd = 3; // members
const mostFound = 200;

/** The objects without a parent, and below each its children. Objects NAME-1, NAME-2, ... are the crowd NAME. */
export function treeOf(objects: readonly SceneObject[]): ObjectNode[] {
  const nodes = new Map<string, ObjectNode>(objects.map(({ name }) => [name, { name, isCrowd: false, children: [] }]));
  const roots: ObjectNode[] = [];
  for (const { name, parent } of objects) {
    const node = nodes.get(name);
    if (node) (parent === undefined ? roots : (nodes.get(parent)?.children ?? roots)).push(node);
  }
  for (const node of nodes.values()) node.children = withCrowds(node.children);
  return withCrowds(roots);
}

function withCrowds(nodes: ObjectNode[]): ObjectNode[] {
  const crowdOf = (node: ObjectNode): string => /^(.+)-\d+$/.exec(node.name)?.[1] ?? "";
  const sizes = new Map<string, number>();
  for (const node of nodes) sizes.set(crowdOf(node), (sizes.get(crowdOf(node)) ?? 0) + 1);
  const crowds = new Map<string, ObjectNode>();
  const all: ObjectNode[] = [];
  for (const node of nodes) {
    const name = crowdOf(node);
    if (name === "" || (sizes.get(name) ?? 0) < leastCrowd) {
      all.push(node);
      continue;
    }
    const known = crowds.get(name);
    if (known) known.children.push(node);
    else all.push({ name, isCrowd: true, children: [node] });
    if (!known) crowds.set(name, all.at(-1) as ObjectNode);
  }
  return all;
}

/** The names of the objects whose name or tag has this text; those that begin with it come first. */
export function found(objects: readonly SceneObject[], text: string): string[] {
  const wanted = text.toLowerCase();
  const names = objects
    .filter(({ name, tags }) => [name, ...(tags ?? [])].some((each) => each.toLowerCase().includes(wanted)))
    .map(({ name }) => name);
  const order = (name: string): number => (name.toLowerCase() === wanted ? 0 : name.toLowerCase().startsWith(wanted) ? 1 : 2);
  return names.sort((a, b) => order(a) - order(b));
}

interface Row {
  node: ObjectNode;
  level: number;
  element: HTMLElement;
}

export class Objects {
  private readonly search = el("input", {
    type: "search",
    placeholder: "name or tag",
    "aria-label": "Find an object",
    spellcheck: "false",
    autocomplete: "off",
  });
  private readonly list = el("ul", { role: "tree", "aria-label": "Objects" });
  private objects: readonly SceneObject[] = [];
  private tree: ObjectNode[] = [];
  private rows: Row[] = [];
  private chosen: readonly string[] = [];
  private readonly unfolded = new Set<string>(); // crowds
  private readonly folded = new Set<string>(); // parents
  private focused = ""; // the row that the keyboard is on

  constructor(
    host: HTMLElement,
    private readonly choose: (name: string, besides: boolean) => void,
  ) {
    host.append(this.search, this.list);
    this.search.addEventListener("input", () => this.render());
    this.search.addEventListener("keydown", (event) => this.searchKey(event));
    this.list.addEventListener("keydown", (event) => this.treeKey(event));
    this.list.addEventListener("click", (event) => {
      const row = this.rows.find((each) => each.element.contains(event.target as Node));
      if (row) this.act(row, event.shiftKey);
    });
  }

  setObjects(objects: readonly SceneObject[]): void {
    this.objects = objects;
    this.tree = treeOf(objects);
    this.render();
  }

  /** Marks the selected objects. */
  mark(chosen: readonly string[]): void {
    this.chosen = chosen;
    for (const row of this.rows) this.markRow(row);
    const first = this.rows.find((row) => row.node.name === chosen[0] && !row.node.isCrowd);
    first?.element.scrollIntoView({ block: "nearest" });
  }

  private render(): void {
    const text = this.search.value.trim();
    this.rows = [];
    if (text === "") for (const node of this.tree) this.add(node, 1);
    else
      for (const name of found(this.objects, text).slice(0, mostFound))
        this.rows.push(this.row({ name, isCrowd: false, children: [] }, 1));
    this.list.replaceChildren(...this.rows.map((row) => row.element));
    if (this.rows.length === 0) this.list.append(el("li", { class: "none" }, `No object has "${text}" in its name or tags.`));
    for (const row of this.rows) this.markRow(row);
    this.focusable();
  }

  private isOpen(node: ObjectNode): boolean {
    return node.isCrowd ? this.unfolded.has(node.name) : !this.folded.has(node.name);
  }

  private add(node: ObjectNode, level: number): void {
    this.rows.push(this.row(node, level));
    if (this.isOpen(node)) for (const child of node.children) this.add(child, level + 1);
  }

  private row(node: ObjectNode, level: number): Row {
    const isOpen = this.isOpen(node);
    const sign = node.children.length === 0 ? "" : isOpen ? "▾" : "▸";
    const element = el(
      "li",
      { role: "treeitem", "aria-level": level, "aria-expanded": node.children.length === 0 ? undefined : String(isOpen), style: `--level: ${level - 1}`, tabindex: -1 },
      el("span", { class: "sign", "aria-hidden": "true" }, sign),
      node.isCrowd ? `${node.name} (${node.children.length})` : node.name,
    );
    return { node, level, element };
  }

  private markRow({ node, element }: Row): void {
    const isChosen = !node.isCrowd && this.chosen.includes(node.name);
    const hasChosen = node.isCrowd && node.children.some((child) => this.chosen.includes(child.name));
    element.setAttribute("aria-selected", String(isChosen));
    element.classList.toggle("within", hasChosen);
  }

  private act(row: Row, besides: boolean): void {
    this.focused = row.node.name;
    if (row.node.isCrowd) this.fold(row, !this.isOpen(row.node));
    else this.choose(row.node.name, besides);
    this.focusable();
  }

  private fold({ node }: Row, isOpen: boolean): void {
    if (node.isCrowd) isOpen ? this.unfolded.add(node.name) : this.unfolded.delete(node.name);
    else isOpen ? this.folded.delete(node.name) : this.folded.add(node.name);
    const hasFocus = this.list.contains(document.activeElement);
    this.render();
    if (hasFocus) this.focus(this.rows.findIndex((row) => row.node === node));
  }

  private focus(at: number): void {
    const row = this.rows[Math.min(Math.max(at, 0), this.rows.length - 1)];
    if (!row) return;
    this.focused = row.node.name;
    this.focusable();
    row.element.focus();
  }

  /** One row of the tree can be reached by Tab. */
  private focusable(): void {
    const current = this.rows.find((row) => row.node.name === this.focused) ?? this.rows[0];
    for (const row of this.rows) row.element.tabIndex = row === current ? 0 : -1;
  }

  private searchKey(event: KeyboardEvent): void {
    if (event.key === "ArrowDown") {
      event.preventDefault();
      this.focus(0);
    } else if (event.key === "Enter") {
      const first = this.rows.find((row) => !row.node.isCrowd);
      if (!first || this.search.value.trim() === "") return;
      this.search.value = "";
      this.choose(first.node.name, event.shiftKey);
      this.render();
    } else if (event.key === "Escape") {
      this.search.value = "";
      this.render();
    }
  }

  private treeKey(event: KeyboardEvent): void {
    const at = this.rows.findIndex((row) => row.element === document.activeElement);
    const row = this.rows[at];
    if (!row || event.ctrlKey || event.metaKey || event.altKey) return;
    const canFold = row.node.children.length > 0;
    const isOpen = this.isOpen(row.node);
    const acts: Record<string, () => void> = {
      ArrowDown: () => this.focus(at + 1),
      ArrowUp: () => this.focus(at - 1),
      Home: () => this.focus(0),
      End: () => this.focus(this.rows.length - 1),
      ArrowRight: () => (canFold && !isOpen ? this.fold(row, true) : canFold ? this.focus(at + 1) : undefined),
      ArrowLeft: () => (canFold && isOpen ? this.fold(row, false) : this.focus(this.parentOf(at))),
      Enter: () => this.act(row, event.shiftKey),
      " ": () => this.act(row, event.shiftKey),
    };
    const act = acts[event.key];
    if (!act) return;
    event.preventDefault();
    event.stopPropagation(); // the keys of the page mean other things
    act();
  }

  private parentOf(at: number): number {
    const level = this.rows[at]?.level ?? 1;
    for (let i = at - 1; i >= 0; --i) if ((this.rows[i]?.level ?? 1) < level) return i;
    return at;
  }
}
