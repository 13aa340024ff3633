// SPDX-License-Identifier: MIT
// The controls of values, and the messages for typed input.

import { roundStep } from "./format";
import type { Entries, Field, Form, Json } from "./messages";

export interface Range {
  low: number;
  high: number;
  step: number;
}

export type Control =
  | { kind: "yes-no"; value: boolean }
  | { kind: "word"; names: string[]; value: string }
  | { kind: "numbers"; values: number[]; labels: string[]; range: Range; isList: boolean }
  | { kind: "easing"; value: string }
  | { kind: "text"; value: string };

/** The forms that a value may have, as a flat list. */
function forms(form: Form): Form[] {
  return form.kind === "any_of" ? (form.parts ?? []).flatMap(forms) : [form];
}

function isNumber(form: Form | undefined): form is Form {
  return form?.kind === "number" || form?.kind === "whole";
}

/** The range of a slider: that of the field, extended to twice the value where that is outside. */
export function rangeOf(field: Field, form: Form, values: readonly number[]): Range {
  const limits = { low: form.low ?? -Infinity, high: form.high ?? Infinity };
  let [low, high] = field.slider ?? [0, 0];
  if (!field.slider) {
    const size = Math.max(1, ...values.map((value) => Math.abs(value) * 2));
    low = -size;
    high = size;
  }
  low = Math.max(Math.min(low, ...values), limits.low);
  high = Math.min(Math.max(high, ...values), limits.high);
  const step = form.kind === "whole" ? 1 : roundStep(Math.max(high - low, 1e-9) / 200);
  return { low, high, step };
}

const letters = ["x", "y", "z"];

export function controlOf(field: Field): Control {
  const value: Json = field.value ?? null;
  const all = forms(field.form);
  if (field.easing) return { kind: "easing", value: typeof value === "string" ? value : "linear" };
  if (typeof value === "boolean") return { kind: "yes-no", value };
  const words = all.find((form) => form.kind === "word" && form.names);
  if (typeof value === "string" && words && all.length === 1)
    return { kind: "word", names: words.names ?? [], value };
  const one = all.find((form) => isNumber(form));
  if (typeof value === "number" && one)
    return { kind: "numbers", values: [value], labels: [""], range: rangeOf(field, one, [value]), isList: false };
  const list = all.find((form) => form.kind === "list" && isNumber(form.parts?.[0]));
  const numbers = Array.isArray(value) ? value.filter((each): each is number => typeof each === "number") : [];
  if (list && Array.isArray(value) && value.length > 0 && value.length <= 4 && numbers.length === value.length)
    return {
      kind: "numbers",
      values: numbers,
      labels: numbers.map((_, i) => (list.most === 3 && numbers.length === 3 ? letters[i] : String(i + 1)) ?? ""),
      range: rangeOf(field, list.parts?.[0] as Form, numbers),
      isList: true,
    };
  return { kind: "text", value: typeof value === "string" ? value : (field.text ?? "") };
}

/** The message text for numbers. */
export function textOf(values: readonly number[], isList: boolean): string {
  return isList ? `[${values.join(", ")}]` : String(values[0]);
}

/** The message text for a word that was typed. A text in quotes is not changed. */
export function quoted(text: string): string {
  return `"${text.replaceAll("\\", "\\\\").replaceAll('"', '\\"')}"`;
}

/** The message text for a value of a table: names get quotes. */
export function typedText(field: Field, text: string): string {
  return typeof field.value === "string" && !/^["[{]/.test(text) ? quoted(text) : text;
}

/** A list of tables as text. Values that equal their default are left out. */
export function textOfEntries({ key, list }: Entries): string {
  const table = (name: string, fields: Field[]): string => {
    const given = fields.filter((field) => field.text !== undefined && (field.required || field.text !== field.default));
    return `{ ${[`${key} = ${quoted(name)}`, ...given.map((field) => `${field.name} = ${field.text}`)].join(", ")} }`;
  };
  return `[${list.map(({ name, fields }) => table(name, fields)).join(", ")}]`;
}
