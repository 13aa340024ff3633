// SPDX-License-Identifier: MIT
// Keys of the keyboard, by the names that scenes have for them.

const names: Record<string, string> = {
  ArrowUp: "Up",
  ArrowDown: "Down",
  ArrowLeft: "Left",
  ArrowRight: "Right",
  " ": "Space",
};

/** What a scene calls a key: "W" whether or not it is typed large, "Up" for the arrow. */
export function keyName(key: string): string {
  return names[key] ?? (key.length === 1 ? key.toUpperCase() : key);
}

/** The keys that are held while the scene is driven; each goes down once and up once. */
export class Held {
  private readonly down = new Set<string>();

  constructor(
    private readonly known: () => ReadonlySet<string>,
    private readonly send: (what: "press" | "release", key: string) => void,
  ) {}

  /** Returns whether it is one of the scene's keys. */
  press(key: string): boolean {
    const name = keyName(key);
    if (!this.known().has(name)) return false;
    if (!this.down.has(name)) this.send("press", name);
    this.down.add(name);
    return true;
  }

  isHeld(key: string): boolean {
    return this.down.has(keyName(key));
  }

  release(key: string): boolean {
    const name = keyName(key);
    if (!this.down.delete(name)) return false;
    this.send("release", name);
    return true;
  }

  /** Whoever looks away holds nothing. */
  releaseAll(): void {
    for (const name of [...this.down]) this.release(name);
  }
}
