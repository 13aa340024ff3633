// SPDX-License-Identifier: MIT
// What the urges of the selected agent want: requested for every frame, one request at a time.

import type { Order, UrgeShare } from "./messages";

export class Urges {
  current: readonly UrgeShare[] = [];
  private agent?: string;
  private isAsked = false;
  private isStale = false; // the frame has changed since the request

  constructor(private readonly send: (order: Order) => void) {}

  /** Another object is selected: its name, if it is an agent. */
  choose(agent: string | undefined): void {
    if (agent === this.agent) return;
    this.agent = agent;
    this.current = [];
    this.isAsked = false;
    this.see();
  }

  hear(name: string, urges: readonly UrgeShare[]): void {
    this.isAsked = false;
    if (name === this.agent) this.current = urges;
    if (this.isStale) this.see();
  }

  /** The current frame has changed. */
  see(): void {
    this.isStale = this.isAsked;
    if (this.agent === undefined || this.isAsked) return;
    this.isAsked = true;
    this.send({ do: "urges", name: this.agent });
  }
}
