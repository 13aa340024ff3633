// SPDX-License-Identifier: MIT
// What the urges of the chosen agent want: asked for with every frame that is shown, one question at a time.

import type { Order, UrgeShare } from "./messages";

export class Urges {
  shown: readonly UrgeShare[] = [];
  private agent?: string;
  private isAsked = false;
  private isStale = false; // another frame has been shown since

  constructor(private readonly send: (order: Order) => void) {}

  /** Another object is chosen: its name, if it is an agent. */
  choose(agent: string | undefined): void {
    if (agent === this.agent) return;
    this.agent = agent;
    this.shown = [];
    this.isAsked = false;
    this.see();
  }

  hear(name: string, urges: readonly UrgeShare[]): void {
    this.isAsked = false;
    if (name === this.agent) this.shown = urges;
    if (this.isStale) this.see();
  }

  /** Another frame is shown, or the same as it is now. */
  see(): void {
    this.isStale = this.isAsked;
    if (this.agent === undefined || this.isAsked) return;
    this.isAsked = true;
    this.send({ do: "urges", name: this.agent });
  }
}
