// SPDX-License-Identifier: MIT
// The messages of the server in JSON, and the requests to it (docs/reference/live.md).

export interface Shape {
  kind: "box" | "sphere" | "cylinder" | "cone";
  size: [number, number, number];
  centre?: [number, number, number];
  model?: string; // by which it can be asked for
  colour?: string;
  glow?: boolean;
}

export interface SceneObject {
  name: string;
  parent?: string;
  shape?: Shape;
  tags?: string[];
  moves?: boolean;
  inherit?: ("position" | "rotation" | "scale")[]; // where it is not all three
}

export interface NamedCurve {
  name: string;
  curve: number[];
}

/** Of the messages; a page and a server of different versions do not understand each other. */
export const protocol = 3;

export interface SceneMessage {
  kind: "scene";
  protocol: number;
  name: string;
  file: string | null;
  tick_rate: number;
  area?: [number[], number[]];
  sky?: string;
  water?: number;
  objects: SceneObject[];
  easings: NamedCurve[];
  keys: { key: string; what: string }[];
  axes: string[];
}

export interface Column {
  name: string;
  unit: string;
}

export interface Watch {
  text: string;
  columns: Column[];
}

export interface Changed {
  path: string;
  before: string | null;
  now: string | null;
  preset: string;
}

export interface Diagnostic {
  file: string;
  line: number;
  column: number;
  text: string;
}

export interface State {
  kind: "state";
  playing: boolean;
  playable: number;
  edition: number;
  values: number;
  files: number;
  rate: number | null;
  uneven: number | null;
  pace: number;
  undo: boolean;
  redo: boolean;
  held: string[];
  changed: Changed[];
  watches: Watch[];
  diagnostics: Diagnostic[] | null;
  reading: { file: string; percent: number } | null; // a large file that has changed, while the scene plays on
  lost: string[];
  tries: TryInfo[];
  edits: string[]; // of the structure, not in the file yet, in words
}

/** Values that were kept to be compared. */
export interface TryInfo {
  name: string;
  values: { path: string; now: string | null }[];
}

/** How two plays differ; all lists of two are in the order of `tries`. */
export interface ComparisonMessage {
  kind: "comparison";
  tries: [string, string];
  seconds: number;
  values: { path: string; values: [string | null, string | null] }[];
  objects: { name: string; largest: number; at: number; typical: number; settled: [number | null, number | null] }[];
  only: [string[], string[]]; // objects that one of them alone has
  structure: boolean; // they differ in objects, behaviours or rules
  events: { words: string; times: [number | null, number | null] }[];
}

/** A kind that an object can be given, and the table that the behaviour begins with. */
export interface StartingKind {
  name: string;
  summary: string;
  keys: string;
}

export interface KindsMessage {
  kind: "kinds";
  object: string;
  kinds: StartingKind[];
}

/** A kind of measure: "overshoot(WATCH, of = VALUE)". */
export interface MeasureKind {
  name: string;
  usage: string;
  unit: string;
  help: string;
}

export interface Measured {
  kind: "measured";
  measure: string;
  unit: string;
  value: number | null;
  at: number | null;
}

/** What a search has found: the value, and what is measured with it. `try` holds it where the wish is fulfilled. */
export interface Found {
  kind: "found";
  path: string;
  want: string;
  unit: string;
  before: number | null;
  after: number | null;
  value: number;
  met: boolean;
  plays: number;
  complete: boolean;
  try?: string | null;
  text?: string;
}

export interface RuleInfo {
  name: string;
  enabled: boolean;
  written: { when?: string[]; any?: string[]; unless?: string[]; do?: string[] };
  known: boolean;
  fired: number;
  conditions: boolean[];
  holds: boolean;
}

export interface Mark {
  time: number;
  name: string;
  words: string;
}

export interface Form {
  kind: "boolean" | "number" | "whole" | "word" | "text" | "list" | "table" | "any_of";
  words: string;
  unit?: string;
  low?: number;
  high?: number;
  names?: string[];
  most?: number;
  parts?: Form[];
}

export type Json = null | boolean | number | string | Json[] | { [key: string]: Json };

export interface Field {
  name: string;
  help: string;
  unit: string;
  form: Form;
  required: boolean;
  slider?: [number, number];
  default?: string;
  value?: Json;
  text?: string;
  easing?: boolean;
  own?: boolean;
  entries?: Entries;
}

/** The kinds of tables in a list. `key` holds the name of the kind. */
export interface Entries {
  key: string;
  list: { name: string; help: string; fields: Field[] }[];
}

export interface Behaviour {
  path: string;
  kind: string;
  script: string | null;
  preset: string;
  running: boolean;
  dependencies: string[];
  fields: Field[];
  common: Field[];
}

export interface ObjectMessage {
  kind: "object";
  name: string;
  rest: { position: [number, number, number]; rotation: [number, number, number, number]; scale: [number, number, number] };
  behaviours: Behaviour[];
}

/** What one urge of an agent wants; "wanted" is the resulting velocity. */
export interface UrgeShare {
  urge: string;
  velocity: [number, number, number];
  share: number;
}

/** The text of a script. Its version differs wherever the text does. */
export interface ScriptText {
  kind: "script";
  behaviour: string;
  file: string;
  version: string;
  text: string;
}

export interface Written {
  kind: "written";
  behaviour: string;
  file: string;
  version: string;
}

export interface Plan {
  kind: "plan";
  lines: { path: string; file: string; line: number; before: string; after: string; note: string }[];
  refusals: { path: string; why: string }[];
}

export type Told =
  | SceneMessage
  | State
  | ObjectMessage
  | Plan
  | ScriptText
  | Written
  | KindsMessage
  | ComparisonMessage
  | Measured
  | Found
  | { kind: "finding"; path: string; plays: number; most: number }
  | { kind: "measures"; measures: MeasureKind[] }
  | { kind: "rules"; rules: RuleInfo[] }
  | { kind: "marks"; from: number; marks: Mark[] }
  | { kind: "urges"; name: string; urges: UrgeShare[] }
  | { kind: "kept"; text: string }
  | { kind: "refused"; do: string; text: string };

export type Order = { do: string } & Record<string, unknown>;
