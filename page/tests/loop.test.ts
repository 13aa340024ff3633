// SPDX-License-Identifier: MIT
import { describe, expect, test } from "vitest";

import { Loop } from "../src/loop";
import type { Order } from "../src/messages";
import { poseSize, type Frame } from "../src/wire";

const frame = (current: number): Frame => ({
  kind: "frame", edition: 1, current, first: 0, last: current, time: current / 60,
  values: new Float64Array(), before: new Float64Array(), poses: new Float32Array(poseSize), hidden: new Uint8Array(1),
});

describe("a loop", () => {
  const sent: Order[] = [];
  const loop = new Loop((order) => sent.push(order));
  const taken = (): Order[] => sent.splice(0);

  test("asks for its beginning once at its end, and again after the next end", () => {
    loop.see(frame(500), true);
    expect(taken()).toEqual([]);
    loop.set({ from: 100, to: 140 });
    expect(taken()).toEqual([{ do: "play", frame: 100 }]);
    for (const current of [400, 120, 139]) loop.see(frame(current), true);
    expect(taken()).toEqual([]);
    for (const current of [140, 141, 150]) loop.see(frame(current), true);
    expect(taken()).toEqual([{ do: "play", frame: 100 }]);
    loop.see(frame(101), true);
    loop.see(frame(145), false); // paused
    expect(taken()).toEqual([]);
  });
  test("makes a change at its beginning", () => {
    loop.change(() => sent.push({ do: "set", path: "hook.spring.damping", to: "0.4" }));
    expect(taken().map((order) => order.do)).toEqual(["show", "set", "play"]);
    loop.set(undefined);
    loop.change(() => sent.push({ do: "reset", path: "hook.spring.damping" }));
    expect(taken().map((order) => order.do)).toEqual(["reset"]);
  });
});
