// SPDX-License-Identifier: MIT
// The selected objects: the first one can be tuned, and the paths of all are drawn.

import type { SceneObject, Watch } from "./messages";

const most = 6;

/** The colour of the number-th line, curve or path. */
export function lineColor(number: number): string {
  return getComputedStyle(document.documentElement).getPropertyValue(`--line${(number % 6) + 1}`).trim();
}

export class Selection {
  names: readonly string[] = [];
  private objects: readonly SceneObject[] = [];
  private coming?: string;

  /** `changed` is called when other objects are selected, or their numbers in the scene are others. */
  constructor(private readonly changed: () => void) {}

  get first(): string | undefined {
    return this.names[0];
  }
  /** The first one as the scene describes it. */
  get object(): SceneObject | undefined {
    return this.objects.find(({ name }) => name === this.first);
  }
  /** Their numbers in the scene. */
  get numbers(): number[] {
    const all = this.objects.map(({ name }) => name);
    return this.names.map((name) => all.indexOf(name)).filter((number) => number >= 0);
  }
  get colors(): string[] {
    return this.names.map((_, i) => lineColor(i));
  }

  /** An object that was asked for is selected once it is there. */
  expect(name: string): void {
    this.coming = name;
  }

  setObjects(objects: readonly SceneObject[], watches: readonly Watch[]): void {
    this.objects = objects;
    const isThere = (wanted: string): boolean => objects.some(({ name }) => name === wanted);
    this.names = this.names.filter(isThere);
    if (this.coming !== undefined && isThere(this.coming)) {
      this.names = [this.coming];
      this.coming = undefined;
    }
    if (this.names.length === 0) this.names = this.wellChosen(watches);
    this.changed();
  }

  /** Selects an object that moves, at best one that is watched. */
  chooseWell(watches: readonly Watch[]): void {
    this.names = this.wellChosen(watches);
    this.changed();
  }

  private wellChosen(watches: readonly Watch[]): string[] {
    const moving = this.objects.filter(({ moves }) => moves).map(({ name }) => name);
    const watched = watches.map(({ text }) => /(?:local:)?([\w-]+)\./.exec(text)?.[1] ?? "");
    const name = watched.find((each) => moving.includes(each)) ?? moving[0];
    return name === undefined ? [] : [name];
  }

  chooseNumber(number: number, besides: boolean): void {
    const name = this.objects[number]?.name;
    if (name !== undefined) this.choose(name, besides);
  }

  /** `besides`: with those that are selected, or no longer. */
  choose(name: string, besides = false): void {
    const others = this.names.filter((each) => each !== name);
    if (!besides) this.names = [name];
    else if (others.length < this.names.length && this.names.length > 1) this.names = others;
    else this.names = [...others, name].slice(-most);
    this.changed();
  }
}
