// SPDX-License-Identifier: MIT
// Keys of the keyboard and their names in scenes.

const names: Record<string, string> = {
  ArrowUp: "Up",
  ArrowDown: "Down",
  ArrowLeft: "Left",
  ArrowRight: "Right",
  " ": "Space",
};

/** The name of a key in scenes: "W" with or without Shift, "Up" for the arrow. */
export function keyName(key: string): string {
  return names[key] ?? (key.length === 1 ? key.toUpperCase() : key);
}

/** The keys that are held while the scene has the keyboard. Each is pressed once and released once. */
export class Held {
  private readonly down = new Set<string>();

  constructor(
    private readonly known: () => ReadonlySet<string>,
    private readonly send: (what: "press" | "release", key: string) => void,
  ) {}

  /** Returns true for a key that the scene uses. */
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

  /** Releases all keys when the page loses the focus. */
  releaseAll(): void {
    for (const name of [...this.down]) this.release(name);
  }
}
