// SPDX-License-Identifier: MIT
// What this tab changes. Of the changes of one gesture, the last is sent with the next frame; and an answer about an
// object that was asked for before a change does not count.

import { editOrder, type Edit } from "./edits";
import type { Order } from "./messages";

interface Change {
  path: string;
  to: string;
  gesture: number;
}

export interface ChangesAsks {
  send(order: Order): void;
  /** Sends a change: while a stretch is repeated, at its beginning. */
  change(order: Order): void;
  /** A change of a gesture is coming: the old path can still be stored. */
  begin(gesture: number): void;
}

export class Changes {
  private turn = 0; // counts the requests and changes of this tab
  private lastSet = 0;
  private asked: number[] = []; // requests for the object that are not answered yet; answers arrive in order
  private value?: Change;
  private structure?: Order;

  constructor(private readonly asks: ChangesAsks) {}

  set(path: string, to: string, gesture: number): void {
    this.asks.begin(gesture);
    const isWaiting = this.value !== undefined;
    if (this.value && this.value.path !== path) this.sendValue();
    this.value = { path, to, gesture };
    this.lastSet = ++this.turn;
    if (isWaiting) return;
    requestAnimationFrame(() => {
      this.lastSet = ++this.turn;
      this.sendValue();
    });
  }

  /** Sends the changes that wait for the next frame. To be called before an order that depends on them. */
  flush(): void {
    this.sendValue();
    this.sendStructure();
  }

  private sendValue(): void {
    if (this.value) this.asks.change({ do: "set", ...this.value });
    this.value = undefined;
  }

  reset(path: string): void {
    this.asks.begin(performance.now()); // a separate gesture
    this.asks.change({ do: "reset", path });
  }

  /** `gesture`: 0 for an edit by itself. */
  make(edits: Edit[], gesture = 0): void {
    this.asks.begin(gesture === 0 ? performance.now() : gesture);
    const order = editOrder(edits, gesture);
    const isWaiting = this.structure !== undefined;
    if (this.structure && this.structure.gesture !== gesture) this.sendStructure();
    if (gesture === 0) return this.asks.change(order);
    this.structure = order;
    if (!isWaiting) requestAnimationFrame(() => this.sendStructure());
  }

  private sendStructure(): void {
    if (this.structure) this.asks.change(this.structure);
    this.structure = undefined;
  }

  askObject(name: string): void {
    this.asked.push(++this.turn);
    this.asks.send({ do: "object", name });
  }
  /** Counts an answer to `askObject`. Returns true where it was requested before the last change of this tab. */
  isStale(): boolean {
    return (this.asked.shift() ?? 0) < this.lastSet;
  }
  /** The pending requests will not be answered. */
  giveUp(): void {
    this.asked = [];
  }
}
