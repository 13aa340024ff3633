// SPDX-License-Identifier: MIT
import { describe, expect, it } from "vitest";

import { History, joined, lowerBound } from "../src/history";
import { placeSize, poseSize, type Frame, type Stretch } from "../src/wire";

/** One object that moves along x, a metre a frame; the watch is twice that. */
function frame(current: number, edition = 1, last = current): Frame {
  const poses = new Float32Array(poseSize);
  poses[0] = current;
  return {
    kind: "frame",
    edition,
    current,
    first: 0,
    last,
    time: current / 10,
    values: Float64Array.of(current * 2),
    before: Float64Array.of(current * 2 - 2),
    poses,
    hidden: new Uint8Array(1),
  };
}

function past(first: number, frames: number, stride = 1, edition = 1): Stretch {
  const numbers = Array.from({ length: frames }, (_, i) => first + i * stride);
  const places = new Float32Array(frames * placeSize);
  numbers.forEach((number, i) => (places[i * placeSize] = number));
  return {
    kind: "past",
    ask: 1,
    edition,
    first,
    stride,
    frames,
    columns: 1,
    objects: 1,
    times: Float64Array.from(numbers, (number) => number / 10),
    values: Float64Array.from(numbers, (number) => number * 2),
    places,
  };
}

function tracking(): History {
  const history = new History();
  history.track([0]);
  return history;
}

describe("what the page knows of the past", () => {
  it("grows by the current frames, each of them once", () => {
    const history = tracking();
    for (const current of [0, 1, 4, 2, 4]) history.see(frame(current, 1, 4));
    expect(history.frames).toEqual([0, 1, 2, 4]);
    expect(history.columns[0]).toEqual([0, 2, 4, 8]);
  });

  it("asks for what is missing, the newest first, and puts the answers in their places", () => {
    const history = tracking();
    for (const current of [0, 5, 6, 10]) history.see(frame(current));
    expect(history.missing(0, 10)).toEqual({ first: 7, last: 9 });
    history.fill(past(7, 3));
    expect(history.missing(0, 10)).toEqual({ first: 1, last: 4 });
    history.see(frame(12));
    history.fill(past(1, 4));
    expect(history.missing(0, 12)).toEqual({ first: 11, last: 11 });
    history.fill(past(11, 1));
    expect(history.missing(0, 12)).toBeUndefined();
    expect(history.frames).toEqual(Array.from({ length: 13 }, (_, i) => i));
    expect(history.columns[0]).toEqual(Array.from({ length: 13 }, (_, i) => 2 * i));
    expect(Array.from(history.path(0, 0.25, 0.5).places).filter((_, i) => i % placeSize === 0)).toEqual([3, 4, 5]);
  });

  it("asks for no more than one answer holds, and not for what is kept no more", () => {
    const history = tracking();
    history.see(frame(10_000));
    expect(history.missing(0, 10_000)).toEqual({ first: 6000, last: 9999 });
    expect(history.missing(9000, 10_000)).toEqual({ first: 9000, last: 9999 });
  });

  it("forgets what is not so any more", () => {
    const history = tracking();
    history.see(frame(5));
    history.see(frame(3, 2));
    history.fill(past(0, 6)); // the answer to an older request
    expect(history.frames).toEqual([3]);
  });

  it("draws no line across frames that are not known", () => {
    const history = tracking();
    for (const current of [0, 1, 2, 7, 8]) history.see(frame(current));
    const { times, columns } = history.curve([0], false, 0, 100, 5000);
    expect(columns[0]).toEqual([0, 2, 4, null, 14, 16]);
    expect(times[3]).toBeCloseTo(0.45);
  });

  it("draws no line across the wrap of an angle, however few points are drawn", () => {
    const yaw = (i: number): number => ((i * 5 + 180) % 360) - 180; // turns at a constant rate
    const history = tracking();
    history.see(frame(0));
    history.fill({ ...past(1, 999), values: Float64Array.from({ length: 999 }, (_, i) => yaw(i + 1)) });
    for (const most of [50, 5000]) {
      const { columns } = history.curve([0], true, 0, 100, most);
      const drawn = columns[0] ?? [];
      expect(drawn.filter((value) => value === null).length).toBe(Math.floor((999 * 5 + 180) / 360));
      drawn.forEach((value, i) => {
        const before = drawn[i - 1];
        if (typeof value === "number" && typeof before === "number") expect(value).toBeGreaterThanOrEqual(before);
      });
    }
  });

  it("ends no other line where one of them ends", () => {
    const history = new History();
    history.track([]);
    const withValues = (number: number, values: number[]): Frame => ({ ...frame(number), values: Float64Array.from(values) });
    history.see(withValues(0, [170, 10]));
    history.see(withValues(1, [-170, 11]));
    expect(history.curve([0, 1], true, 0, 1, 100).columns).toEqual([
      [170, null, -170],
      [10, undefined, 11],
    ]);
  });

  it("finds the frame at a time", () => {
    const history = tracking();
    history.see(frame(0));
    history.fill(past(1, 20));
    expect(history.frameAt(0.4)).toBe(4);
    expect(history.frameAt(0.41)).toBe(5);
    expect(history.frameAt(99)).toBe(20);
  });

  it("thins what is drawn but for its peaks, and leaves what is not known out", () => {
    const history = tracking();
    history.see(frame(0));
    const values = Float64Array.from({ length: 999 }, (_, i) => (i === 500 ? NaN : i === 700 ? 5000 : i));
    history.fill({ ...past(1, 999), values });
    const all = history.curve([0], false, 0, 100, 5000);
    expect(all.times.length).toBe(1000);
    expect(all.columns[0]?.[501]).toBeNull();
    const thin = history.curve([0], false, 0, 100, 100);
    expect(thin.times.length).toBeLessThanOrEqual(400);
    expect(thin.columns[0]).toContain(5000);
  });

  it("keeps no more than so many frames", () => {
    const history = new History(100);
    history.track([0]);
    for (let i = 0; i < 1000; ++i) history.see(frame(i));
    expect(history.length).toBeLessThanOrEqual(100);
    expect(history.frames.at(-1)).toBe(999);
    expect(history.path(0, 99.9, 99.9).places[0]).toBe(999);
  });

  it("finds and joins", () => {
    expect([0, 1, 1.5, 2, 9].map((least) => lowerBound([0, 1, 2], least))).toEqual([0, 1, 2, 2, 3]);
    const path = { times: [1], places: new Float32Array(placeSize) };
    expect(joined(path, path)).toMatchObject({ times: [1, 1] });
  });
});
