// SPDX-License-Identifier: MIT
// The dialogs for objects: adding one, and the name, parent and tags of the selected one.

import { button, el } from "./dom";
import { freeName, tagsText, type Edits } from "./edits";
import { quoted } from "./fields";
import type { SceneObject } from "./messages";

const shapes = ["box", "sphere", "cylinder", "cone"];

function labelled(words: string, control: HTMLElement): HTMLElement {
  return el("label", {}, el("span", {}, words), control);
}

export class ObjectForm {
  private readonly dialog = el("dialog", { class: "object-form" });
  private objects: readonly SceneObject[] = [];

  constructor(
    host: HTMLElement,
    private readonly edits: Edits,
    private readonly choose: (name: string) => void, // once it is there
  ) {
    host.append(this.dialog);
  }

  setObjects(objects: readonly SceneObject[]): void {
    this.objects = objects;
  }

  private get names(): string[] {
    return this.objects.map((object) => object.name);
  }

  private open(title: string, ...content: HTMLElement[]): void {
    this.dialog.setAttribute("aria-label", title);
    this.dialog.replaceChildren(el("h2", {}, title), ...content);
    if (!this.dialog.open) this.dialog.showModal();
  }

  /** `at`: where a new object is put, in m. */
  add(at: readonly number[]): void {
    const name = el("input", { type: "text", value: freeName("buoy", this.names), spellcheck: "false" });
    const shape = el("select", {}, ...shapes.map((each) => el("option", {}, each)));
    const size = el("input", { type: "text", value: "1", title: "m: one number, or three: 1, 2, 3" });
    const colour = el("input", { type: "text", value: "gold", title: "A colour of CSS" });
    const submit = (): void => {
      const numbers = size.value.split(",").map(Number);
      const measure = numbers.length === 1 ? String(numbers[0]) : `[${numbers.join(", ")}]`;
      const keys = `{ position = [${at.join(", ")}], shape = { kind = ${quoted(shape.value)}, size = ${measure}, colour = ${quoted(colour.value)} } }`;
      this.dialog.close();
      this.choose(name.value);
      this.edits.make([{ edit: "add object", name: name.value, keys }]);
    };
    this.open(
      "Add an object",
      labelled("name", name),
      labelled("shape", shape),
      labelled("size", size),
      labelled("colour", colour),
      this.buttons("Add", submit),
    );
    name.select();
  }

  edit(object: SceneObject): void {
    const name = el("input", { type: "text", value: object.name, spellcheck: "false" });
    const parents = this.names.filter((each) => each !== object.name);
    const parent = el("select", {}, el("option", { value: "" }, "none"), ...parents.map((each) => el("option", {}, each)));
    parent.value = object.parent ?? "";
    const tags = el("input", { type: "text", value: (object.tags ?? []).join(", "), spellcheck: "false" });
    const submit = (): void => {
      this.dialog.close();
      const edits = [];
      if (parent.value !== (object.parent ?? ""))
        edits.push({ edit: "set object", object: object.name, key: "parent", to: parent.value === "" ? null : quoted(parent.value) });
      if (tags.value !== (object.tags ?? []).join(", "))
        edits.push({ edit: "set object", object: object.name, key: "tags", to: tagsText(tags.value) });
      if (name.value !== object.name) {
        edits.push({ edit: "rename object", object: object.name, name: name.value });
        this.choose(name.value);
      }
      if (edits.length > 0) this.edits.make(edits);
    };
    this.open(
      `The object ${object.name}`,
      labelled("name", name),
      labelled("parent", parent),
      labelled("tags", tags),
      this.buttons("Apply", submit),
    );
  }

  copy(object: SceneObject): void {
    const name = freeName(object.name, this.names);
    this.choose(name);
    this.edits.make([{ edit: "copy object", object: object.name, name }]);
  }

  remove(object: SceneObject): void {
    this.edits.make([{ edit: "remove object", object: object.name }]);
  }

  private buttons(words: string, submit: () => void): HTMLElement {
    const write = button(words, `${words} (Enter)`, submit);
    this.dialog.onkeydown = (event) => {
      if (event.key !== "Enter" || (event.target as HTMLElement).matches("button")) return;
      event.preventDefault();
      submit();
    };
    return el("div", { class: "buttons" }, button("Cancel", "Change nothing (Escape)", () => this.dialog.close()), write);
  }
}
