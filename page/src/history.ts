// SPDX-License-Identifier: MIT
// The played frames that the page knows: their numbers and times, the numbers of watches, and the poses of selected
// objects.

import { placeSize, poseSize, type Frame, type Stretch } from "./wire";

/** The poses of one object over time. */
export interface Path {
  times: number[];
  places: Float32Array; // placeSize numbers for each time
}

/** The index of the first of some increasing numbers that is not below another; their count where all are. */
export function lowerBound(rising: ArrayLike<number>, least: number): number {
  let low = 0;
  let high = rising.length;
  while (low < high) {
    const middle = (low + high) >> 1;
    if ((rising[middle] as number) < least) low = middle + 1;
    else high = middle;
  }
  return low;
}

/** Frames from one number to another, both included. */
export interface Range {
  first: number;
  last: number;
}

const mostAsked = 4000; // frames of one answer: the most that the server sends without leaving any out
const halfATurn = 180; // degrees

/** The known frames, in the order of their numbers. Missing numbers are unknown frames. */
export class History {
  frames: number[] = [];
  times: number[] = [];
  columns: number[][] = []; // a list of numbers for each column
  private places: number[][] = []; // a list for each tracked object
  private tracked: number[] = [];
  private edition = -1;
  private former?: History; // the frames from before a change

  constructor(private readonly most = 40_000) {}

  get length(): number {
    return this.frames.length;
  }

  /** Sets the tracked objects by their numbers. Poses of the previous ones are dropped. */
  track(objects: readonly number[]): void {
    this.tracked = [...objects];
    this.clear();
  }

  clear(): void {
    this.frames = [];
    this.times = [];
    this.columns = this.columns.map(() => []);
    this.places = this.tracked.map(() => []);
  }

  /** Stores the numbers of watches as they are before a change. */
  remember(): void {
    this.former = new History(this.most);
    this.former.frames = [...this.frames];
    this.former.times = [...this.times];
    this.former.columns = this.columns.map((column) => [...column]);
  }

  forget(): void {
    this.former = undefined;
  }

  /** The same columns from before the change that was remembered. Nothing where there is none. */
  formerCurve(numbers: readonly number[], isAngle: boolean, from: number, to: number, most: number): Curve | undefined {
    return this.former?.columns.length === this.columns.length ? this.former.curve(numbers, isAngle, from, to, most) : undefined;
  }

  /** Adds the current frame. Drops all others where the past has changed. */
  see(frame: Frame): void {
    if (frame.edition !== this.edition || frame.values.length !== this.columns.length) {
      this.edition = frame.edition;
      this.columns = Array.from(frame.values, () => []);
      this.clear();
    }
    const places = this.tracked.map((object) => frame.poses.subarray(object * poseSize, object * poseSize + placeSize));
    this.put([{ number: frame.current, time: frame.time, values: frame.values, places }]);
  }

  /** The newest range of unknown frames up to the last one, at most as many as one answer holds. */
  missing(first: number, last: number): Range | undefined {
    const from = Math.max(first, last - this.most + 1);
    let end = last; // the newest frame that may be unknown
    for (let i = this.frames.length - 1; i >= 0 && this.frames[i] === end; --i) --end;
    if (end < from) return undefined;
    const before = this.frames[lowerBound(this.frames, end) - 1] ?? from - 1;
    return { first: Math.max(before + 1, from, end - mostAsked + 1), last: end };
  }

  /** Handles the answer to a request for frames. */
  fill(past: Stretch): void {
    if (past.edition !== this.edition || past.objects !== this.tracked.length || past.columns !== this.columns.length)
      return;
    const row = past.objects * placeSize;
    this.put(
      Array.from(past.times, (time, i) => ({
        number: past.first + i * past.stride,
        time,
        values: past.values.subarray(i * past.columns, (i + 1) * past.columns),
        places: this.tracked.map((_, object) =>
          past.places.subarray(i * row + object * placeSize, i * row + (object + 1) * placeSize),
        ),
      })),
    );
  }

  /** Inserts frames with increasing numbers. Known frames are not changed. */
  private put(
    rows: { number: number; time: number; values: ArrayLike<number>; places: ArrayLike<number>[] }[],
  ): void {
    const fresh = rows.filter((row) => this.frames[lowerBound(this.frames, row.number)] !== row.number);
    const begin = fresh[0];
    const end = fresh.at(-1);
    if (!begin || !end) return;
    // Frames after the first new one are removed and inserted again in order.
    const at = lowerBound(this.frames, begin.number);
    const frames = this.frames.splice(at);
    const times = this.times.splice(at);
    const columns = this.columns.map((column) => column.splice(at));
    const places = this.places.map((of) => of.splice(at * placeSize));
    const putBack = (count: number): void => {
      this.frames.push(...frames.splice(0, count));
      this.times.push(...times.splice(0, count));
      columns.forEach((column, i) => this.columns[i]?.push(...column.splice(0, count)));
      places.forEach((of, i) => this.places[i]?.push(...of.splice(0, count * placeSize)));
    };
    for (const row of fresh) {
      putBack(lowerBound(frames, row.number));
      this.frames.push(row.number);
      this.times.push(row.time);
      this.columns.forEach((column, i) => column.push(row.values[i] ?? NaN));
      this.places.forEach((of, i) => {
        for (let k = 0; k < placeSize; ++k) of.push(row.places[i]?.[k] ?? NaN);
      });
    }
    for (let left = frames.length; left > 0; left = frames.length) putBack(Math.min(left, 1000));
    this.dropOldest();
  }

  private dropOldest(): void {
    if (this.frames.length <= this.most) return;
    const count = this.frames.length - Math.floor(this.most * 0.75);
    this.frames.splice(0, count);
    this.times.splice(0, count);
    for (const column of this.columns) column.splice(0, count);
    for (const places of this.places) places.splice(0, count * placeSize);
  }

  /** The poses of a tracked object between two times. */
  path(tracked: number, from: number, to: number): Path {
    const places = this.places[tracked];
    const begin = lowerBound(this.times, from);
    let end = lowerBound(this.times, to);
    if (end < this.times.length && this.times[end] === to) ++end;
    if (!places) return { times: [], places: new Float32Array() };
    return {
      times: this.times.slice(begin, end),
      places: Float32Array.from(places.slice(begin * placeSize, end * placeSize)),
    };
  }

  /** The first frame at or after a time. */
  frameAt(time: number): number | undefined {
    return this.frames[Math.min(lowerBound(this.times, time), this.frames.length - 1)];
  }

  /**
   * Columns between two times, as lines to draw. Of more frames than `most`, the first, the least and the greatest of
   * each interval are taken. null ends a line: where frames or numbers are unknown, and where an angle passes half a
   * turn and continues on the other side. undefined continues a line without a point.
   */
  curve(numbers: readonly number[], isAngle: boolean, from: number, to: number, most: number): Curve {
    const columns = numbers.map((number) => this.columns[number] ?? []);
    const begin = Math.max(lowerBound(this.times, from) - 1, 0);
    const end = Math.min(lowerBound(this.times, to) + 1, this.times.length);
    const isGap = (i: number): boolean => (this.frames[i] as number) - (this.frames[i - 1] as number) > 1;
    const wraps = (column: number[], i: number): boolean =>
      isAngle && Math.abs((column[i] as number) - (column[i - 1] as number)) > halfATurn;

    const chosen = new Set<number>();
    const step = Math.max(1, Math.ceil((end - begin) / most));
    for (let first = begin; first < end; first += step) {
      const last = Math.min(first + step, end) - 1;
      chosen.add(first).add(last);
      for (const column of columns) {
        let [least, greatest] = [first, first];
        for (let i = first + 1; i <= last; ++i) {
          if ((column[i] as number) < (column[least] as number)) least = i;
          if ((column[i] as number) > (column[greatest] as number)) greatest = i;
        }
        chosen.add(least).add(greatest);
      }
      for (let i = Math.max(first, begin + 1); i <= last; ++i)
        if (isGap(i) || columns.some((column) => wraps(column, i))) chosen.add(i - 1).add(i);
    }

    const lines: Curve = { times: [], columns: columns.map(() => []) };
    for (const i of [...chosen].sort((a, b) => a - b)) {
      const ends = columns.map((column) => i > begin && (isGap(i) || wraps(column, i)));
      if (ends.includes(true)) {
        lines.times.push(((this.times[i - 1] as number) + (this.times[i] as number)) / 2);
        ends.forEach((isEnd, k) => lines.columns[k]?.push(isEnd ? null : undefined));
      }
      lines.times.push(this.times[i] as number);
      columns.forEach((column, k) =>
        lines.columns[k]?.push(Number.isFinite(column[i]) ? (column[i] as number) : null),
      );
    }
    return lines;
  }
}

/** Lines with common times. */
export interface Curve {
  times: number[];
  columns: (number | null | undefined)[][];
}

/** One of the objects of an answer. */
export function pathIn(stretch: Stretch, object: number): Path {
  const places = new Float32Array(stretch.frames * placeSize);
  for (let frame = 0; frame < stretch.frames; ++frame) {
    const from = (frame * stretch.objects + object) * placeSize;
    places.set(stretch.places.subarray(from, from + placeSize), frame * placeSize);
  }
  return { times: Array.from(stretch.times), places };
}

/** Reads the paths of an answer. */
export function joined(one: Path, other: Path): Path {
  const places = new Float32Array(one.places.length + other.places.length);
  places.set(one.places);
  places.set(other.places, one.places.length);
  return { times: [...one.times, ...other.times], places };
}
