// SPDX-License-Identifier: MIT
// The scene in space: shapes, the paths of the selected objects with their poses at intervals, and lines to other objects.
// Draws only when something has changed.

import * as THREE from "three";
import { OrbitControls } from "three/addons/controls/OrbitControls.js";

import { drawArrows, type Arrow } from "./arrows";
import { el, oncePerFrame } from "./dom";
import type { Path } from "./history";
import type { SceneMessage, Shape } from "./messages";
import { placeSize, poseSize, type Frame } from "./wire";

/** Options of the drawing. */
export interface Overlay {
  paths: { object: number; color: string; past: Path; ahead?: Path; before?: Path }[];
  ghosts: number; // the approximate number of poses drawn on each path; 0 for none
  lines: { from: number; to: number }[];
}

type Kind = Shape["kind"] | "marker";
const kinds: Kind[] = ["box", "sphere", "cylinder", "cone", "marker"];

function geometryOf(kind: Kind): THREE.BufferGeometry {
  switch (kind) {
    case "box":
      return new THREE.BoxGeometry(1, 1, 1);
    case "sphere":
      return new THREE.SphereGeometry(0.5, 24, 12);
    case "cylinder":
      return new THREE.CylinderGeometry(0.5, 0.5, 1, 24);
    case "cone":
      return new THREE.ConeGeometry(0.5, 1, 24);
    case "marker":
      return new THREE.OctahedronGeometry(0.5);
  }
}

/** True without a graphics card: antialiasing would be too slow. */
function isSoftware(): boolean {
  const context = document.createElement("canvas").getContext("webgl");
  const info = context?.getExtension("WEBGL_debug_renderer_info");
  const name: unknown = info && context ? context.getParameter(info.UNMASKED_RENDERER_WEBGL) : "";
  return /swiftshader|llvmpipe|software/i.test(String(name));
}

interface Placed {
  kind: Kind;
  slot: number; // index among the instances of its kind
  size: THREE.Vector3;
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
  private readonly drawn = new THREE.Group(); // paths, poses and lines: created anew when they change
  private readonly arrows = new THREE.Group();
  private readonly labels: HTMLElement;
  private readonly legend = el("ul", { class: "legend", hidden: "" });
  private readonly geometries = new Map<Kind, THREE.BufferGeometry>(kinds.map((kind) => [kind, geometryOf(kind)]));
  private readonly materials = new Map<string, THREE.Material>();
  private instances = new Map<Kind, THREE.InstancedMesh>();
  private placed: Placed[] = [];
  private names: string[] = [];
  private moves: boolean[] = [];
  private frame?: Frame;
  private chosen: readonly number[] = [];
  private overlay: Overlay = { paths: [], ghosts: 0, lines: [] };
  private theme: Theme;
  private readonly due = oncePerFrame(() => this.draw());
  private center = new THREE.Vector3();
  private radius = 20;
  draws = 0; // the number of drawings

  constructor(
    private readonly host: HTMLElement,
    private readonly choose: (object: number, besides: boolean) => void,
  ) {
    this.renderer = new THREE.WebGLRenderer({ antialias: !isSoftware() });
    this.renderer.setPixelRatio(Math.min(window.devicePixelRatio, 2));
    this.labels = document.createElement("div");
    this.labels.className = "labels";
    host.append(this.renderer.domElement, this.labels, this.legend);
    this.controls = new OrbitControls(this.camera, this.renderer.domElement);
    this.controls.enableDamping = false;
    this.controls.addEventListener("change", () => this.due());
    this.space.add(new THREE.HemisphereLight(0xdfe9ff, 0x39445c, 2.2), this.drawn, this.arrows);
    const moon = new THREE.DirectionalLight(0xffffff, 1.6);
    moon.position.set(-30, 60, 20);
    this.space.add(moon);
    this.theme = this.readTheme();
    new ResizeObserver(() => this.resize()).observe(host);
    this.listenForChoice();
  }

  // --- content ---------------------------------------------------------------------------------------------------

  /** Sets the objects of the scene. */
  setScene(scene: SceneMessage): void {
    for (const mesh of this.instances.values()) {
      this.space.remove(mesh);
      mesh.dispose();
    }
    const isFirst = this.placed.length === 0;
    const counts = new Map<Kind, number>();
    this.names = scene.objects.map((object) => object.name);
    this.moves = scene.objects.map((object) => object.moves === true || object.parent !== undefined);
    this.placed = scene.objects.map((object) => {
      const kind: Kind = object.shape?.kind ?? "marker";
      const slot = counts.get(kind) ?? 0;
      counts.set(kind, slot + 1);
      return { kind, slot, size: new THREE.Vector3(...(object.shape?.size ?? [0.4, 0.4, 0.4])) };
    });
    this.instances = new Map(
      [...counts].map(([kind, count]) => {
        const mesh = new THREE.InstancedMesh(
          this.geometries.get(kind),
          new THREE.MeshLambertMaterial({ color: 0xffffff }),
          count,
        );
        mesh.frustumCulled = false;
        this.space.add(mesh);
        return [kind, mesh];
      }),
    );
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

  setFrame(frame: Frame): void {
    if (frame.hidden.length !== this.placed.length) return; // the frame belongs to another scene
    this.frame = frame;
    const matrix = new THREE.Matrix4();
    const position = new THREE.Vector3();
    const rotation = new THREE.Quaternion();
    const scale = new THREE.Vector3();
    this.placed.forEach((placed, object) => {
      const at = object * poseSize;
      position.fromArray(frame.poses, at);
      rotation.fromArray(frame.poses, at + 3);
      scale.fromArray(frame.poses, at + 7).multiply(placed.size);
      if (frame.hidden[object]) scale.setScalar(0);
      this.instances.get(placed.kind)?.setMatrixAt(placed.slot, matrix.compose(position, rotation, scale));
    });
    for (const mesh of this.instances.values()) {
      mesh.instanceMatrix.needsUpdate = true;
      mesh.boundingSphere = null; // is computed again for the next pick
    }
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
    this.paintObjects();
    this.due();
  }

  setOverlay(overlay: Overlay): void {
    this.overlay = overlay;
    this.clearDrawn();
    for (const path of overlay.paths) {
      if (path.before) this.addPath(path.before, this.theme.ghost, "dashed");
      this.addPath(path.past, path.color, "full");
      if (path.ahead) this.addPath(path.ahead, path.color, "thin");
      if (path.before) this.addGhosts(path.object, path.before, this.theme.ghost, 0.18);
      this.addGhosts(path.object, path.past, path.color, 0.3);
      if (path.ahead) this.addGhosts(path.object, path.ahead, path.color, 0.16);
    }
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
    this.space.background = new THREE.Color(this.theme.water);
    const old = this.space.getObjectByName("grid");
    if (old) this.space.remove(old);
    const size = Math.ceil((this.radius * 2.4) / 10) * 10;
    const grid = new THREE.GridHelper(size, size <= 200 ? size / 5 : 40, this.theme.grid, this.theme.grid);
    grid.name = "grid";
    grid.position.set(Math.round(this.center.x / 5) * 5, 0, Math.round(this.center.z / 5) * 5);
    this.space.add(grid);
    this.paintObjects();
    this.due();
  }

  private paintObjects(): void {
    const body = new THREE.Color(this.theme.body);
    const still = new THREE.Color(this.theme.still);
    const chosen = new THREE.Color(this.theme.chosen);
    this.placed.forEach((placed, object) => {
      const color = this.chosen.includes(object) ? chosen : this.moves[object] ? body : still;
      this.instances.get(placed.kind)?.setColorAt(placed.slot, color);
    });
    for (const mesh of this.instances.values()) if (mesh.instanceColor) mesh.instanceColor.needsUpdate = true;
  }

  private clearDrawn(): void {
    for (const each of [...this.drawn.children]) {
      this.drawn.remove(each);
      if (each instanceof THREE.Line) each.geometry.dispose(); // geometries of poses are shared
      if (each instanceof THREE.InstancedMesh) each.dispose();
    }
  }

  /** Created once: each new material is compiled. */
  private material(name: string, make: () => THREE.Material): THREE.Material {
    const known = this.materials.get(name) ?? make();
    this.materials.set(name, known);
    return known;
  }

  private addPath(path: Path, color: string, stroke: "full" | "thin" | "dashed"): void {
    if (path.times.length < 2) return;
    const points = path.times.map((_, i) => new THREE.Vector3().fromArray(path.places, i * placeSize));
    const geometry = new THREE.BufferGeometry().setFromPoints(points);
    const material = this.material(`${stroke} ${color}`, () =>
      stroke === "full"
        ? new THREE.LineBasicMaterial({ color })
        : new THREE.LineDashedMaterial({
            color,
            dashSize: stroke === "dashed" ? 0.7 : 0.25,
            gapSize: stroke === "dashed" ? 0.4 : 0.25,
          }),
    );
    const line = new THREE.Line(geometry, material);
    if (stroke !== "full") line.computeLineDistances();
    this.drawn.add(line);
  }

  private addGhosts(object: number, path: Path, color: string, opacity: number): void {
    const placed = this.placed[object];
    const count = Math.min(this.overlay.ghosts, path.times.length);
    if (!placed || !this.frame || count < 1) return;
    const mesh = new THREE.InstancedMesh(
      this.geometries.get(placed.kind),
      this.material(
        `ghost ${color} ${opacity}`,
        () => new THREE.MeshBasicMaterial({ color, transparent: true, opacity, depthWrite: false }),
      ),
      count,
    );
    const scale = new THREE.Vector3().fromArray(this.frame.poses, object * poseSize + 7).multiply(placed.size);
    const matrix = new THREE.Matrix4();
    const position = new THREE.Vector3();
    const rotation = new THREE.Quaternion();
    // At multiples of a round time step, so that they do not move while the scene plays.
    const from = path.times[0] as number;
    const to = path.times.at(-1) as number;
    const step = Math.max((to - from) / count, 1e-6);
    let row = 0;
    let slot = 0;
    for (let k = Math.ceil(from / step); k * step <= to && slot < count; ++k) {
      while (row + 1 < path.times.length && (path.times[row] as number) < k * step) ++row;
      position.fromArray(path.places, row * placeSize);
      rotation.fromArray(path.places, row * placeSize + 3);
      mesh.setMatrixAt(slot++, matrix.compose(position, rotation, scale));
    }
    mesh.count = slot;
    mesh.frustumCulled = false;
    this.drawn.add(mesh);
  }

  private drawLines(): void {
    const old = this.drawn.getObjectByName("lines") as THREE.LineSegments | undefined;
    if (old) {
      this.drawn.remove(old);
      old.geometry.dispose();
    }
    if (!this.frame || this.overlay.lines.length === 0) return;
    const points = this.overlay.lines.flatMap(({ from, to }) => [this.place(from), this.place(to)]);
    const lines = new THREE.LineSegments(
      new THREE.BufferGeometry().setFromPoints(points),
      this.material(`line ${this.theme.line}`, () => new THREE.LineBasicMaterial({ color: this.theme.line })),
    );
    lines.name = "lines";
    this.drawn.add(lines);
  }

  private place(object: number): THREE.Vector3 {
    return new THREE.Vector3().fromArray(this.frame?.poses ?? [], object * poseSize);
  }

  private resize(): void {
    const { clientWidth: width, clientHeight: height } = this.host;
    if (width === 0 || height === 0) return;
    this.renderer.setSize(width, height, false);
    this.camera.aspect = width / height;
    this.camera.updateProjectionMatrix();
    this.due();
  }

  private draw(): void {
    ++this.draws;
    this.renderer.render(this.space, this.camera);
    this.placeLabels();
  }

  private placeLabels(): void {
    const { clientWidth: width, clientHeight: height } = this.host;
    const lift = Math.max(0.6, this.radius * 0.02);
    this.chosen.forEach((object, i) => {
      const label = this.labels.children[i] as HTMLElement | undefined;
      if (!label) return;
      const at = this.place(object);
      at.y += (this.placed[object]?.size.y ?? 0) / 2 + lift;
      at.project(this.camera);
      const isSeen = this.frame !== undefined && at.z < 1 && !this.frame.hidden[object];
      label.hidden = !isSeen;
      label.style.transform = `translate(-50%, -100%) translate(${((at.x + 1) / 2) * width}px, ${((1 - at.y) / 2) * height}px)`;
    });
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
    const size = this.placed[object]?.size.length() ?? 1;
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
      if (object !== undefined) this.choose(object, event.shiftKey);
    });
  }

  private at(event: PointerEvent): number | undefined {
    const box = this.renderer.domElement.getBoundingClientRect();
    const pointer = new THREE.Vector2(
      ((event.clientX - box.left) / box.width) * 2 - 1,
      1 - ((event.clientY - box.top) / box.height) * 2,
    );
    const ray = new THREE.Raycaster();
    ray.setFromCamera(pointer, this.camera);
    const hit = ray.intersectObjects([...this.instances.values()], false)[0];
    if (hit?.instanceId === undefined) return undefined;
    const kind = [...this.instances].find(([, mesh]) => mesh === hit.object)?.[0];
    const object = this.placed.findIndex((placed) => placed.kind === kind && placed.slot === hit.instanceId);
    return object < 0 ? undefined : object;
  }
}
