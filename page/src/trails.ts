// SPDX-License-Identifier: MIT
// The paths of the selected objects in space: lines with marks at equal times, poses at intervals, and arrows that show
// the velocity there.

import * as THREE from "three";

import { geometryOf, type Bodies } from "./bodies";
import { lowerBound, type Path } from "./history";
import { placeSize, poseSize, type Frame } from "./wire";

export interface Trail {
  object: number;
  color: string;
  past: Path;
  ahead?: Path;
  before?: Path; // from before the last change
}

/** A moment of a path. */
export interface PathMoment {
  object: number;
  time: number;
  isAhead: boolean; // it has not been played
  speed: number; // m/s
  at: THREE.Vector3;
}

const intervals = [0.05, 0.1, 0.25, 0.5, 1, 2, 5, 10, 30, 60]; // s
const mostMarks = 80;
const mostPoses = 8;

/** The least round interval that leaves at most so many marks. */
export function intervalOf(seconds: number): number {
  return intervals.find((each) => seconds / each <= mostMarks) ?? seconds / mostMarks;
}

/** The rows of a path at the multiples of an interval, so that they do not move while the scene plays. */
export function rowsAt(path: Path, interval: number): number[] {
  const rows: number[] = [];
  const last = path.times.at(-1) ?? -1;
  for (let k = Math.ceil((path.times[0] ?? 0) / interval - 1e-9); k * interval <= last + 1e-9; ++k) {
    const row = Math.min(lowerBound(path.times, k * interval - 1e-9), path.times.length - 1);
    if (row !== rows.at(-1)) rows.push(row);
  }
  return rows;
}

function placeOf(path: Path, row: number): THREE.Vector3 {
  return new THREE.Vector3().fromArray(path.places, row * placeSize);
}

/** m/s, from the rows around one. */
export function velocityAt(path: Path, row: number): THREE.Vector3 {
  const from = Math.max(row - 1, 0);
  const to = Math.min(row + 1, path.times.length - 1);
  const seconds = (path.times[to] ?? 0) - (path.times[from] ?? 0);
  return seconds > 0 ? placeOf(path, to).sub(placeOf(path, from)).divideScalar(seconds) : new THREE.Vector3();
}

export class Trails {
  private readonly group = new THREE.Group(); // created anew when the paths change
  private readonly materials = new Map<string, THREE.Material>();
  private trails: readonly Trail[] = [];

  constructor(
    space: THREE.Scene,
    private readonly bodies: Bodies,
  ) {
    space.add(this.group);
  }

  show(trails: readonly Trail[], ghostColor: string, frame: Frame | undefined): void {
    this.trails = trails;
    this.clear();
    trails.forEach((trail, i) => {
      const { object, color, past, ahead, before } = trail;
      if (before) this.addLine(before, ghostColor, "dashed");
      this.addLine(past, color, "full");
      if (ahead) this.addLine(ahead, color, "thin");
      const seconds = Math.max(...[past, ahead].map((path) => (path?.times.at(-1) ?? 0) - (path?.times[0] ?? 0)));
      const interval = intervalOf(seconds);
      for (const path of [past, ahead]) if (path) this.addMarks(path, color, interval);
      if (!frame) return;
      if (before) this.addPoses(object, before, ghostColor, 0.18, frame);
      this.addPoses(object, past, color, 0.3, frame);
      if (ahead) this.addPoses(object, ahead, color, 0.16, frame);
      if (i === 0) this.addVelocities(past, color, this.bodies.sizeOf(object).length());
    });
  }

  private clear(): void {
    for (const each of [...this.group.children]) {
      this.group.remove(each);
      if (each instanceof THREE.Line || each instanceof THREE.Points) each.geometry.dispose(); // those of poses are shared
      if (each instanceof THREE.InstancedMesh || each instanceof THREE.ArrowHelper) each.dispose();
    }
  }

  /** Created once: each new material is compiled. */
  private material(name: string, make: () => THREE.Material): THREE.Material {
    const known = this.materials.get(name) ?? make();
    this.materials.set(name, known);
    return known;
  }

  private addLine(path: Path, color: string, stroke: "full" | "thin" | "dashed"): void {
    if (path.times.length < 2) return;
    const points = path.times.map((_, i) => placeOf(path, i));
    const [dashSize, gapSize] = stroke === "dashed" ? [0.7, 0.4] : [0.25, 0.25];
    const material = this.material(`${stroke} ${color}`, () =>
      stroke === "full" ? new THREE.LineBasicMaterial({ color }) : new THREE.LineDashedMaterial({ color, dashSize, gapSize }),
    );
    const line = new THREE.Line(new THREE.BufferGeometry().setFromPoints(points), material);
    if (stroke !== "full") line.computeLineDistances();
    this.group.add(line);
  }

  /** Dots at equal times: close together where the object is slow. */
  private addMarks(path: Path, color: string, interval: number): void {
    const rows = rowsAt(path, interval);
    if (rows.length === 0) return;
    const points = new THREE.Points(
      new THREE.BufferGeometry().setFromPoints(rows.map((row) => placeOf(path, row))),
      this.material(`mark ${color}`, () => new THREE.PointsMaterial({ color, size: 5, sizeAttenuation: false })),
    );
    points.frustumCulled = false;
    this.group.add(points);
  }

  private addPoses(object: number, path: Path, color: string, opacity: number, frame: Frame): void {
    const count = Math.min(mostPoses, path.times.length);
    if (count < 1) return;
    const seconds = (path.times.at(-1) ?? 0) - (path.times[0] ?? 0);
    const rows = rowsAt(path, Math.max(seconds / count, 1e-6)).slice(0, count);
    const material = this.material(`pose ${color} ${opacity}`, () => new THREE.MeshBasicMaterial({ color, transparent: true, opacity, depthWrite: false }));
    const mesh = new THREE.InstancedMesh(geometryOf(this.bodies.kindOf(object)), material, count);
    const scale = new THREE.Vector3().fromArray(frame.poses, object * poseSize + 7).multiply(this.bodies.stretchOf(object));
    const rotation = new THREE.Quaternion();
    rows.forEach((row, slot) => {
      rotation.fromArray(path.places, row * placeSize + 3);
      mesh.setMatrixAt(slot, new THREE.Matrix4().compose(placeOf(path, row), rotation, scale));
    });
    mesh.count = rows.length;
    mesh.frustumCulled = false;
    this.group.add(mesh);
  }

  /** Arrows as long as the way of half a second. */
  private addVelocities(path: Path, color: string, size: number): void {
    const seconds = (path.times.at(-1) ?? 0) - (path.times[0] ?? 0);
    for (const row of rowsAt(path, Math.max(seconds / mostPoses, 1e-6))) {
      const velocity = velocityAt(path, row);
      const length = velocity.length() * 0.5;
      if (length < 0.05) continue;
      const head = Math.min(length * 0.35, size * 0.4, 0.9);
      this.group.add(new THREE.ArrowHelper(velocity.normalize(), placeOf(path, row), length, color, head, head * 0.45));
    }
  }

  /** The moment of a path that is nearest to a point of the screen, within so many pixels. `project` gives pixels. */
  nearest(x: number, y: number, within: number, project: (at: THREE.Vector3) => { x: number; y: number } | undefined): PathMoment | undefined {
    let least = within;
    let nearest: PathMoment | undefined;
    for (const { object, past, ahead } of this.trails)
      for (const path of [past, ahead]) {
        if (!path) continue;
        for (let row = 0; row < path.times.length; ++row) {
          const at = placeOf(path, row);
          const place = project(at.clone());
          const away = place ? Math.hypot(place.x - x, place.y - y) : Infinity;
          if (away >= least) continue;
          least = away;
          nearest = { object, time: path.times[row] ?? 0, isAhead: path === ahead, speed: velocityAt(path, row).length(), at };
        }
      }
    return nearest;
  }
}
