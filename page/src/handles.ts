// SPDX-License-Identifier: MIT
// Which values of an object are places, directions, boxes or distances in the scene: where each is in the world, and the
// text of the value when it is somewhere else.

import * as THREE from "three";

import { quoted, textOfEntries, typedText } from "./fields";
import type { Behaviour, Entries, Field, Json, ObjectMessage } from "./messages";

/** A pose in the world. */
export interface Pose {
  position: THREE.Vector3;
  rotation: THREE.Quaternion;
  scale: THREE.Vector3;
}

export interface Surroundings {
  parent: Pose; // as far as the object inherits it
  world: Pose; // of the object
  poseOf(name: string): Pose | undefined;
}

export interface Handle {
  id: string; // of the value: a path; "position" or "rotation" of the rest pose
  label: string; // "points 2"
  at: THREE.Vector3; // in the world
  /** The numbers of the value, and the value's text with others. */
  numbers: number[];
  textOf(numbers: number[]): string;
  /** The numbers with the handle at another place of the world. */
  numbersAt(at: THREE.Vector3): number[];
  from?: THREE.Vector3; // a line is drawn from here
  ellipse?: { centre: THREE.Vector3; semiaxes: [THREE.Vector3, THREE.Vector3] };
  isAngle?: boolean; // its numbers are degrees, which do not snap to the grid
  isVertical?: boolean; // it is dragged along the vertical, and with Shift on the plane
  /** Of an item of a list of places: what removes it, and what adds another one after it. */
  without?: ValueChange[];
  after?: { at: THREE.Vector3; changes: ValueChange[] };
}

/** New values, by their paths, that go together. */
export interface ValueChange {
  path: string;
  text: string;
}

export interface HandleGroup {
  handles: Handle[];
  line?: THREE.Vector3[]; // through the handles
  box?: THREE.Vector3[]; // the eight corners
}

const axes: Record<string, [number, number, number]> = {
  x: [1, 0, 0], y: [0, 1, 0], z: [0, 0, 1], "-x": [-1, 0, 0], "-y": [0, -1, 0], "-z": [0, 0, -1],
};

export const identity = (): Pose => ({ position: new THREE.Vector3(), rotation: new THREE.Quaternion(), scale: new THREE.Vector3(1, 1, 1) });

const listText = (numbers: readonly number[]): string => `[${numbers.join(", ")}]`;

function numbersIn(value: Json | undefined, count: number): number[] | undefined {
  if (!Array.isArray(value) || value.length !== count) return undefined;
  return value.every((each) => typeof each === "number") ? (value as number[]) : undefined;
}

function toWorld(pose: Pose, [x = 0, y = 0, z = 0]: readonly number[]): THREE.Vector3 {
  return new THREE.Vector3(x, y, z).multiply(pose.scale).applyQuaternion(pose.rotation).add(pose.position);
}

function fromWorld(pose: Pose, at: THREE.Vector3): number[] {
  const local = at.clone().sub(pose.position).applyQuaternion(pose.rotation.clone().invert()).divide(pose.scale);
  return [local.x, local.y, local.z];
}

/** A pose with the rotation of one and the position of another, without scale. */
function axesAt(position: THREE.Vector3, rotation: THREE.Quaternion): Pose {
  return { position, rotation, scale: new THREE.Vector3(1, 1, 1) };
}

function pointHandle(id: string, label: string, space: Pose, numbers: number[], textOf: (numbers: number[]) => string): Handle {
  return { id, label, at: toWorld(space, numbers), numbers, textOf, numbersAt: (at) => fromWorld(space, at) };
}

/** The handle of a place: a point in the parent's space, or an object with an offset. */
function placeHandle(id: string, label: string, value: Json | undefined, around: Surroundings, textOf: (place: string) => string): Handle | undefined {
  const point = numbersIn(value, 3);
  if (point) return pointHandle(id, label, around.parent, point, (numbers) => textOf(listText(numbers)));
  if (value === null || typeof value !== "object" || Array.isArray(value)) return undefined;
  const { object } = value;
  const offset = numbersIn(value.offset, 3);
  const target = typeof object === "string" ? around.poseOf(object) : undefined;
  if (!target || !offset || typeof object !== "string") return undefined;
  const isTurned = value.offset_space === "target";
  const space = axesAt(target.position, isTurned ? target.rotation : new THREE.Quaternion());
  const words = isTurned ? ', offset_space = "target"' : "";
  const handle = pointHandle(id, label, space, offset, (numbers) => textOf(`{ object = ${quoted(object)}, offset = ${listText(numbers)}${words} }`));
  return { ...handle, from: target.position.clone() };
}

/** The text of a place as it is written. */
function placeText(value: Json): string {
  if (typeof value === "string") return quoted(value);
  if (Array.isArray(value)) return `[${value.join(", ")}]`;
  const table = Object.entries(value as Record<string, Json>).map(([key, each]) => `${key} = ${placeText(each)}`);
  return typeof value === "object" ? `{ ${table.join(", ")} }` : String(value);
}

function isListOfPlaces(field: Field): boolean {
  return field.name === "points" && Array.isArray(field.value) && field.value.length > 0;
}

function inserted(list: readonly string[], at: number, item: string): string[] {
  return [...list.slice(0, at), item, ...list.slice(at)];
}

/** Waypoints. What has one item for each of them, such as the pauses, gets and loses items with them. */
function listOfPlaces(behaviour: Behaviour, field: Field, around: Surroundings): HandleGroup {
  const path = `${behaviour.path}.${field.name}`;
  const items = field.value as Json[];
  const written = items.map(placeText);
  const list = (texts: readonly string[]): string => `[${texts.join(", ")}]`;
  const handles = items.flatMap((item, i) => {
    const handle = placeHandle(path, `${field.name} ${i + 1}`, item, around, (text) => list(written.map((each, j) => (j === i ? text : each))));
    return handle ? [{ handle, i }] : [];
  });
  const pauses = fieldValue(behaviour, "pause");
  const withPauses = (points: string[], change: (pauses: string[]) => string[]): ValueChange[] => [
    { path, text: list(points) },
    ...(Array.isArray(pauses) && pauses.length === items.length ? [{ path: `${behaviour.path}.pause`, text: list(change(pauses.map(String))) }] : []),
  ];
  const closes = fieldValue(behaviour, "ends") === "loop";
  handles.forEach(({ handle, i }, order) => {
    if (items.length > 1) handle.without = withPauses(written.filter((_, j) => j !== i), (all) => all.filter((_, j) => j !== i));
    const next = handles[order + 1]?.handle ?? (closes && handles.length > 2 ? handles[0]?.handle : undefined);
    if (!next) return;
    const at = handle.at.clone().add(next.at).multiplyScalar(0.5);
    const between = listText(fromWorld(around.parent, at).map((number) => Number(number.toFixed(2))));
    handle.after = { at, changes: withPauses(inserted(written, i + 1, between), (all) => inserted(all, i + 1, "0")) };
  });
  const all = handles.map(({ handle }) => handle);
  const line = all.map((handle) => handle.at);
  if (closes && line[0]) line.push(line[0]);
  return { handles: all, line };
}

function boxHandles(path: string, field: Field, around: Surroundings): HandleGroup | undefined {
  if (!Array.isArray(field.value) || field.value.length !== 2) return undefined;
  const low = numbersIn(field.value[0], 3);
  const high = numbersIn(field.value[1], 3);
  if (!low || !high || ![...low, ...high].every(Number.isFinite)) return undefined;
  const corners = [0, 1, 2, 3, 4, 5, 6, 7].map((i) =>
    toWorld(around.parent, [0, 1, 2].map((axis) => ((i >> axis) & 1 ? high[axis] : low[axis]) ?? 0)),
  );
  const lowest = pointHandle(path, `${field.name}, lowest corner`, around.parent, low, (numbers) => `[${listText(numbers)}, ${listText(high)}]`);
  const highest = pointHandle(path, `${field.name}, highest corner`, around.parent, high, (numbers) => `[${listText(low)}, ${listText(numbers)}]`);
  return { handles: [lowest, highest], box: corners };
}

/** A vector whose tip is a handle, such as a velocity. */
function vectorHandle(path: string, label: string, numbers: number[], from: THREE.Vector3, rotation: THREE.Quaternion): HandleGroup {
  const space = axesAt(from, rotation);
  return { handles: [{ ...pointHandle(path, label, space, numbers, listText), from: from.clone() }] };
}

const degrees = 180 / Math.PI;

/** Pitch, yaw and roll in degrees: yaw about +Y first, then pitch about the turned +X, then roll about the own +Z. */
export function anglesOf(rotation: THREE.Quaternion): [number, number, number] {
  const axis = (x: number, y: number, z: number): THREE.Vector3 => new THREE.Vector3(x, y, z).applyQuaternion(rotation);
  const forward = axis(0, 0, 1);
  const pitch = Math.asin(Math.max(-1, Math.min(1, -forward.y)));
  return [pitch * degrees, Math.atan2(forward.x, forward.z) * degrees, Math.atan2(axis(1, 0, 0).y, axis(0, 1, 0).y) * degrees];
}

const reach = 2; // m from the object to the handles that turn and scale it

function quaternionOf([pitch, yaw, roll]: readonly [number, number, number]): THREE.Quaternion {
  const about = (x: number, y: number, z: number, angle: number): THREE.Quaternion => new THREE.Quaternion().setFromAxisAngle(new THREE.Vector3(x, y, z), angle / degrees);
  return about(0, 1, 0, yaw).multiply(about(1, 0, 0, pitch)).multiply(about(0, 0, 1, roll));
}

/** Turn a pose by its pitch, yaw and roll: a handle in front of it, for pitch and yaw, and one beside it, for roll. `space`: the axes they are about. */
function turnHandles(id: string, label: string, from: THREE.Vector3, space: THREE.Quaternion, angles: readonly [number, number, number], textOf: (angles: number[]) => string): Handle[] {
  const [pitch, yaw, roll] = angles;
  const turn = quaternionOf(angles);
  const back = space.clone().invert();
  const inSpace = (at: THREE.Vector3): THREE.Vector3 => at.clone().sub(from).applyQuaternion(back);
  const along = (x: number, y: number, z: number): THREE.Vector3 => from.clone().add(new THREE.Vector3(x, y, z).setLength(reach).applyQuaternion(turn).applyQuaternion(space));
  const whole = (radians: number): number => Math.round(radians * degrees) + 0;
  const ahead = along(0, 0, 1);
  const level = quaternionOf([pitch, yaw, 0]).invert();
  return [
    {
      id,
      label: `${label} pitch and yaw`,
      from: from.clone(),
      at: ahead,
      numbers: [pitch, yaw],
      textOf: ([up = 0, now = 0]) => textOf([up, now, roll]),
      numbersAt: (at) => {
        const way = inSpace(at);
        const isLevel = Math.abs(way.y - inSpace(ahead).y) < 1e-9; // dragged on the plane: the pitch stays
        return [isLevel ? pitch : whole(Math.atan2(-way.y, Math.hypot(way.x, way.z))), whole(Math.atan2(way.x, way.z))];
      },
      isAngle: true,
    },
    {
      id,
      label: `${label} roll`,
      from: from.clone(),
      at: along(1, 0, 0),
      isVertical: true,
      numbers: [roll],
      textOf: ([now = 0]) => textOf([pitch, yaw, now]),
      numbersAt: (at) => {
        const way = inSpace(at).applyQuaternion(level);
        return [whole(Math.atan2(way.y, way.x))];
      },
      isAngle: true,
    },
  ];
}

/** The pose in a table `{ position = [x, y, z], rotation = [pitch, yaw, roll] }`; `space`: where both are measured from. */
function poseHandles(path: string, field: Field, space: Pose, here: THREE.Vector3): HandleGroup | undefined {
  const { value } = field;
  if (value === null || value === undefined || typeof value !== "object" || Array.isArray(value)) return undefined;
  const position = numbersIn(value.position, 3);
  const rotation = numbersIn(value.rotation, 3) as [number, number, number] | undefined;
  const textWith = (changes: Record<string, Json>): string => placeText({ ...value, ...changes });
  const handles: Handle[] = [];
  if (position) handles.push({ ...pointHandle(path, `${field.name}, position`, space, position, (numbers) => textWith({ position: numbers })), from: space.position.clone() });
  if (rotation) handles.push(...turnHandles(path, `${field.name},`, position ? toWorld(space, position) : here, space.rotation, rotation, (angles) => textWith({ rotation: angles })));
  return { handles };
}

function fieldValue(behaviour: Behaviour, name: string): Json | undefined {
  return behaviour.fields.find((field) => field.name === name)?.value;
}

/** The radii of an orbit: a handle on its circle, in the direction of the object; or one on each semi-axis of its ellipse. */
function radiusHandles(path: string, behaviour: Behaviour, value: Json, around: Surroundings): HandleGroup | undefined {
  const both = typeof value === "number" ? [value] : numbersIn(value, 2);
  const centreValue = fieldValue(behaviour, "centre");
  const named = typeof centreValue === "string" ? around.poseOf(centreValue)?.position : undefined;
  const centre = named?.clone() ?? placeHandle(path, "", centreValue, around, String)?.at;
  const axisValue = fieldValue(behaviour, "axis");
  const numbers = typeof axisValue === "string" ? axes[axisValue] : numbersIn(axisValue, 3);
  if (!both || !centre || !numbers) return undefined;
  const normal = new THREE.Vector3(...(numbers as [number, number, number])).normalize();
  const axis = normal.clone().applyQuaternion(around.parent.rotation);
  const height = fieldValue(behaviour, "height");
  if (typeof height === "number") centre.addScaledVector(axis, height);
  const flat = (at: THREE.Vector3): THREE.Vector3 => at.clone().sub(centre).projectOnPlane(axis);
  const scale = Math.abs(around.parent.scale.x) || 1;
  // As the reference says of orbit: the first semi-axis is +X in the plane, or +Z where the axis is along X.
  const second = new THREE.Vector3(1, 0, 0);
  if (second.projectOnPlane(normal).lengthSq() < 1e-12) second.set(0, 0, 1);
  second.cross(normal).normalize().multiplyScalar(-1);
  const first = second.clone().cross(normal);
  const ways = [first, second].map((way) => way.applyQuaternion(around.parent.rotation)) as [THREE.Vector3, THREE.Vector3];
  const semiaxes = ways.map((way, i) => way.clone().multiplyScalar((both[i] ?? both[0] ?? 0) * scale)) as [THREE.Vector3, THREE.Vector3];
  const handle = (label: string, way: THREE.Vector3, i: number, numbersAt: (at: THREE.Vector3) => number[], textOf: (values: number[]) => string): Handle => ({
    id: path,
    label,
    at: centre.clone().addScaledVector(way, (both[i] ?? 0) * scale),
    from: centre.clone(),
    ellipse: i === 0 ? { centre: centre.clone(), semiaxes } : undefined,
    numbers: [both[i] ?? 0],
    textOf,
    numbersAt,
  });
  if (both.length === 2)
    return {
      handles: ways.map((way, i) =>
        handle(i === 0 ? "first radius" : "second radius", way, i, (at) => [Math.abs(flat(at).dot(way)) / scale], ([now = 0]) => listText(both.map((each, j) => (j === i ? now : each)))),
      ),
    };
  const out = flat(around.world.position);
  if (out.length() < 1e-6) out.copy(new THREE.Vector3(1, 0, 0).projectOnPlane(axis));
  return { handles: [handle("radius", out.normalize(), 0, (at) => [flat(at).length() / scale], ([now = 0]) => String(now))] };
}

function groupOf(behaviour: Behaviour, field: Field, rest: number[], around: Surroundings): HandleGroup | undefined {
  const path = `${behaviour.path}.${field.name}`;
  const { parent, world } = around;
  if (isListOfPlaces(field)) return listOfPlaces(behaviour, field, around);
  const three = numbersIn(field.value, 3);
  switch (field.name) {
    case "radius":
      return field.value === null || field.value === undefined ? undefined : radiusHandles(path, behaviour, field.value, around);
    case "velocity": {
      const space = fieldValue(behaviour, "space");
      const rotation = space === "world" ? new THREE.Quaternion() : space === "own" ? world.rotation : parent.rotation;
      return three && vectorHandle(path, "velocity", three, world.position, rotation);
    }
    case "amplitude":
      return fieldValue(behaviour, "channel") === "position" && three ? vectorHandle(path, "amplitude", three, toWorld(parent, rest), parent.rotation) : undefined;
    case "axis": {
      const axis = typeof field.value === "string" ? axes[field.value] : three;
      return axis && vectorHandle(path, "axis", axis.map((each) => each * 2), world.position, parent.rotation);
    }
    case "offset": {
      const target = fieldValue(behaviour, "target");
      const pose = typeof target === "string" ? around.poseOf(target) : undefined;
      const rotation = fieldValue(behaviour, "offset_space") === "target" ? pose?.rotation : new THREE.Quaternion();
      return three && pose && rotation ? vectorHandle(path, "offset", three, pose.position, rotation) : undefined;
    }
    case "to":
    case "from":
      if (field.value !== null && typeof field.value === "object" && !Array.isArray(field.value)) return poseHandles(path, field, parent, world.position);
      break;
    case "by":
      return poseHandles(path, field, axesAt(toWorld(parent, rest), parent.rotation), world.position);
  }
  const box = boxHandles(path, field, around);
  if (box) return box;
  if (field.unit !== "m") return undefined;
  const place = placeHandle(path, field.name, field.value, around, String);
  return place && { handles: [place] };
}

/** The handles of a list of tables, such as the urges of an agent. A change writes the whole list. */
function groupsOfEntries(behaviour: Behaviour, field: Field, entries: Entries, rest: number[], around: Surroundings): HandleGroup[] {
  const path = `${behaviour.path}.${field.name}`;
  return entries.list.flatMap((entry, i) =>
    entry.fields.flatMap((own, j) => {
      const group = groupOf({ ...behaviour, path, fields: entry.fields }, own, rest, around);
      const withText = (text: string): string => {
        const fields = entry.fields.map((each, k) => (k === j ? { ...each, text: typedText(each, text) } : each));
        return textOfEntries({ ...entries, list: entries.list.map((each, k) => (k === i ? { ...each, fields } : each)) });
      };
      const renamed = (group?.handles ?? []).map((handle) => ({
        ...handle,
        id: path,
        label: `${entry.name} ${handle.label}`,
        textOf: (numbers: number[]) => withText(handle.textOf(numbers)),
        without: handle.without?.[0] && [{ path, text: withText(handle.without[0].text) }],
        after: handle.after?.changes[0] && { at: handle.after.at, changes: [{ path, text: withText(handle.after.changes[0].text) }] },
      }));
      return group ? [{ ...group, handles: renamed }] : [];
    }),
  );
}

/** The handles that turn and scale the rest pose. */
function restHandles({ position, rotation, scale }: ObjectMessage["rest"], around: Surroundings): Handle[] {
  const turn = new THREE.Quaternion(...rotation);
  const angles = anglesOf(turn).map((each) => Number(each.toFixed(3)) + 0) as [number, number, number];
  const from = toWorld(around.parent, position);
  const aside = new THREE.Vector3(-reach, 0, 0).applyQuaternion(turn).applyQuaternion(around.parent.rotation);
  return [
    ...turnHandles("rotation", "rest", from, around.parent.rotation, angles, listText),
    {
      id: "scale",
      label: "rest scale",
      from,
      at: from.clone().add(aside),
      numbers: scale,
      textOf: listText,
      numbersAt: (at) => scale.map((each) => (each * at.distanceTo(from)) / reach),
    },
  ];
}

/** All handles of an object, those of its rest pose first. */
export function handlesOf(object: ObjectMessage, around: Surroundings): HandleGroup[] {
  const { position } = object.rest;
  const rest = pointHandle("position", "rest position", around.parent, position, listText);
  const groups: HandleGroup[] = [{ handles: [rest, ...restHandles(object.rest, around)] }];
  for (const behaviour of object.behaviours)
    for (const field of behaviour.fields) {
      if (field.entries) groups.push(...groupsOfEntries(behaviour, field, field.entries, position, around));
      const group = field.entries ? undefined : groupOf(behaviour, field, position, around);
      if (group && group.handles.length > 0) groups.push(group);
    }
  return groups;
}
