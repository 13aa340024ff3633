// SPDX-License-Identifier: MIT
import { describe, expect, it } from "vitest";

import type { Order, UrgeShare } from "../src/messages";
import { Urges } from "../src/urges";

const seek: UrgeShare = { urge: "seek", velocity: [0, 0, 5], share: 1 };

describe("Urges", () => {
  it("are asked for once a frame, and not again before there is an answer", () => {
    const asked: Order[] = [];
    const urges = new Urges((order) => asked.push(order));
    urges.see();
    expect(asked).toEqual([]); // nothing is selected
    urges.choose("gull");
    expect(asked).toEqual([{ do: "urges", name: "gull" }]);
    urges.hear("gull", [seek]);
    expect(urges.current).toEqual([seek]);
    urges.see();
    expect(asked.length).toBe(2);
  });

  it("are requested again where the frame has changed before the answer", () => {
    const asked: Order[] = [];
    const urges = new Urges((order) => asked.push(order));
    urges.choose("gull");
    urges.see();
    urges.see();
    expect(asked.length).toBe(1);
    urges.hear("gull", [seek]);
    expect(asked.length).toBe(2);
    urges.hear("gull", [seek]);
    expect(asked.length).toBe(2);
  });

  it("are forgotten where another is chosen", () => {
    const urges = new Urges(() => {});
    urges.choose("gull");
    urges.hear("gull", [seek]);
    urges.choose("fish");
    urges.hear("gull", [seek]); // a late answer
    expect(urges.current).toEqual([]);
  });
});
