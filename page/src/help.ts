// SPDX-License-Identifier: MIT
// The sheet of keys, and a hint at the first visit.

import { button, byId, el } from "./dom";
import { remember, remembered } from "./memory";

const sheet: [string, [string, string][]][] = [
  [
    "Time",
    [
      ["Space", "play or pause"],
      ["← →", "one frame back or forward; with Shift ten"],
      ["Home", "back to frame 0"],
    ],
  ],
  [
    "Values",
    [
      ["↑ ↓", "in a number: a step; with Shift ten"],
      ["Ctrl+Z, Ctrl+Shift+Z", "undo, redo"],
      ["Ctrl+S", "keep the tuned values in the file; in a script: save it"],
    ],
  ],
  [
    "Objects",
    [
      ["↑ ↓ ← →", "in the tree: move, fold, unfold"],
      ["Enter, click", "select; with Shift beside the others"],
    ],
  ],
  [
    "Handles and behaviours",
    [
      ["← → ↑ ↓, Page up, Page down", "move a handle; with Shift ten times as far"],
      ["Enter", "type its numbers"],
      ["Delete", "remove a waypoint"],
      ["← →", "on ⠿: move a behaviour in the stack"],
    ],
  ],
  [
    "Curves",
    [
      ["wheel", "zoom in time; with Shift in value"],
      ["+ − ← →", "zoom and move"],
      ["Escape", "close"],
    ],
  ],
];

export class Help {
  readonly opener = button("?", "The keys of this page (?)", () => this.open());
  private readonly dialog = el("dialog", { class: "help-sheet", "aria-label": "Keys" });

  constructor() {
    this.dialog.append(
      el("h2", {}, "Keys"),
      ...sheet.flatMap(([title, keys]) => [
        el("h3", {}, title),
        el("dl", {}, ...keys.flatMap(([key, what]) => [el("dt", {}, ...key.split(", ").map((each) => el("kbd", {}, each))), el("dd", {}, what)])),
      ]),
      el("p", {}, "Click the scene to send it the keys that its rules and behaviours use; Escape ends that."),
      button("Close", "Close this sheet (Escape)", () => this.dialog.close()),
    );
    document.body.append(this.dialog);
    document.addEventListener("keydown", (event) => {
      if (event.key !== "?" || (event.target as HTMLElement).matches("input, textarea, select")) return;
      event.preventDefault();
      this.open();
    });
    this.hint();
  }

  private open(): void {
    if (!this.dialog.open) this.dialog.showModal();
  }

  private hint(): void {
    if (remembered("hushed hint") === "read") return;
    const note = el("aside", { class: "hint-card", "aria-label": "First steps" });
    note.append(
      el("p", {}, "Press Play, or step frame by frame with the arrow keys. Click an object to see its path and to tune its values. Nothing is written to the file until you press Keep."),
      button("Got it", "Do not show this again", () => {
        remember("hushed hint", "read");
        note.remove();
      }),
    );
    byId("water").append(note);
  }
}
