// SPDX-License-Identifier: MIT
// The connection to the server. Reports when it is lost, and tries to connect again.

import type { Order, Told } from "./messages";
import { read, type Frame, type SentFile, type SentModel, type Stretch } from "./wire";

export interface Listener {
  connected(): void;
  gone(): void;
  told(message: Told): void;
  frame(frame: Frame): void;
  stretch(stretch: Stretch): void;
  file(file: SentFile): void;
  model(model: SentModel): void;
}

export class Link {
  private socket?: WebSocket;
  private wait = 250; // ms until the next try

  constructor(
    private readonly address: string,
    private readonly listener: Listener,
  ) {
    this.connect();
  }

  get isOpen(): boolean {
    return this.socket?.readyState === WebSocket.OPEN;
  }

  send(order: Order): void {
    if (this.socket?.readyState === WebSocket.OPEN) this.socket.send(JSON.stringify(order));
  }

  /** Ends the connection for good. */
  close(): void {
    if (this.socket) this.socket.onclose = null;
    this.socket?.close();
  }

  private connect(): void {
    const socket = new WebSocket(this.address);
    socket.binaryType = "arraybuffer";
    socket.onopen = () => {
      this.wait = 250;
      this.listener.connected();
    };
    socket.onmessage = (event: MessageEvent<string | ArrayBuffer>) => this.hear(event.data);
    socket.onclose = () => {
      this.listener.gone();
      setTimeout(() => this.connect(), this.wait);
      this.wait = Math.min(this.wait * 2, 4000);
    };
    this.socket = socket;
  }

  private hear(data: string | ArrayBuffer): void {
    if (typeof data === "string") return this.listener.told(JSON.parse(data) as Told);
    const message = read(data);
    if (message?.kind === "frame") this.listener.frame(message);
    else if (message?.kind === "file") this.listener.file(message);
    else if (message?.kind === "model") this.listener.model(message);
    else if (message) this.listener.stretch(message);
  }
}

/** The address of the server: that of the page, with its token. */
export function addressOf(page: URL): string {
  return `ws://${page.host}/live${page.search}`;
}
