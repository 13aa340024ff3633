// SPDX-License-Identifier: MIT
import { describe, expect, test } from "vitest";

import type { Path } from "../src/history";
import { intervalOf, rowsAt, velocityAt } from "../src/trails";
import { placeSize } from "../src/wire";

/** Samples of x = t^2 at 10 per second. */
function falling(from: number, to: number): Path {
  const times: number[] = [];
  for (let i = Math.round(from * 10); i <= Math.round(to * 10); ++i) times.push(i / 10);
  const places = new Float32Array(times.length * placeSize);
  times.forEach((time, i) => (places[i * placeSize] = time * time));
  return { times, places };
}

describe("marks on a path", () => {
  test("are at round times, and at most eighty", () => {
    expect(intervalOf(3)).toBe(0.05);
    expect(intervalOf(10)).toBe(0.25);
    expect(intervalOf(60)).toBe(1);
    for (const seconds of [0.1, 1, 7, 20, 100, 1000, 1e5]) expect(seconds / intervalOf(seconds)).toBeLessThanOrEqual(80);
  });
  test("stay where they are as the path grows", () => {
    const at = (path: Path): number[] => rowsAt(path, 0.5).map((row) => path.times[row] as number);
    expect(at(falling(0.3, 2.1))).toEqual([0.5, 1, 1.5, 2]);
    expect(at(falling(0.7, 2.6))).toEqual([1, 1.5, 2, 2.5]);
    expect(at({ times: [], places: new Float32Array() })).toEqual([]);
  });
  test("know the velocity there", () => {
    const path = falling(0, 2);
    expect(velocityAt(path, 10).x).toBeCloseTo(2, 5); // 2 t, by the rows on both sides
    expect(velocityAt(path, 0).x).toBeCloseTo(0.1, 5);
    expect(velocityAt({ times: [1], places: new Float32Array(placeSize) }, 0).length()).toBe(0);
  });
});
