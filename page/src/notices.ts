// SPDX-License-Identifier: MIT
// What the page says in words: answers, problems, and the keys that the scene uses.

import { button, byId, el } from "./dom";
import type { Diagnostic, SceneMessage, State } from "./messages";

export function say(text: string, isRefusal = false): void {
  const said = byId("said");
  said.textContent = text;
  said.classList.toggle("refusal", isRefusal);
}

/** Shows a problem: the server is gone, or the file has errors. */
export function showTrouble(isGone: boolean, diagnostics: Diagnostic[] | null): void {
  const place = byId("trouble");
  place.hidden = !isGone && diagnostics === null;
  document.body.classList.toggle("gone", isGone);
  if (isGone) {
    place.replaceChildren(el("p", {}, "The connection to the server is lost. The page shows the last frame it received and keeps trying to reconnect."));
  } else if (diagnostics) {
    place.replaceChildren(
      el("p", {}, "The file has errors. The last valid version of the scene keeps playing."),
      el("ul", {}, ...diagnostics.map((each) => el("li", {}, el("code", {}, each.line > 0 ? `${each.file}:${each.line}:${each.column}` : each.file), ` ${each.text}`))),
    );
  }
}

/** Shows how much of a large file has been read. */
export function showReading(reading: State["reading"]): void {
  const place = byId("reading");
  place.hidden = !reading;
  if (reading)
    place.replaceChildren(
      el("span", {}, `${reading.file} has changed; reading it`),
      el("progress", { max: "100", value: String(reading.percent), "aria-label": `Share of ${reading.file} that has been read` }),
    );
}

/** The server is of another version than this page, which is from before. */
export function showOtherVersion(): void {
  const place = byId("trouble");
  place.hidden = false;
  place.replaceChildren(
    el("p", {}, "This page is of another version than the server. ", button("Load it again", "Load the page of this server", () => location.reload())),
  );
}

/** Shows the keys of the scene; while it has the keyboard, with what each does. */
export function showKeys(keys: SceneMessage["keys"], held: readonly string[], isDriving: boolean): void {
  byId("view").classList.toggle("driving", isDriving && keys.length > 0);
  const place = byId("driving");
  place.classList.toggle("held", held.length > 0);
  place.hidden = keys.length === 0;
  const sign = (name: string): HTMLElement => el("kbd", { class: held.includes(name) ? "down" : "" }, name);
  if (!isDriving) {
    place.replaceChildren("Click the scene to send it these keys: ", ...[...new Set(keys.map((each) => each.key))].map(sign));
    return;
  }
  const grouped = new Map<string, string[]>();
  for (const { key, what } of keys) grouped.set(what, [...(grouped.get(what) ?? []), key]);
  place.replaceChildren(
    el("strong", {}, "Keys go to the scene; press Escape to stop. "),
    ...[...grouped].flatMap(([what, each]) => [...each.map(sign), ` ${what}  `]),
  );
}
