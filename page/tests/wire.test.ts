// SPDX-License-Identifier: MIT
import { describe, expect, it } from "vitest";

import { geometryOf } from "../src/models";
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

  it("reads a model, whose parts are drawn by their textures", () => {
    const name = [...new TextEncoder().encode("0123456789abcdef")];
    const corners = [0, 0, 0, 1, 0, 0, 0, 0, 2];
    const message = read(
      bytes(
        ["u32", 5], ["u8", ...name], ["u32", 2, 1],
        ["u32", 0xff0000, 1, 9, 3], ["f32", ...corners], ["u32", 0, 2, 1], ["f32", 0, 0, 0.5, 0, 0, 0.75],
        ["u32", 0x0000ff, 0, 9, 3], ["f32", ...corners.map((x) => 3 * x)], ["u32", 0, 1, 2],
        ["u8", 1, 0, 2, 1], ["u32", 5], ["u8", 9, 8, 7, 6, 5, 0, 0, 0],
      ),
    );
    if (message?.kind !== "model") throw new Error("it is no model");
    expect(message.name).toBe("0123456789abcdef");
    expect(message.textures[0]).toMatchObject({ format: "jpeg", across: "repeat", down: "clamp", isSmooth: true });
    expect([...(message.textures[0]?.bytes ?? [])]).toEqual([9, 8, 7, 6, 5]);

    const geometry = geometryOf(message); // the part without a texture first
    expect(geometry.groups).toEqual([{ start: 0, count: 3, materialIndex: 0 }, { start: 3, count: 3, materialIndex: 1 }]);
    expect([...geometry.getAttribute("position").array.slice(0, 9)]).toEqual([0, 0, 0, 3, 0, 0, 0, 0, 6]);
    expect([...geometry.getAttribute("uv").array.slice(6)]).toEqual([0, 0, 0, 0.75, 0.5, 0]); // in the order of the triangle
    expect([...geometry.getAttribute("color").array.slice(9, 12)]).toEqual([1, 0, 0]);
  });

  it("does not mind what is cut short or unknown", () => {
    const whole = frame();
    for (let size = 0; size < whole.byteLength; ++size) expect(read(whole.slice(0, size))).toBeUndefined();
    expect(read(bytes(["u32", 99], ["f64", ...Array<number>(9).fill(0)]))).toBeUndefined();
  });
});
