// SPDX-License-Identifier: MIT
// Binary messages of the server: contiguous little-endian numbers (docs/reference/live.md).

/** A pose is seven or ten numbers: position, rotation (x, y, z, w), and in frames the scale. */
export const placeSize = 7;
export const poseSize = 10;

export interface Frame {
  kind: "frame";
  edition: number;
  current: number;
  first: number;
  last: number;
  time: number;
  values: Float64Array;
  before: Float64Array;
  poses: Float32Array;
  hidden: Uint8Array;
}

export interface Stretch {
  kind: "past" | "ahead";
  ask: number;
  edition: number;
  first: number;
  stride: number;
  frames: number;
  columns: number;
  objects: number;
  times: Float64Array;
  values: Float64Array;
  places: Float32Array;
}

/** A file that the page has asked for. */
export interface SentFile {
  kind: "file";
  name: string;
  content: Uint8Array<ArrayBuffer>;
}

/** What an artist has made: triangles, each part with a colour, and perhaps with a texture. */
export interface SentModel {
  kind: "model";
  name: string;
  parts: { colour: number; positions: Float32Array; indices: Uint32Array; texture?: number; coordinates: Float32Array }[];
  textures: SentTexture[];
}

export type Wrap = "repeat" | "mirror" | "clamp";

/** A picture in its file format. */
export interface SentTexture {
  format: "png" | "jpeg";
  across: Wrap;
  down: Wrap;
  isSmooth: boolean;
  bytes: Uint8Array<ArrayBuffer>;
}

/** Reads a message. Returns undefined for an unknown one. */
export function read(bytes: ArrayBuffer): Frame | Stretch | SentFile | SentModel | undefined {
  if (bytes.byteLength < 8) return undefined;
  const kind = new DataView(bytes).getUint32(0, true);
  try {
    if (kind === 4) return readFile(bytes);
    if (kind === 5) return readModel(bytes);
    if (bytes.byteLength < 40) return undefined;
    if (kind === 1) return readFrame(bytes);
    if (kind === 2) return readStretch(bytes, "past");
    if (kind === 3) return readStretch(bytes, "ahead");
  } catch (error) {
    if (!(error instanceof RangeError)) throw error; // shorter than its header says
  }
  return undefined;
}

function readFile(bytes: ArrayBuffer): SentFile {
  const size = new DataView(bytes).getUint32(4, true);
  return { kind: "file", name: new TextDecoder().decode(new Uint8Array(bytes, 8, size)), content: new Uint8Array(bytes, 8 + size) };
}

function readModel(bytes: ArrayBuffer): SentModel {
  const view = new DataView(bytes);
  const name = new TextDecoder().decode(new Uint8Array(bytes, 4, 16));
  let at = 28;
  const next = (count: number): number => (at += count) - count;
  const number = (): number => view.getUint32(next(4), true);
  const parts = Array.from({ length: view.getUint32(20, true) }, () => {
    const [colour, texture, numbers, count] = [number(), number(), number(), number()];
    const positions = new Float32Array(bytes, next(4 * numbers), numbers);
    const indices = new Uint32Array(bytes, next(4 * count), count);
    const places = texture > 0 ? (numbers / 3) * 2 : 0;
    const coordinates = new Float32Array(bytes, next(4 * places), places);
    return { colour, positions, indices, texture: texture > 0 ? texture - 1 : undefined, coordinates };
  });
  const wraps: Wrap[] = ["repeat", "mirror", "clamp"];
  const textures = Array.from({ length: view.getUint32(24, true) }, () => {
    const [format, across, down, smooth] = new Uint8Array(bytes, next(4), 4);
    const size = number();
    const content = new Uint8Array(bytes, next(4 * Math.ceil(size / 4)), size);
    return { format: format === 1 ? "jpeg" : "png", across: wraps[across ?? 0] ?? "repeat", down: wraps[down ?? 0] ?? "repeat", isSmooth: smooth === 1, bytes: content } as const;
  });
  return { kind: "model", name, parts, textures };
}

function readFrame(bytes: ArrayBuffer): Frame {
  const view = new DataView(bytes);
  const objects = view.getUint32(8, true);
  const columns = view.getUint32(12, true);
  let at = 48;
  const values = new Float64Array(bytes, at, columns);
  at += columns * 8;
  const before = new Float64Array(bytes, at, columns);
  at += columns * 8;
  const poses = new Float32Array(bytes, at, objects * poseSize);
  at += objects * poseSize * 4;
  const hidden = new Uint8Array(bytes, at, objects);
  return {
    kind: "frame",
    edition: view.getUint32(4, true),
    current: view.getFloat64(16, true),
    first: view.getFloat64(24, true),
    last: view.getFloat64(32, true),
    time: view.getFloat64(40, true),
    values,
    before,
    poses,
    hidden,
  };
}

function readStretch(bytes: ArrayBuffer, kind: "past" | "ahead"): Stretch {
  const view = new DataView(bytes);
  const objects = view.getUint32(8, true);
  const frames = view.getUint32(12, true);
  const columns = view.getUint32(16, true);
  let at = 40;
  const times = new Float64Array(bytes, at, frames);
  at += frames * 8;
  const values = new Float64Array(bytes, at, frames * columns);
  at += frames * columns * 8;
  const places = new Float32Array(bytes, at, frames * objects * placeSize);
  return {
    kind,
    ask: view.getUint32(4, true),
    edition: view.getUint32(20, true),
    first: view.getFloat64(24, true),
    stride: view.getFloat64(32, true),
    frames,
    columns,
    objects,
    times,
    values,
    places,
  };
}
