// SPDX-License-Identifier: MIT
import { beforeEach, describe, expect, test, vi } from "vitest";

import { Changes } from "../src/changes";
import type { Order } from "../src/messages";

const edit = (to: string) => [{ edit: "set", path: "hook.rest", to }];

describe("the changes of a tab", () => {
  let frames: (() => void)[] = [];
  let sent: Order[] = [];
  let changes: Changes;
  const drawFrame = (): void => frames.splice(0).forEach((each) => each());

  beforeEach(() => {
    frames = [];
    sent = [];
    vi.stubGlobal("requestAnimationFrame", (call: () => void) => frames.push(call));
    changes = new Changes({ send: (order) => sent.push(order), change: (order) => sent.push(order), begin: () => {} });
  });

  test("are sent once a frame, the last of each gesture", () => {
    for (const to of ["1", "2", "3"]) changes.set("hook.spring.damping", to, 7);
    changes.make(edit("1"), 8);
    changes.make(edit("2"), 8);
    expect(sent).toEqual([]);
    drawFrame();
    expect(sent).toEqual([
      { do: "set", path: "hook.spring.damping", to: "3", gesture: 7 },
      { do: "edit", edits: edit("2"), gesture: 8 },
    ]);
  });

  test("that wait for the next frame are sent before the order that is about them, and not again", () => {
    changes.set("hook.spring.damping", "1", 7);
    changes.make(edit("1"), 8);
    changes.flush();
    sent.push({ do: "undo" });
    drawFrame();
    expect(sent.map((each) => each.do)).toEqual(["set", "edit", "undo"]);
  });

  test("make answers stale that were asked for before them", () => {
    changes.askObject("hook");
    changes.set("hook.spring.damping", "1", 7);
    changes.askObject("hook");
    drawFrame();
    changes.askObject("hook");
    expect([changes.isStale(), changes.isStale(), changes.isStale()]).toEqual([true, true, false]);
  });
});
