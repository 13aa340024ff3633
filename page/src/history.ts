// What the page knows of the frames that were played: their numbers and times, what was watched in them, and where the
// chosen objects were.

import { placeSize, poseSize, type Frame, type Stretch } from "./wire";

/** Where one object was, moment by moment. */
export interface Path {
  times: number[];
  places: Float32Array; // placeSize numbers for each time
}

/** The number of the first of some rising numbers that is not below another; their count where all are. */
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

export class History {
  frames: number[] = [];
  times: number[] = [];
  columns: number[][] = []; // one list of numbers for each column
  private places: number[][] = []; // one list for each tracked object
  private tracked: number[] = [];
  private edition = -1;
  private waiting: Frame[] = []; // that came while the past was asked for

  constructor(private readonly most = 40_000) {}

  get length(): number {
    return this.frames.length;
  }

  /** The objects by their numbers, from now on; what was known of before is not. */
  track(objects: readonly number[]): void {
    this.tracked = [...objects];
    this.clear();
  }

  isTracking(objects: readonly number[]): boolean {
    return objects.length === this.tracked.length && objects.every((object, i) => object === this.tracked[i]);
  }

  clear(): void {
    this.frames = [];
    this.times = [];
    this.columns = [];
    this.places = this.tracked.map(() => []);
    this.waiting = [];
  }

  /** A frame is shown. Returns whether the past has become another, and has to be asked for. */
  see(frame: Frame): boolean {
    const isAnother = frame.edition !== this.edition || frame.values.length !== this.columns.length;
    if (isAnother) {
      this.edition = frame.edition;
      this.clear();
      this.columns = Array.from(frame.values, () => []);
    }
    if (this.waiting.length < 1200) this.waiting.push(frame);
    if (frame.shown > (this.frames.at(-1) ?? -1) && frame.shown === frame.last) this.append(frame);
    return isAnother;
  }

  /** The answer to a question for the past, of all frames so far. */
  fill(past: Stretch): void {
    if (past.edition !== this.edition || past.objects !== this.tracked.length) return;
    const waiting = this.waiting;
    this.clear();
    this.frames = Array.from(past.times, (_, i) => past.first + i * past.stride);
    this.times = Array.from(past.times);
    this.columns = Array.from({ length: past.columns }, (_, column) =>
      Array.from(past.times, (_, i) => past.values[i * past.columns + column] as number),
    );
    const row = past.objects * placeSize;
    this.places = this.tracked.map((_, object) =>
      Array.from({ length: past.frames * placeSize }, (_, i) => {
        const frame = Math.floor(i / placeSize);
        return past.places[frame * row + object * placeSize + (i % placeSize)] as number;
      }),
    );
    const last = this.frames.at(-1) ?? -1;
    for (const frame of waiting) if (frame.shown > Math.max(last, this.frames.at(-1) ?? -1)) this.append(frame);
    this.waiting = [];
  }

  private append(frame: Frame): void {
    this.frames.push(frame.shown);
    this.times.push(frame.time);
    frame.values.forEach((value, column) => this.columns[column]?.push(value));
    this.tracked.forEach((object, i) => {
      for (let k = 0; k < placeSize; ++k) this.places[i]?.push(frame.poses[object * poseSize + k] as number);
    });
    if (this.frames.length <= this.most) return;
    const count = Math.floor(this.most / 4);
    this.frames.splice(0, count);
    this.times.splice(0, count);
    for (const column of this.columns) column.splice(0, count);
    for (const places of this.places) places.splice(0, count * placeSize);
  }

  /** Where a tracked object was between two times. */
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

  /** The frame that is first at or past a time. */
  frameAt(time: number): number | undefined {
    return this.frames[Math.min(lowerBound(this.times, time), this.frames.length - 1)];
  }

  /** Times and columns between two times, at most about so many of them, with nothing for what is not known. */
  window(from: number, to: number, most: number): { times: number[]; columns: (number | null)[][] } {
    const begin = Math.max(lowerBound(this.times, from) - 1, 0);
    const end = Math.min(lowerBound(this.times, to) + 1, this.times.length);
    const step = Math.max(1, Math.ceil((end - begin) / most));
    const rows: number[] = [];
    for (let i = begin; i < end; i += step) rows.push(i);
    return {
      times: rows.map((i) => this.times[i] as number),
      columns: this.columns.map((column) =>
        rows.map((i) => (Number.isFinite(column[i]) ? (column[i] as number) : null)),
      ),
    };
  }
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

/** One path after another. */
export function joined(one: Path, other: Path): Path {
  const places = new Float32Array(one.places.length + other.places.length);
  places.set(one.places);
  places.set(other.places, one.places.length);
  return { times: [...one.times, ...other.times], places };
}
