// What the urges of the chosen agent want: asked for with every frame that is the last, one question at a time.

import type { Order, UrgeShare } from "./messages";
import type { Frame } from "./wire";

export class Urges {
  shown: readonly UrgeShare[] = [];
  private agent?: string;
  private isAsked = false;

  constructor(private readonly send: (order: Order) => void) {}

  /** Another object is chosen: its name, if it is an agent. */
  choose(agent: string | undefined): void {
    if (agent === this.agent) return;
    this.agent = agent;
    this.shown = [];
    this.isAsked = false;
    this.ask();
  }

  /** A frame is shown. Of one that others have followed, nobody knows any more. */
  see(frame: Frame): void {
    if (frame.shown === frame.last) this.ask();
    else this.shown = [];
  }

  hear(name: string, urges: readonly UrgeShare[]): void {
    this.isAsked = false;
    if (name === this.agent) this.shown = urges;
  }

  private ask(): void {
    if (this.agent === undefined || this.isAsked) return;
    this.isAsked = true;
    this.send({ do: "urges", name: this.agent });
  }
}
