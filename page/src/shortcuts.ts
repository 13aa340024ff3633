// SPDX-License-Identifier: MIT
// The keys of the page, and those that go to the scene while it has the keyboard.

import type { Held } from "./keys";

export interface Shortcuts {
  keep(): void;
  undo(): void;
  redo(): void;
  playOrPause(): void;
  step(by: number): void;
  again(): void;
}

/** Keys go to the scene from a click on it until Escape. `changed` is called where that begins or ends. */
export function listenToScene(view: HTMLElement, held: Held, changed: () => void): void {
  view.addEventListener("pointerdown", () => view.focus());
  view.addEventListener("focus", changed);
  view.addEventListener("blur", () => {
    held.releaseAll();
    changed();
  });
  window.addEventListener("blur", () => held.releaseAll());
  view.addEventListener("keydown", (event) => {
    if (event.ctrlKey || event.metaKey || event.altKey) return;
    if (event.key === "Escape") {
      view.blur();
    } else if (event.repeat ? held.isHeld(event.key) : held.press(event.key)) {
      event.preventDefault();
      event.stopPropagation();
    }
  });
  view.addEventListener("keyup", (event) => held.release(event.key));
}

export function listenToKeys(acts: Shortcuts): void {
  document.addEventListener("keydown", (event) => {
    const act = actOf(event, acts);
    if (!act) return;
    event.preventDefault();
    act();
  });
}

function actOf(pressed: KeyboardEvent, acts: Shortcuts): (() => void) | undefined {
  const isWord = pressed.ctrlKey || pressed.metaKey;
  const key = pressed.key.toLowerCase();
  if (isWord && key === "s") return () => acts.keep();
  const target = pressed.target as HTMLElement;
  if (target.matches("input:not([type=checkbox]), select, textarea, dialog *")) return undefined;
  if (isWord) return key === "z" ? () => (pressed.shiftKey ? acts.redo() : acts.undo()) : undefined;
  if (pressed.key === " ") return target.matches("button, summary, input") ? undefined : () => acts.playOrPause();
  if (pressed.key === "ArrowLeft") return () => acts.step(pressed.shiftKey ? -10 : -1);
  if (pressed.key === "ArrowRight") return () => acts.step(pressed.shiftKey ? 10 : 1);
  return pressed.key === "Home" ? () => acts.again() : undefined;
}
