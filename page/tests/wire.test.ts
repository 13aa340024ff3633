// SPDX-License-Identifier: MIT
import { describe, expect, it } from "vitest";

import { read } from "../src/wire";

/** Bytes written by hand, one number after another. */
function bytes(...parts: [kind: "u32" | "f64" | "f32" | "u8", ...numbers: number[]][]): ArrayBuffer {
  const sizes = { u32: 4, f64: 8, f32: 4, u8: 1 };
  const size = parts.reduce((sum, [kind, ...numbers]) => sum + sizes[kind] * numbers.length, 0);
  const view = new DataView(new ArrayBuffer(size));
  let at = 0;
  for (const [kind, ...numbers] of parts)
    for (const number of numbers) {
      if (kind === "u32") view.setUint32(at, number, true);
      if (kind === "f64") view.setFloat64(at, number, true);
      if (kind === "f32") view.setFloat32(at, number, true);
      if (kind === "u8") view.setUint8(at, number);
      at += sizes[kind];
    }
  return view.buffer;
}

const frame = () =>
  bytes(
    ["u32", 1, 7, 2, 1],
    ["f64", 30, 10, 31, 0.5],
    ["f64", 20, 19.5],
    ["f32", 1, 2, 3, 0, 0, 0, 1, 1, 1, 1, 4, 5, 6, 0, 1, 0, 0, 2, 2, 2],
    ["u8", 0, 1],
  );

describe("what is sent as bytes", () => {
  it("reads a frame", () => {
    const message = read(frame());
    expect(message).toMatchObject({ kind: "frame", edition: 7, current: 30, first: 10, last: 31, time: 0.5 });
    if (message?.kind !== "frame") return;
    expect([...message.values, ...message.before]).toEqual([20, 19.5]);
    expect([...message.poses.slice(10, 13)]).toEqual([4, 5, 6]);
    expect([...message.hidden]).toEqual([0, 1]);
  });

  it("reads a stretch of the past", () => {
    const message = read(
      bytes(["u32", 2, 9, 1, 2, 1, 7], ["f64", 4, 3], ["f64", 0.1, 0.2], ["f64", 5, 6], ["f32", ...Array<number>(14).fill(8)]),
    );
    expect(message).toMatchObject({ kind: "past", ask: 9, first: 4, stride: 3, frames: 2, columns: 1, objects: 1 });
  });

  it("does not mind what is cut short or unknown", () => {
    const whole = frame();
    for (let size = 0; size < whole.byteLength; ++size) expect(read(whole.slice(0, size))).toBeUndefined();
    expect(read(bytes(["u32", 99], ["f64", ...Array<number>(9).fill(0)]))).toBeUndefined();
  });
});
