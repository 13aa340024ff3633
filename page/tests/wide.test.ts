// SPDX-License-Identifier: MIT
import { describe, expect, test } from "vitest";

import { History } from "../src/history";
import { valueIn } from "../src/wide";
import { poseSize } from "../src/wire";

describe("a ruler", () => {
  const curve = { times: [0, 1, 2, 2.5, 3], columns: [[0, 10, undefined, null, 4] as (number | null | undefined)[]] };
  test("reads values between the points of a curve, and none in a gap", () => {
    expect(valueIn(curve, 0, 0.25)).toBe(2.5);
    expect(valueIn(curve, 0, 3)).toBe(4);
    expect(valueIn(curve, 0, 1.5)).toBeUndefined();
    expect(valueIn(curve, 0, 2.7)).toBeUndefined();
    expect(valueIn(curve, 0, -1)).toBeUndefined();
    expect(valueIn({ times: [], columns: [[]] }, 0, 1)).toBeUndefined();
  });
});

describe("the curve before a change", () => {
  test("stays while the frames after the change replace it", () => {
    const history = new History();
    const see = (number: number, value: number, edition: number): void =>
      history.see({ kind: "frame", edition, current: number, first: 0, last: number, time: number / 10, values: Float64Array.of(value), before: Float64Array.of(0), poses: new Float32Array(poseSize), hidden: new Uint8Array(1) });
    for (let i = 0; i < 5; ++i) see(i, i, 1);
    history.remember();
    for (let i = 0; i < 3; ++i) see(i, 7, 2);
    const columns = (curve?: { columns: unknown[][] }): unknown => curve?.columns[0];
    expect(columns(history.curve([0], false, 0, 1, 100))).toEqual([7, 7, 7]);
    expect(columns(history.formerCurve([0], false, 0, 1, 100))).toEqual([0, 1, 2, 3, 4]);
    history.forget();
    expect(history.formerCurve([0], false, 0, 1, 100)).toBeUndefined();
  });
});
