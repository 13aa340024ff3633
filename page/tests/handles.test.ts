// SPDX-License-Identifier: MIT
import * as THREE from "three";
import { describe, expect, test } from "vitest";

import { freeName, keysOf, tagsText } from "../src/edits";
import { draggedTo, snapped } from "../src/grips";
import { anglesOf, handlesOf, identity, type Handle, type Pose } from "../src/handles";
import type { Behaviour, Field, Json } from "../src/messages";

const quarter = new THREE.Quaternion().setFromAxisAngle(new THREE.Vector3(0, 1, 0), Math.PI / 2); // +Z to +X

function pose(x: number, y: number, z: number, rotation = new THREE.Quaternion()): Pose {
  return { position: new THREE.Vector3(x, y, z), rotation, scale: new THREE.Vector3(1, 1, 1) };
}

function field(name: string, value: Json, unit = "m"): Field {
  return { name, value, unit, help: "", form: { kind: "any_of", words: "" }, required: false };
}

function behaviour(path: string, ...fields: Field[]): Behaviour {
  return { path, kind: path.split(".")[1] ?? "", script: null, preset: "", running: true, dependencies: [], fields, common: [] };
}

function handles(behaviours: Behaviour[], parent = identity(), world = pose(0, 0, 0)): Handle[] {
  const poseOf = (name: string): Pose | undefined => (name === "mast" ? pose(10, 2, 0, quarter) : undefined);
  const object = { kind: "object" as const, name: "gig", rest: { position: [1, 0, 2] as [number, number, number], rotation: [0, 0, 0, 1] as [number, number, number, number], scale: [1, 1, 1] as [number, number, number] }, behaviours };
  return handlesOf(object, { parent, world, poseOf })
    .flatMap((group) => group.handles)
    .filter(({ label }) => !label.startsWith("rest ") || label === "rest position");
}

const numbers = (at: THREE.Vector3): number[] => [at.x, at.y, at.z].map((each) => Number(each.toFixed(9)) + 0);

describe("handles", () => {
  test("are where the parent's space says, and go back to its numbers", () => {
    const [rest] = handles([], pose(5, 0, 0, quarter));
    expect(numbers(rest?.at as THREE.Vector3)).toEqual([7, 0, -1]); // (1, 0, 2) turned by a quarter: (2, 0, -1)
    expect(rest?.numbersAt(new THREE.Vector3(5, 1, -3)).map((each) => snapped(each, 0))).toEqual([3, 1, 0]);
  });
  test("of offsets are measured from their object, along its axes where it says so", () => {
    const offset = { object: "mast", offset: [0, 1, 2] };
    const [, world] = handles([behaviour("gig.orbit", field("centre", offset))]);
    expect(numbers(world?.at as THREE.Vector3)).toEqual([10, 3, 2]);
    expect(world?.textOf([1, 2, 3])).toBe('{ object = "mast", offset = [1, 2, 3] }');
    const [, turned] = handles([behaviour("gig.orbit", field("centre", { ...offset, offset_space: "target" }))]);
    expect(numbers(turned?.at as THREE.Vector3)).toEqual([12, 3, 0]);
    expect(turned?.textOf([0, 0, 0])).toBe('{ object = "mast", offset = [0, 0, 0], offset_space = "target" }');
  });
  test("of waypoints change one, add one between, and remove one; others stay as they are written", () => {
    const points = [[0, 0, 0], "mast", [4, 0, 0], { object: "mast", offset: [0, 1, 0] }];
    const [, first, second, third] = handles([behaviour("gig.route", field("points", points))]);
    expect(second?.textOf([4, 0, 1])).toBe('[[0, 0, 0], "mast", [4, 0, 1], { object = "mast", offset = [0, 1, 0] }]');
    expect(first?.without).toEqual([{ path: "gig.route.points", text: '["mast", [4, 0, 0], { object = "mast", offset = [0, 1, 0] }]' }]);
    const after = { path: "gig.route.points", text: '[[0, 0, 0], "mast", [4, 0, 0], [7, 1.5, 0], { object = "mast", offset = [0, 1, 0] }]' };
    expect(second?.after?.changes).toEqual([after]);
    expect(third?.after).toBeUndefined();
  });
  test("of waypoints keep a pause for each", () => {
    const route = behaviour("gig.route", field("points", [[0, 0, 0], [2, 0, 0], [2, 0, 2]]), field("pause", [1, 2, 3], "s"), field("ends", "loop", ""));
    const [, , second, third] = handles([route]);
    expect(second?.without?.[1]).toEqual({ path: "gig.route.pause", text: "[1, 3]" });
    expect(third?.after?.changes.map(({ text }) => text)).toEqual(["[[0, 0, 0], [2, 0, 0], [2, 0, 2], [1, 0, 1]]", "[1, 2, 3, 0]"]);
  });
  test("of a radius lie on the circle of the orbit, in the direction of the object", () => {
    const orbit = behaviour("gig.orbit", field("centre", [1, 2, 3]), field("axis", "y"), field("radius", 4));
    const [, , , radius] = handles([orbit], identity(), pose(1, 7, 9));
    expect(numbers(radius?.at as THREE.Vector3)).toEqual([1, 2, 7]);
    expect(radius?.numbersAt(new THREE.Vector3(4, 9, 7))).toEqual([5]);
  });
  test("of two radii lie on the semi-axes of the ellipse, and keep the other", () => {
    // About +Z, the first semi-axis is +X and the second +Y; the parent turns +X to -Z.
    const orbit = behaviour("gig.orbit", field("centre", [0, 0, 1]), field("axis", "z"), field("radius", [4, 2]));
    const [, , , first, second] = handles([orbit], pose(0, 0, 0, quarter), pose(1, 7, 9));
    expect(numbers(first?.at as THREE.Vector3)).toEqual([1, 0, -4]);
    expect(numbers(second?.at as THREE.Vector3)).toEqual([1, 2, 0]);
    expect(first?.numbersAt(new THREE.Vector3(1, 9, -5)).map((each) => snapped(each, 0))).toEqual([5]);
    expect(first?.textOf([5])).toBe("[5, 2]");
    expect(second?.textOf([3])).toBe("[4, 3]");
    // Along X, the first is +Z: of `cos t first + sin t second`, a quarter of a revolution about X later comes -Y.
    const upright = behaviour("gig.orbit", field("centre", [0, 0, 0]), field("axis", "x"), field("radius", [4, 2]));
    const [, , , along, across] = handles([upright]);
    expect(numbers(along?.at as THREE.Vector3)).toEqual([0, 0, 4]);
    expect(numbers(across?.at as THREE.Vector3)).toEqual([0, -2, 0]);
  });
  test("of boxes keep the other corner; without an end there is no box", () => {
    const [, , high] = handles([behaviour("gig.roam", field("box", [[0, 0, 0], [1, 2, 3]]))]);
    expect(high?.textOf([4, 5, 6])).toBe("[[0, 0, 0], [4, 5, 6]]");
    expect(handles([behaviour("gig.travel", field("between", [[0, 0, 0], [1, "inf", 3]]))])).toHaveLength(1);
  });
});

describe("the rotation and scale of a rest pose", () => {
  test("are turned where the object faces, in the parent's space, each angle by itself", () => {
    const turn = (x: number, y: number, z: number, angle: number): THREE.Quaternion =>
      new THREE.Quaternion().setFromAxisAngle(new THREE.Vector3(x, y, z), (angle * Math.PI) / 180);
    const rotation = turn(0, 1, 0, 50).multiply(turn(1, 0, 0, 20)).multiply(turn(0, 0, 1, -30));
    expect(anglesOf(rotation).map((each) => Number(each.toFixed(6)))).toEqual([20, 50, -30]);
    const rest = { position: [0, 0, 0] as [number, number, number], rotation: [rotation.x, rotation.y, rotation.z, rotation.w] as [number, number, number, number], scale: [1, 2, 3] as [number, number, number] };
    const object = { kind: "object" as const, name: "gig", rest, behaviours: [] };
    const around = { parent: pose(1, 0, 0, quarter), world: pose(0, 0, 0), poseOf: () => undefined };
    const [, way, roll, scale] = handlesOf(object, around)[0]?.handles ?? [];
    if (!way || !roll || !scale) throw new Error("there are too few handles");
    expect(way.textOf([20, 90])).toBe("[20, 90, -30]");
    expect(way.numbersAt(way.at)).toEqual([20, 50]);
    const from = way.from as THREE.Vector3;
    expect(way.numbersAt(new THREE.Vector3(from.x, way.at.y, from.z - 3))).toEqual([20, 90]); // on the plane: yaw, to the parent's +X
    expect(way.numbersAt(new THREE.Vector3(way.at.x, from.y, way.at.z))).toEqual([0, 50]); // along the vertical: pitch
    expect(roll.numbersAt(roll.at)).toEqual([-30]);
    expect(roll.textOf([15])).toBe("[20, 50, 15]");
    // Beside the object and level, without pitch and roll: turned by its yaw in the parent's space.
    const beside = new THREE.Vector3(1, 0, 0).applyQuaternion(turn(0, 1, 0, 50)).applyQuaternion(quarter).add(from);
    expect(roll.numbersAt(beside)).toEqual([0]);
    expect(scale.numbersAt(scale.at).map((each) => snapped(each, 0))).toEqual([1, 2, 3]);
    expect(scale.numbersAt(from.clone().add(new THREE.Vector3(0, 0, 4))).map((each) => snapped(each, 0))).toEqual([2, 4, 6]);
    expect(scale.textOf([2, 4, 6])).toBe("[2, 4, 6]");
  });
});

describe("the pose of a table", () => {
  test("is moved and turned where it is, and keeps its other keys", () => {
    const glide = behaviour("gig.glide", field("to", { position: [1, 0, 0], rotation: [0, 90, 0], scale: [2, 2, 2] }, ""));
    const [, position, way, roll] = handles([glide], pose(0, 0, 0, quarter));
    expect(position?.textOf([3, 0, 0])).toBe("{ position = [3, 0, 0], rotation = [0, 90, 0], scale = [2, 2, 2] }");
    expect(numbers(way?.at as THREE.Vector3)).toEqual([0, 0, -3]); // from (0, 0, -1), along the parent's +X
    expect(way?.numbersAt(new THREE.Vector3(2, 0, -1))).toEqual([0, 0]); // the parent's +Z
    expect(way?.textOf([10, 20])).toBe("{ position = [1, 0, 0], rotation = [10, 20, 0], scale = [2, 2, 2] }");
    expect(roll?.label).toBe("to, roll");
  });
});

describe("handles of urges", () => {
  test("write the whole list, with the names of the urges", () => {
    const target = { ...field("target", [4, 0, 0]), text: "[4, 0, 0]", required: true };
    const urges: Field = { ...field("urges", null, ""), entries: { key: "urge", list: [{ name: "wander", help: "", fields: [] }, { name: "seek", help: "", fields: [target] }] } };
    const [, seek] = handles([behaviour("gig.steer", urges)]);
    expect(seek?.label).toBe("seek target");
    expect(seek?.id).toBe("gig.steer.urges");
    expect(seek?.textOf([5, 0, 1])).toBe('[{ urge = "wander" }, { urge = "seek", target = [5, 0, 1] }]');
  });
});

describe("dragging", () => {
  const ray = (x: number, y: number, z: number, to: THREE.Vector3): THREE.Ray =>
    new THREE.Ray(new THREE.Vector3(x, y, z), to.clone().sub(new THREE.Vector3(x, y, z)).normalize());
  test("stays on the horizontal plane of the handle, and with Shift on its vertical", () => {
    const start = new THREE.Vector3(0, 1, 0);
    const from = ray(0, 11, 10, start);
    expect(numbers(draggedTo(start, from, ray(0, 11, 10, new THREE.Vector3(3, 1, -2)), false))).toEqual([3, 1, -2]);
    expect(numbers(draggedTo(start, from, ray(0, 11, 10, new THREE.Vector3(5, 4, 0)), true))).toEqual([0, 4, 0]);
  });
  test("does not go to infinity at the horizon", () => {
    const start = new THREE.Vector3(0, 0, 0);
    const far = draggedTo(start, ray(0, 10, 10, start), ray(0, 10, 10, new THREE.Vector3(0, 9.999, -1000)), false);
    expect(far.length()).toBeLessThan(300);
  });
});

describe("new names", () => {
  test("are the first that are free", () => {
    expect(freeName("buoy", ["lamp"])).toBe("buoy");
    expect(freeName("buoy", ["buoy", "buoy-2"])).toBe("buoy-3");
    expect(freeName("buoy-2", ["buoy", "buoy-2"])).toBe("buoy-3");
  });
  test("of behaviours differ from those in the stack", () => {
    const kind = { name: "spin", keys: '{ kind = "spin", speed = 45 }' };
    expect(keysOf(kind, [])).toBe(kind.keys);
    expect(keysOf(kind, [behaviour("lamp.spin")])).toBe('{ kind = "spin", speed = 45, name = "spin-2" }');
  });
  test("and tags are lists of words", () => {
    expect(tagsText(" boat, afloat ")).toBe('["boat", "afloat"]');
    expect(tagsText(" ")).toBeNull();
  });
});
