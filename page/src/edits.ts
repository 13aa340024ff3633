// SPDX-License-Identifier: MIT
// Requests that edit the structure of the scene, and the names that new things get.

import { quoted } from "./fields";
import type { Behaviour, Order } from "./messages";

export type Edit = { edit: string } & Record<string, string | null>;

export interface Edits {
  /** Makes edits that are undone together; those of one gesture too. */
  make(edits: Edit[], gesture?: number): void;
}

export function editOrder(edits: Edit[], gesture = 0): Order {
  return { do: "edit", edits, gesture };
}

/** The name, or the name with the first number that is free. */
export function freeName(name: string, taken: readonly string[]): string {
  const stem = name.replace(/-\d+$/, "");
  if (!taken.includes(name)) return name;
  for (let i = 2; ; ++i) if (!taken.includes(`${stem}-${i}`)) return `${stem}-${i}`;
}

/** The table of a new behaviour, with a name of its own where its kind is taken in the stack. */
export function keysOf(kind: { name: string; keys: string }, stack: readonly Behaviour[]): string {
  const taken = stack.map(({ path }) => path.slice(path.indexOf(".") + 1));
  const name = freeName(kind.name, taken);
  return name === kind.name ? kind.keys : kind.keys.replace(/ \}$/, `, name = ${quoted(name)} }`);
}

/** Words separated by commas or spaces as a list; nothing where there are none. */
export function tagsText(words: string): string | null {
  const tags = words.split(/[\s,]+/).filter((word) => word !== "");
  return tags.length === 0 ? null : `[${tags.map(quoted).join(", ")}]`;
}
