// SPDX-License-Identifier: MIT
import { describe, expect, test } from "vitest";

import { commandLine, readingsText, shellWord } from "../src/exports";
import { History } from "../src/history";
import { axesOf } from "../src/inputs";

describe("commands", () => {
  test("quote what a shell would read otherwise", () => {
    expect(shellWord("lamp.spin.speed=60")).toBe("lamp.spin.speed=60");
    expect(shellWord("distance(skiff,lamp)")).toBe("'distance(skiff,lamp)'");
    expect(shellWord("it's")).toBe("'it'\\''s'");
  });
  test("name the rate, the length and the changed values", () => {
    const changed = [{ path: "gig.sway.amplitude", before: null, now: "[0, 1, 0]", preset: "" }];
    expect(commandLine("play", "bay.toml", 60, 1 / 3, changed, "--record", "bay.glb")).toBe(
      "hushed play bay.toml --fps 60 --seconds 0.3333 --set 'gig.sway.amplitude=[0, 1, 0]' --record bay.glb",
    );
  });
});

describe("readings as CSV", () => {
  test("have a line for each known frame", () => {
    const history = new History();
    history.frames = [3, 4];
    history.times = [0.05, 0.1];
    history.columns = [[1, 2], [Number.NaN, 7]];
    expect(readingsText(history, ["lamp.speed", "distance(a,b)"])).toBe('frame,time,lamp.speed,"distance(a,b)"\n3,0.05,1,NaN\n4,0.1,2,7\n');
  });
});

describe("a gamepad", () => {
  test("has its left stick up for forward, without drift around the middle", () => {
    const buttons = Array.from({ length: 8 }, (_, i) => ({ value: i === 7 ? 0.5 : 0 }));
    const { forward, left, rise } = axesOf({ axes: [0.04, -0.9], buttons });
    expect([forward, left + 0, rise]).toEqual([0.9, 0, 0.5]);
  });
});
