import { describe, expect, it } from "vitest";

import { History, joined, lowerBound } from "../src/history";
import { placeSize, poseSize, type Frame, type Stretch } from "../src/wire";

/** One object that goes along x, a metre a frame; what is watched is twice that. */
function frame(shown: number, edition = 1, last = shown): Frame {
  const poses = new Float32Array(poseSize);
  poses[0] = shown;
  return {
    kind: "frame",
    edition,
    shown,
    first: 0,
    last,
    time: shown / 10,
    values: Float64Array.of(shown * 2),
    before: Float64Array.of(shown * 2 - 2),
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
  it("grows by the frames that are played, not by those that are looked at again", () => {
    const history = tracking();
    expect(history.see(frame(0))).toBe(true); // another past: it has to be asked for
    for (const shown of [1, 2, 4]) expect(history.see(frame(shown))).toBe(false);
    history.see(frame(2, 1, 4));
    expect(history.frames).toEqual([0, 1, 2, 4]);
    expect(history.columns[0]).toEqual([0, 2, 4, 8]);
  });

  it("fills the gaps by what it has asked for, and loses no frame that came meanwhile", () => {
    const history = tracking();
    history.see(frame(10));
    history.see(frame(11));
    history.fill(past(0, 11));
    expect(history.frames).toEqual(Array.from({ length: 12 }, (_, i) => i));
    expect(Array.from(history.path(0, 0.25, 0.5).places).filter((_, i) => i % placeSize === 0)).toEqual([3, 4, 5]);
  });

  it("forgets what is not so any more", () => {
    const history = tracking();
    history.see(frame(5));
    expect(history.see(frame(3, 2))).toBe(true);
    history.fill(past(0, 6)); // the answer to an older question
    expect(history.frames).toEqual([3]);
  });

  it("knows which frame is shown at a time", () => {
    const history = tracking();
    history.see(frame(0));
    history.fill(past(0, 11, 2));
    expect(history.frameAt(0.4)).toBe(4);
    expect(history.frameAt(0.41)).toBe(6);
    expect(history.frameAt(99)).toBe(20);
  });

  it("thins what is drawn, and leaves what is not known out", () => {
    const history = tracking();
    history.see(frame(0));
    history.fill({ ...past(0, 1000), values: Float64Array.from({ length: 1000 }, (_, i) => (i === 500 ? NaN : i)) });
    const all = history.window(0, 100, 5000);
    expect(all.times.length).toBe(1000);
    expect(all.columns[0]?.[500]).toBeNull();
    expect(history.window(0, 100, 100).times.length).toBeLessThanOrEqual(101);
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
