import { describe, expect, it } from "vitest";

import type { Order, UrgeShare } from "../src/messages";
import { Urges } from "../src/urges";
import type { Frame } from "../src/wire";

const frame = (shown: number, last = shown): Frame => ({ shown, last }) as Frame;
const seek: UrgeShare = { urge: "seek", velocity: [0, 0, 5], share: 1 };

describe("Urges", () => {
  it("are asked for once a frame, and not again before there is an answer", () => {
    const asked: Order[] = [];
    const urges = new Urges((order) => asked.push(order));
    urges.see(frame(1));
    expect(asked).toEqual([]); // nobody is chosen
    urges.choose("gull");
    urges.see(frame(2));
    urges.see(frame(3));
    expect(asked).toEqual([{ do: "urges", name: "gull" }]);
    urges.hear("gull", [seek]);
    expect(urges.shown).toEqual([seek]);
    urges.see(frame(4));
    expect(asked.length).toBe(2);
  });

  it("are forgotten where another is chosen, and in frames that others have followed", () => {
    const urges = new Urges(() => {});
    urges.choose("gull");
    urges.hear("gull", [seek]);
    urges.see(frame(4, 9));
    expect(urges.shown).toEqual([]);
    urges.hear("gull", [seek]);
    urges.choose("fish");
    urges.hear("gull", [seek]); // an answer that comes late
    expect(urges.shown).toEqual([]);
  });
});
