// SPDX-License-Identifier: MIT
// A stretch of frames that is played again and again, and again from its beginning after each change.

import type { Order } from "./messages";
import type { Frame } from "./wire";

export interface Stretch {
  from: number;
  to: number;
}

export class Loop {
  private stretch?: Stretch;
  private isAsked = false; // the beginning was asked for, and has not come yet

  constructor(private readonly send: (order: Order) => void) {}

  get current(): Stretch | undefined {
    return this.stretch;
  }

  set(stretch: Stretch | undefined): void {
    this.stretch = stretch;
    this.isAsked = false;
    if (stretch) this.again();
  }

  /** Goes back to the beginning once the end is played. */
  see(frame: Frame, isPlaying: boolean): void {
    if (!this.stretch) return;
    if (frame.current < this.stretch.to) this.isAsked = false;
    else if (isPlaying && !this.isAsked) this.again();
  }

  /** A change takes effect from the beginning on: `change` is sent there. */
  change(change: () => void): void {
    if (this.stretch) this.send({ do: "show", frame: this.stretch.from });
    change();
    if (this.stretch) this.again();
  }

  private again(): void {
    this.isAsked = true;
    this.send({ do: "play", frame: this.stretch?.from });
  }
}
