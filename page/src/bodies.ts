// SPDX-License-Identifier: MIT
// The shapes of the objects, drawn as instances: one mesh for each kind of shape and way of drawing it.

import * as THREE from "three";

import type { SceneObject, Shape } from "./messages";
import type { ShownModel } from "./models";
import { poseSize, type Frame } from "./wire";

/** A kind of shape, or "model:" and the name of a model. */
type Kind = Shape["kind"] | "marker" | `model:${string}`;

export interface BodyColours {
  body: string; // of a moving object without a colour of its own
  still: string;
  chosen: string;
  sky: string;
}

/** How an object is drawn. Hidden objects are drawn faintly, by a mesh of their own. */
interface Placed {
  kind: Kind;
  glows: boolean;
  slot: number; // index among the instances of its mesh
  size: THREE.Vector3; // of the shape, m
  stretch: THREE.Vector3; // of its mesh
  centre: THREE.Vector3;
  colour?: string;
  moves: boolean;
}

const geometries = new Map<Kind, THREE.BufferGeometry>();
const models = new Map<Kind, ShownModel>();

export function geometryOf(kind: Kind): THREE.BufferGeometry {
  const known = geometries.get(kind);
  if (known) return known;
  const made = (basic[kind as keyof typeof basic] ?? basic.box)();
  geometries.set(kind, made);
  return made;
}

const basic = {
  box: () => new THREE.BoxGeometry(1, 1, 1),
  sphere: () => new THREE.SphereGeometry(0.5, 24, 12),
  cylinder: () => new THREE.CylinderGeometry(0.5, 0.5, 1, 24),
  cone: () => new THREE.ConeGeometry(0.5, 1, 24),
  marker: () => new THREE.OctahedronGeometry(0.5),
};

/** A soft round light, for the halo of what glows. */
function haloPicture(): THREE.Texture {
  const canvas = document.createElement("canvas");
  canvas.width = canvas.height = 64;
  const context = canvas.getContext("2d");
  if (context) {
    const light = context.createRadialGradient(32, 32, 0, 32, 32, 32);
    light.addColorStop(0, "rgba(255, 255, 255, 0.9)");
    light.addColorStop(0.25, "rgba(255, 255, 255, 0.35)");
    light.addColorStop(1, "rgba(255, 255, 255, 0)");
    context.fillStyle = light;
    context.fillRect(0, 0, 64, 64);
  }
  return new THREE.CanvasTexture(canvas);
}

export class Bodies {
  private placed: Placed[] = [];
  private meshes = new Map<string, { shown: THREE.InstancedMesh; faint: THREE.InstancedMesh }>();
  private unknown = new Set<string>();
  private halos?: THREE.Points;
  private glowing: number[] = []; // the numbers of the objects that glow
  private hasFaint = true; // objects are drawn faintly, or were in the last frame

  constructor(private readonly space: THREE.Scene) {}

  get count(): number {
    return this.placed.length;
  }
  /** Adds a model, which is drawn from the next `setObjects` on. */
  addModel(name: string, model: ShownModel): void {
    geometries.set(`model:${name}`, model.geometry);
    models.set(`model:${name}`, model);
  }
  /** The models of the scene that are not known yet. */
  get missing(): string[] {
    return [...this.unknown];
  }
  stretchOf(object: number): THREE.Vector3 {
    return this.placed[object]?.stretch ?? new THREE.Vector3(1, 1, 1);
  }
  kindOf(object: number): Kind {
    return this.placed[object]?.kind ?? "marker";
  }
  sizeOf(object: number): THREE.Vector3 {
    return this.placed[object]?.size ?? new THREE.Vector3(1, 1, 1);
  }

  setObjects(objects: readonly SceneObject[]): void {
    this.clear();
    const counts = new Map<string, number>();
    this.unknown.clear();
    this.placed = objects.map((object) => {
      const { model } = object.shape ?? {};
      const isKnown = model !== undefined && geometries.has(`model:${model}`);
      if (model !== undefined && !isKnown) this.unknown.add(model);
      const kind: Kind = isKnown ? `model:${model}` : (object.shape?.kind ?? "marker");
      const glows = object.shape?.glow === true;
      const key = this.keyOf(kind, glows);
      const slot = counts.get(key) ?? 0;
      counts.set(key, slot + 1);
      const size = new THREE.Vector3(...(object.shape?.size ?? [0.4, 0.4, 0.4]));
      const stretch = isKnown ? new THREE.Vector3(1, 1, 1) : size;
      const centre = new THREE.Vector3(...((!isKnown && object.shape?.centre) || [0, 0, 0]));
      return { kind, glows, slot, size, stretch, centre, colour: isKnown ? "#ffffff" : object.shape?.colour, moves: object.moves === true || object.parent !== undefined };
    });
    for (const [key, count] of counts) {
      const [kind, how] = key.split(" ") as [Kind, string];
      const material = how === "glows" ? new THREE.MeshBasicMaterial({ color: 0xffffff }) : (models.get(kind)?.materials ?? new THREE.MeshLambertMaterial({ color: 0xffffff }));
      const faint = new THREE.MeshBasicMaterial({ color: 0xffffff, transparent: true, opacity: 0.14, depthWrite: false });
      const pair = { shown: new THREE.InstancedMesh(geometryOf(kind), material, count), faint: new THREE.InstancedMesh(geometryOf(kind), faint, count) };
      for (const mesh of Object.values(pair)) {
        mesh.frustumCulled = false;
        this.space.add(mesh);
      }
      this.meshes.set(key, pair);
    }
    this.glowing = this.placed.flatMap((placed, object) => (placed.glows ? [object] : []));
    this.addHalos();
  }

  private keyOf(kind: Kind, glows: boolean): string {
    return `${kind} ${glows ? "glows" : "plain"}`;
  }

  private meshOf(placed: Placed): { shown: THREE.InstancedMesh; faint: THREE.InstancedMesh } | undefined {
    return this.meshes.get(this.keyOf(placed.kind, placed.glows));
  }

  private clear(): void {
    for (const pair of this.meshes.values())
      for (const mesh of Object.values(pair)) {
        this.space.remove(mesh);
        mesh.dispose();
      }
    this.meshes.clear();
    if (!this.halos) return;
    this.space.remove(this.halos);
    this.halos.geometry.dispose();
    this.halos = undefined;
  }

  private addHalos(): void {
    if (this.glowing.length === 0) return;
    const geometry = new THREE.BufferGeometry();
    geometry.setAttribute("position", new THREE.BufferAttribute(new Float32Array(3 * this.glowing.length), 3));
    const colours = new Float32Array(3 * this.glowing.length);
    this.glowing.forEach((object, i) => new THREE.Color(this.placed[object]?.colour ?? "#ffd9a0").toArray(colours, 3 * i));
    geometry.setAttribute("color", new THREE.BufferAttribute(colours, 3));
    const material = new THREE.PointsMaterial({ size: 5, map: haloPicture(), vertexColors: true, transparent: true, depthWrite: false, blending: THREE.AdditiveBlending });
    this.halos = new THREE.Points(geometry, material);
    this.halos.frustumCulled = false;
    this.space.add(this.halos);
  }

  setFrame(frame: Frame): void {
    const matrix = new THREE.Matrix4();
    const nowhere = new THREE.Matrix4().makeScale(0, 0, 0);
    const position = new THREE.Vector3();
    const rotation = new THREE.Quaternion();
    const scale = new THREE.Vector3();
    const arm = new THREE.Vector3();
    const hasFaint = frame.hidden.some((hidden) => hidden !== 0);
    const movesFaint = hasFaint || this.hasFaint;
    this.placed.forEach((placed, object) => {
      const at = object * poseSize;
      position.fromArray(frame.poses, at);
      rotation.fromArray(frame.poses, at + 3);
      scale.fromArray(frame.poses, at + 7);
      position.add(arm.copy(placed.centre).multiply(scale).applyQuaternion(rotation));
      scale.multiply(placed.stretch);
      matrix.compose(position, rotation, scale);
      const mesh = this.meshOf(placed);
      const isHidden = frame.hidden[object] !== 0;
      mesh?.shown.setMatrixAt(placed.slot, isHidden ? nowhere : matrix);
      if (movesFaint) mesh?.faint.setMatrixAt(placed.slot, isHidden ? matrix : nowhere);
    });
    this.hasFaint = hasFaint;
    for (const { shown, faint } of this.meshes.values()) {
      shown.instanceMatrix.needsUpdate = true;
      shown.boundingSphere = null; // is computed again for the next pick
      if (movesFaint) faint.instanceMatrix.needsUpdate = true;
      faint.visible = hasFaint;
    }
    const places = this.halos?.geometry.getAttribute("position");
    if (!places) return;
    this.glowing.forEach((object, i) => {
      const at = object * poseSize;
      const [x, y, z] = [0, 1, 2].map((axis) => frame.poses[at + axis] ?? 0) as [number, number, number];
      places.setXYZ(i, x, frame.hidden[object] ? -1e6 : y, z);
    });
    places.needsUpdate = true;
  }

  /** Still objects are muted towards the sky; the selected ones have a colour of their own. */
  paint(colours: BodyColours, chosen: readonly number[]): void {
    const sky = new THREE.Color(colours.sky);
    this.placed.forEach((placed, object) => {
      const colour = new THREE.Color(chosen.includes(object) ? colours.chosen : (placed.colour ?? (placed.moves ? colours.body : colours.still)));
      if (!placed.moves && placed.colour !== undefined && !chosen.includes(object) && !placed.glows) colour.lerp(sky, 0.3);
      const mesh = this.meshOf(placed);
      mesh?.shown.setColorAt(placed.slot, colour);
      mesh?.faint.setColorAt(placed.slot, colour);
    });
    for (const pair of this.meshes.values())
      for (const mesh of Object.values(pair)) if (mesh.instanceColor) mesh.instanceColor.needsUpdate = true;
  }

  /** The visible object that a ray meets first. */
  hitBy(ray: THREE.Raycaster): number | undefined {
    const shown = [...this.meshes].map(([key, pair]) => ({ key, mesh: pair.shown }));
    const hit = ray.intersectObjects(shown.map(({ mesh }) => mesh), false)[0];
    if (hit?.instanceId === undefined) return undefined;
    const key = shown.find(({ mesh }) => mesh === hit.object)?.key;
    const object = this.placed.findIndex((placed) => this.keyOf(placed.kind, placed.glows) === key && placed.slot === hit.instanceId);
    return object < 0 ? undefined : object;
  }
}
