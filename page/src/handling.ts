// SPDX-License-Identifier: MIT
// Connects the handles of the selected object with the scene: where its parent is, and which request a change is.

import * as THREE from "three";

import { el } from "./dom";
import type { Edits } from "./edits";
import { Grips } from "./grips";
import { handlesOf, identity, type Handle, type HandleGroup, type Pose } from "./handles";
import { remember, remembered } from "./memory";
import type { ObjectMessage, SceneMessage, SceneObject } from "./messages";
import type { View } from "./view";
import { poseSize, type Frame } from "./wire";

export interface HandlingAsks {
  set(path: string, to: string, gesture: number): void;
  edits: Edits;
}

export class Handling {
  /** Whether handles are shown, and the grid to which they snap. */
  readonly choice = el(
    "select",
    { "aria-label": "Handles", title: "Handles in the scene, and the grid to which they snap" },
    el("option", { value: "off" }, "no handles"),
    el("option", { value: "0" }, "handles"),
    ...["0.1", "0.5", "1"].map((step) => el("option", { value: step }, `handles, ${step} m`)),
  );
  private readonly grips: Grips;
  private scene?: SceneMessage;
  private numbers = new Map<string, number>();
  private object?: ObjectMessage;
  private groups: HandleGroup[] = [];
  private frame?: Frame;

  private unanswered?: Handle; // changed, and not heard of since
  private next?: { handle: Handle; numbers: number[]; gesture: number }; // a change that waits for the answer

  constructor(
    host: HTMLElement,
    view: View,
    private readonly asks: HandlingAsks,
  ) {
    const screen = {
      project: (at: THREE.Vector3) => view.onScreen(at),
      rayAt: (x: number, y: number) => view.rayAt(x, y),
    };
    this.grips = new Grips(host, screen, {
      change: (handle, numbers, gesture) => this.change(handle, numbers, gesture),
      changeAll: (changes, gesture) => {
        const [first] = changes;
        if (first && changes.length === 1) asks.set(first.path, first.text, gesture);
        else if (first) asks.edits.make(changes.map(({ path, text }) => ({ edit: "set behaviour", behaviour: path.slice(0, path.lastIndexOf(".")), key: path.slice(path.lastIndexOf(".") + 1), to: text })));
      },
    });
    this.choice.value = remembered("hushed handles") ?? "0.1";
    this.choice.addEventListener("change", () => {
      remember("hushed handles", this.choice.value);
      this.show();
    });
  }

  setScene(scene: SceneMessage): void {
    this.scene = scene;
    this.numbers = new Map(scene.objects.map((object, i) => [object.name, i]));
    this.object = undefined;
    this.choice.hidden = scene.file === null;
  }

  setObject(object: ObjectMessage | undefined): void {
    this.object = object;
    this.unanswered = undefined;
    this.grips.answered();
    this.show();
    const { next } = this;
    this.next = undefined;
    const handle = next && this.groups.flatMap((group) => group.handles).find(({ id, label }) => id === next.handle.id && label === next.handle.label);
    if (next && handle) this.change(handle, next.numbers, next.gesture);
  }

  /** Handles of one value share its text: another one waits until the last change is known. */
  private change(handle: Handle, numbers: number[], gesture: number): void {
    if (this.unanswered?.id === handle.id && this.unanswered.label !== handle.label) {
      this.next = { handle, numbers, gesture };
      return;
    }
    this.unanswered = handle;
    const text = handle.textOf(numbers);
    if (handle.id.includes(".")) this.asks.set(handle.id, text, gesture);
    else if (this.object) this.asks.edits.make([{ edit: "set object", object: this.object.name, key: handle.id, to: text }], gesture);
  }

  setFrame(frame: Frame): void {
    this.frame = frame;
    this.show();
  }

  /** The camera has moved. */
  place(): void {
    this.grips.place();
  }

  private show(): void {
    const { object } = this;
    const place = object && this.scene?.objects[this.numbers.get(object.name) ?? -1];
    const world = object && this.poseOf(object.name);
    const isShown = this.choice.value !== "off" && !this.choice.hidden && object && place && world;
    this.groups = isShown ? handlesOf(object, { parent: this.spaceOf(place), world, poseOf: (name) => this.poseOf(name) }) : [];
    this.grips.step = Number(this.choice.value);
    this.grips.show(this.groups);
  }

  private poseOf(name: string): Pose | undefined {
    const number = this.numbers.get(name);
    if (number === undefined || !this.frame || this.frame.hidden.length !== this.numbers.size) return undefined;
    const { poses } = this.frame;
    const at = number * poseSize;
    return {
      position: new THREE.Vector3().fromArray(poses, at),
      rotation: new THREE.Quaternion().fromArray(poses, at + 3),
      scale: new THREE.Vector3().fromArray(poses, at + 7),
    };
  }

  /** The pose of its parent, as far as it inherits it. */
  private spaceOf({ parent, inherit }: SceneObject): Pose {
    const space = identity();
    const pose = parent === undefined ? undefined : this.poseOf(parent);
    if (!pose) return space;
    for (const part of ["position", "rotation", "scale"] as const)
      if (!inherit || inherit.includes(part)) Object.assign(space, { [part]: pose[part] });
    return space;
  }
}
