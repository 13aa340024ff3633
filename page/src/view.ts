// SPDX-License-Identifier: MIT
// The scene in space: water and sky, the objects, the paths of the selected ones, and lines to others. Draws only when
// something has changed.

import * as THREE from "three";
import { OrbitControls } from "three/addons/controls/OrbitControls.js";

import { drawArrows, type Arrow } from "./arrows";
import { Bodies } from "./bodies";
import { el, oncePerFrame } from "./dom";
import type { SceneMessage } from "./messages";
import { shownModel } from "./models";
import { Trails, type PathMoment, type Trail } from "./trails";
import { poseSize, type Frame, type SentModel } from "./wire";

/** What is drawn beside the objects. */
export interface Overlay {
  paths: Trail[];
  lines: { from: number; to: number }[];
}

export interface ViewAsks {
  choose(object: number, besides: boolean): void;
  /** A moment of a path was clicked. Returns false for one that has not been played. */
  goTo(moment: PathMoment): boolean;
  /** Words for a moment of a path. */
  describe(moment: PathMoment): string;
  /** The scene was drawn, from another viewpoint perhaps. */
  drawn(): void;
}

/** True without a graphics card: antialiasing would be too slow. */
function isSoftware(): boolean {
  const context = document.createElement("canvas").getContext("webgl");
  const info = context?.getExtension("WEBGL_debug_renderer_info");
  const name: unknown = info && context ? context.getParameter(info.UNMASKED_RENDERER_WEBGL) : "";
  return /swiftshader|llvmpipe|software/i.test(String(name));
}

interface Theme {
  water: string;
  grid: string;
  body: string;
  still: string;
  chosen: string;
  ghost: string;
  line: string;
}

export class View {
  private readonly renderer: THREE.WebGLRenderer;
  private readonly camera = new THREE.PerspectiveCamera(40, 1, 0.1, 5000);
  private readonly controls: OrbitControls;
  private readonly space = new THREE.Scene();
  private readonly lines = new THREE.Group(); // to other objects: created anew when they change
  private readonly arrows = new THREE.Group();
  private readonly labels: HTMLElement;
  private readonly legend = el("ul", { class: "legend", hidden: "" });
  private readonly hint = el("span", { class: "moment", hidden: "" }); // at the moment of a path under the pointer
  private readonly hover = el("span", { class: "near", hidden: "" }); // the name of the object under the pointer
  private readonly bodies = new Bodies(this.space);
  private readonly trails = new Trails(this.space, this.bodies);
  private readonly materials = new Map<string, THREE.Material>();
  private water?: THREE.Mesh;
  private sky?: string; // of the scene; otherwise that of the page
  private waterLevel?: number;
  private names: string[] = [];
  private frame?: Frame;
  private chosen: readonly number[] = [];
  private overlay: Overlay = { paths: [], lines: [] };
  private theme: Theme;
  private readonly due = oncePerFrame(() => this.draw());
  private center = new THREE.Vector3();
  private radius = 20;
  private pointer?: PointerEvent; // while it is over the scene
  private inset = { bottom: 0, right: 0 }; // pixels that panes cover
  draws = 0; // the number of drawings

  constructor(
    private readonly host: HTMLElement,
    private readonly asks: ViewAsks,
  ) {
    this.renderer = new THREE.WebGLRenderer({ antialias: !isSoftware() });
    this.renderer.setPixelRatio(Math.min(window.devicePixelRatio, 2));
    this.labels = document.createElement("div");
    this.labels.className = "labels";
    host.append(this.renderer.domElement, this.labels, this.legend, this.hover, this.hint);
    this.controls = new OrbitControls(this.camera, this.renderer.domElement);
    this.controls.enableDamping = false;
    this.controls.addEventListener("change", () => this.due());
    this.space.add(new THREE.HemisphereLight(0xe6eeff, 0x4a5266, 1.9), this.lines, this.arrows);
    const moon = new THREE.DirectionalLight(0xfff4e0, 1.7);
    moon.position.set(-30, 60, 20);
    this.space.add(moon);
    this.theme = this.readTheme();
    new ResizeObserver(() => this.resize()).observe(host);
    this.listenForChoice();
    this.listenForMoments();
  }

  // --- content ---------------------------------------------------------------------------------------------------

  /** Sets the objects of the scene. */
  setScene(scene: SceneMessage): void {
    const isFirst = this.bodies.count === 0;
    this.names = scene.objects.map((object) => object.name);
    this.bodies.setObjects(scene.objects);
    this.sky = scene.sky;
    this.waterLevel = scene.water;
    this.frame = undefined;
    const [low, high] = scene.area ?? [
      [-20, 0, -20],
      [20, 10, 20],
    ];
    const box = new THREE.Box3(new THREE.Vector3(...(low as [number, number, number])), new THREE.Vector3(...(high as [number, number, number])));
    box.getCenter(this.center);
    this.center.y = Math.max(0, Math.min(this.center.y, 3));
    this.radius = Math.max(box.getSize(new THREE.Vector3()).length() / 2, 1);
    this.paint();
    if (isFirst) this.viewFrom("angle");
  }

  /** The models of the scene that the page does not have yet. */
  get missingModels(): string[] {
    return this.bodies.missing;
  }

  /** `scene`: that of the time when its pictures have been read. */
  async setModel(model: SentModel, scene: () => SceneMessage | undefined): Promise<void> {
    this.bodies.addModel(model.name, await shownModel(model));
    const objects = scene()?.objects;
    if (!objects) return;
    const { frame } = this;
    this.bodies.setObjects(objects);
    if (frame) this.bodies.setFrame(frame);
    this.paintBodies();
    this.due();
  }

  setFrame(frame: Frame): void {
    if (frame.hidden.length !== this.bodies.count) return; // the frame belongs to another scene
    this.frame = frame;
    this.bodies.setFrame(frame);
    this.drawLines();
    this.due();
  }

  setChosen(chosen: readonly number[], colors: readonly string[]): void {
    this.chosen = chosen;
    this.labels.replaceChildren(
      ...chosen.map((object, i) => {
        const label = document.createElement("span");
        label.textContent = this.names[object] ?? "";
        label.style.setProperty("--mark", colors[i] ?? this.theme.chosen);
        return label;
      }),
    );
    this.paintBodies();
    this.due();
  }

  setOverlay(overlay: Overlay): void {
    this.overlay = overlay;
    this.trails.show(overlay.paths, this.theme.ghost, this.frame);
    this.drawLines();
    this.due();
  }

  /** Draws what the urges of the first selected object want as arrows, with a legend. */
  setArrows(arrows: readonly Arrow[]): void {
    const from = this.chosen[0];
    if (from === undefined || !this.frame) arrows = [];
    drawArrows(this.arrows, arrows.length > 0 ? this.place(from as number) : new THREE.Vector3(), arrows);
    this.legend.hidden = arrows.length === 0;
    this.legend.replaceChildren(
      ...arrows.map(({ urge, color }) => {
        const share = urge.urge === "wanted" ? "" : ` ${Math.round(urge.share * 100)} %`;
        const entry = el("li", {}, urge.urge + share);
        entry.style.setProperty("--mark", color);
        return entry;
      }),
    );
    this.due();
  }

  // --- drawing -----------------------------------------------------------------------------------------------------

  /** Takes the colours of the page, by day or by night. */
  repaint(): void {
    this.theme = this.readTheme();
    this.paint();
    this.setOverlay(this.overlay);
  }

  private readTheme(): Theme {
    const style = getComputedStyle(document.documentElement);
    const color = (name: string): string => style.getPropertyValue(name).trim();
    return {
      water: color("--water"),
      grid: color("--grid"),
      body: color("--body"),
      still: color("--still"),
      chosen: color("--chosen"),
      ghost: color("--ghost"),
      line: color("--ink"),
    };
  }

  private paint(): void {
    const sky = this.sky ?? this.theme.water;
    this.space.background = new THREE.Color(sky);
    this.space.fog = new THREE.Fog(sky, this.radius * 2.2, this.radius * 7);
    const old = this.space.getObjectByName("grid");
    if (old) this.space.remove(old);
    const size = Math.ceil((this.radius * 2.4) / 10) * 10;
    const color = this.sky === undefined ? this.theme.grid : new THREE.Color(sky).lerp(new THREE.Color("#9fb4cc"), 0.2);
    const grid = new THREE.GridHelper(size, size <= 200 ? size / 5 : 40, color, color);
    grid.name = "grid";
    grid.position.set(Math.round(this.center.x / 5) * 5, 0, Math.round(this.center.z / 5) * 5);
    this.space.add(grid);
    this.paintWater(sky);
    this.paintBodies();
    this.due();
  }

  private paintWater(sky: string): void {
    if (this.water) {
      this.space.remove(this.water);
      this.water.geometry.dispose();
    }
    this.water = undefined;
    if (this.waterLevel === undefined) return;
    const color = new THREE.Color(sky).lerp(new THREE.Color("#2f6f8f"), 0.28);
    const size = this.radius * 40;
    this.water = new THREE.Mesh(
      new THREE.PlaneGeometry(size, size),
      new THREE.MeshBasicMaterial({ color, transparent: true, opacity: 0.72, depthWrite: false }),
    );
    this.water.rotation.x = -Math.PI / 2;
    this.water.position.set(this.center.x, this.waterLevel, this.center.z);
    this.space.add(this.water);
  }

  private paintBodies(): void {
    this.bodies.paint({ ...this.theme, sky: this.sky ?? this.theme.water }, this.chosen);
  }

  private drawLines(): void {
    for (const each of [...this.lines.children]) {
      this.lines.remove(each);
      if (each instanceof THREE.LineSegments) each.geometry.dispose();
    }
    if (!this.frame || this.overlay.lines.length === 0) return;
    const points = this.overlay.lines.flatMap(({ from, to }) => [this.place(from), this.place(to)]);
    const lines = new THREE.LineSegments(
      new THREE.BufferGeometry().setFromPoints(points),
      this.material(this.theme.line),
    );
    this.lines.add(lines);
  }

  /** Created once: each new material is compiled. */
  private material(color: string): THREE.Material {
    const known = this.materials.get(color) ?? new THREE.LineBasicMaterial({ color });
    this.materials.set(color, known);
    return known;
  }

  private place(object: number): THREE.Vector3 {
    return new THREE.Vector3().fromArray(this.frame?.poses ?? [], object * poseSize);
  }

  private resize(): void {
    const { clientWidth: width, clientHeight: height } = this.host;
    if (width === 0 || height === 0) return;
    this.renderer.setSize(width, height, false);
    this.camera.aspect = width / height;
    // The middle of what is looked at is in the middle of what can be seen.
    this.camera.setViewOffset(width, height, this.inset.right / 2, this.inset.bottom / 2, width, height);
    this.due();
  }

  /** Panes cover so many pixels at the lower and at the right edge. */
  setInset(inset: { bottom: number; right: number }): void {
    if (inset.bottom === this.inset.bottom && inset.right === this.inset.right) return;
    this.inset = inset;
    this.resize();
  }

  private draw(): void {
    ++this.draws;
    this.renderer.render(this.space, this.camera);
    this.placeLabels();
    this.asks.drawn();
  }

  private placeLabels(): void {
    this.chosen.forEach((object, i) => {
      const label = this.labels.children[i] as HTMLElement | undefined;
      if (label) this.placeLabel(label, object);
    });
  }

  /** Puts a label above an object. */
  private placeLabel(label: HTMLElement, object: number): void {
    const at = this.place(object);
    at.y += this.bodies.sizeOf(object).y / 2 + Math.max(0.6, this.radius * 0.02);
    const place = this.onScreen(at);
    label.hidden = place === undefined || this.frame === undefined;
    if (place) label.style.transform = `translate(-50%, -100%) translate(${place.x}px, ${place.y}px)`;
  }

  /** The pixels of a point; nothing where it is behind the camera. Changes the point. */
  onScreen(at: THREE.Vector3): { x: number; y: number } | undefined {
    const { clientWidth: width, clientHeight: height } = this.host;
    at.project(this.camera);
    return at.z < 1 ? { x: ((at.x + 1) / 2) * width, y: ((1 - at.y) / 2) * height } : undefined;
  }

  // --- camera and picking -------------------------------------------------------------------------------------------

  viewFrom(where: "above" | "side" | "angle"): void {
    const away = this.radius * 1.45;
    const from = {
      above: new THREE.Vector3(0, away, 0.001),
      side: new THREE.Vector3(0, away * 0.06, away),
      angle: new THREE.Vector3(away * 0.32, away * 0.5, away * 0.72),
    }[where];
    this.controls.target.copy(this.center);
    this.camera.position.copy(this.center).add(from);
    this.controls.update();
    this.due();
  }

  /** Moves the camera so that the selected object is in the middle, from the present direction. */
  centreOnSelected(): void {
    const object = this.chosen[0];
    if (object === undefined || !this.frame) return;
    const away = this.camera.position.clone().sub(this.controls.target);
    const size = this.bodies.sizeOf(object).length();
    away.setLength(Math.min(away.length(), Math.max(size * 7, this.radius * 0.35)));
    this.controls.target.copy(this.place(object));
    this.camera.position.copy(this.controls.target).add(away);
    this.controls.update();
    this.due();
  }

  /** Moves the camera nearer (above 1) or further away (below 1). */
  zoom(by: number): void {
    const away = this.camera.position.clone().sub(this.controls.target).divideScalar(by);
    this.camera.position.copy(this.controls.target).add(away);
    this.controls.update();
    this.due();
  }

  /** Rotates the camera around the middle, in degrees. */
  turn(by: number): void {
    const away = this.camera.position.clone().sub(this.controls.target);
    away.applyAxisAngle(new THREE.Vector3(0, 1, 0), THREE.MathUtils.degToRad(by));
    this.camera.position.copy(this.controls.target).add(away);
    this.controls.update();
    this.due();
  }

  private listenForChoice(): void {
    const canvas = this.renderer.domElement;
    let down = { x: 0, y: 0 };
    canvas.addEventListener("pointerdown", (event) => (down = { x: event.clientX, y: event.clientY }));
    canvas.addEventListener("pointerup", (event) => {
      if (Math.hypot(event.clientX - down.x, event.clientY - down.y) > 4) return; // the camera was rotated
      const object = this.at(event);
      const moment = object === undefined || this.chosen.includes(object) ? this.momentAt(event) : undefined;
      if (moment && this.asks.goTo(moment)) return;
      if (object !== undefined) this.asks.choose(object, event.shiftKey);
    });
  }

  /** Names the moment of a path, or the object, under the pointer. */
  private listenForMoments(): void {
    const canvas = this.renderer.domElement;
    const show = oncePerFrame(() => this.point());
    canvas.addEventListener("pointermove", (event) => {
      this.pointer = event.buttons === 0 ? event : undefined;
      show();
    });
    canvas.addEventListener("pointerleave", () => {
      this.pointer = undefined;
      show();
    });
  }

  private point(): void {
    const event = this.pointer;
    const moment = event && this.momentAt(event);
    const object = event && !moment ? this.at(event) : undefined;
    const place = moment && this.onScreen(moment.at.clone());
    this.hint.hidden = place === undefined;
    this.hint.textContent = moment ? this.asks.describe(moment) : "";
    if (place) this.hint.style.transform = `translate(${place.x + 10}px, ${place.y - 12}px)`;
    this.hover.hidden = object === undefined || this.chosen.includes(object);
    if (object === undefined) return;
    this.hover.textContent = this.names[object] ?? "";
    if (!this.hover.hidden) this.placeLabel(this.hover, object);
  }

  private momentAt(event: PointerEvent): PathMoment | undefined {
    const box = this.renderer.domElement.getBoundingClientRect();
    return this.trails.nearest(event.clientX - box.left, event.clientY - box.top, 10, (at) => this.onScreen(at));
  }

  private at(event: PointerEvent): number | undefined {
    return this.bodies.hitBy(this.casterAt(event.clientX, event.clientY));
  }

  /** The ray of the camera through a pixel of the page. */
  rayAt(x: number, y: number): THREE.Ray {
    return this.casterAt(x, y).ray;
  }

  private casterAt(x: number, y: number): THREE.Raycaster {
    const box = this.renderer.domElement.getBoundingClientRect();
    const pointer = new THREE.Vector2(((x - box.left) / box.width) * 2 - 1, 1 - ((y - box.top) / box.height) * 2);
    const caster = new THREE.Raycaster();
    caster.setFromCamera(pointer, this.camera);
    return caster;
  }

  /** The picture as it is now: it is drawn anew, since a browser forgets it. */
  get picture(): HTMLCanvasElement {
    this.draw();
    return this.renderer.domElement;
  }

  /** A point of the ground in the middle of what is seen, in whole metres. */
  get middle(): number[] {
    const { x, z } = this.controls.target;
    return [Math.round(x), Math.max(0, Math.round(this.waterLevel ?? 0)), Math.round(z)];
  }
}
