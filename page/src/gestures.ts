// SPDX-License-Identifier: MIT
// Groups changes of a value that are undone together: those of one drag, or in quick succession.

export class Gestures {
  private number = Math.floor(Math.random() * 2 ** 40); // different from other tabs
  private path = "";
  private last = 0;
  private dragged?: Element;

  /** What is dragged from pointer down to pointer up is one gesture. */
  watch(handle: HTMLElement | SVGElement): void {
    handle.addEventListener("pointerdown", () => {
      this.dragged = handle;
      ++this.number;
    });
    const end = (): void => {
      if (this.dragged === handle) this.dragged = undefined;
      ++this.number;
    };
    handle.addEventListener("pointerup", end);
    handle.addEventListener("pointercancel", end);
  }

  /** The number of a gesture by itself. */
  next(): number {
    return ++this.number;
  }

  isDragging(handle: Element): boolean {
    return this.dragged === handle;
  }

  of(path: string): number {
    const now = performance.now();
    if (path !== this.path || (!this.dragged && now - this.last > 800)) ++this.number;
    this.path = path;
    this.last = now;
    return this.number;
  }
}
