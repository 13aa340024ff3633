// SPDX-License-Identifier: MIT
import { expect, test } from "vitest";

import { argumentsOf } from "../src/finder";

test("a measure begins with what can be measured of the object", () => {
  const watched = ["tug.position.x", "hook.rotation", "hook.position.y"];
  expect(argumentsOf("overshoot(WATCH, of = VALUE)", "hook", watched)).toBe("hook.position.y");
  expect(argumentsOf("peak(WATCH)", "lamp", watched)).toBe("lamp.position.x");
  expect(argumentsOf("reached(WATCH, VALUE)", "hook", watched)).toBe("hook.position.y, 0");
  expect(argumentsOf("closest(OBJECT, OBJECT)", "hook", watched)).toBe("hook, hook");
  expect(argumentsOf("time(EVENT, N, OBJECT)", "hook", watched)).toBe("reached, 1, hook");
  expect(argumentsOf("outside(OBJECT, [[MIN], [MAX]])", "hook", watched)).toBe("hook, [[-10, 0, -10], [10, 10, 10]]");
});
