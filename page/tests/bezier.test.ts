// SPDX-License-Identifier: MIT
import { describe, expect, test } from "vitest";

import { bezierOf, nearestBezier, textOfBezier, valueAt } from "../src/bezier";

describe("cubic-bezier", () => {
  test("is read and written as in CSS", () => {
    expect(bezierOf("cubic-bezier(.42, 0, 0.58, 1.2)")).toEqual({ x1: 0.42, y1: 0, x2: 0.58, y2: 1.2 });
    expect(bezierOf("ease-in")).toEqual({ x1: 0.42, y1: 0, x2: 1, y2: 1 });
    for (const other of ["in-out-sine", "cubic-bezier(1, 2, 3)", "cubic-bezier(a, b, c, d)", ""]) expect(bezierOf(other)).toBeUndefined();
    expect(textOfBezier({ x1: 0.123, y1: -0.2, x2: 1, y2: 1.006 })).toBe("cubic-bezier(0.12, -0.2, 1, 1.01)");
  });
  test("has the values of its polynomials", () => {
    // Where t = 1/2: x = (3 x1 + 3 x2 + 1) / 8, and y in the same way.
    const curve = { x1: 0.1, y1: 0.7, x2: 0.3, y2: 1.4 };
    expect(valueAt(curve, (3 * 0.1 + 3 * 0.3 + 1) / 8)).toBeCloseTo((3 * 0.7 + 3 * 1.4 + 1) / 8, 9);
    for (const share of [0, 0.2, 0.5, 1]) expect(valueAt({ x1: 0, y1: 0, x2: 1, y2: 1 }, share)).toBeCloseTo(share, 9);
  });
  test("is found again from its values, and is near others", () => {
    const ease = { x1: 0.25, y1: 0.1, x2: 0.25, y2: 1 };
    const found = nearestBezier(Array.from({ length: 25 }, (_, i) => valueAt(ease, i / 24)));
    for (let i = 0; i <= 20; ++i) expect(valueAt(found, i / 20)).toBeCloseTo(valueAt(ease, i / 20), 2);
    const sine = Array.from({ length: 25 }, (_, i) => 1 - Math.cos((i / 24) * (Math.PI / 2)));
    const near = nearestBezier(sine);
    sine.forEach((value, i) => expect(Math.abs(valueAt(near, i / 24) - value)).toBeLessThan(0.005));
  });
});
