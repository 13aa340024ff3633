// SPDX-License-Identifier: MIT
// Files from the page: pictures, readings, recordings, keys and the scene; and the command that makes the same.

import { button, el } from "./dom";
import type { History } from "./history";
import type { Changed, Order, State } from "./messages";

export interface ExportAsks {
  send(order: Order): void;
  sceneCanvas(): HTMLCanvasElement; // just drawn
  curveCanvas(): HTMLCanvasElement | undefined; // if curves are open
  state(): State | undefined;
  file(): string; // the name of the scene's file
  stretch(): { first: number; last: number; seconds: number };
  chosen(): readonly string[];
}

/** A word for a shell: in quotes where it needs them. */
export function shellWord(text: string): string {
  return /^[\w.,:=/+-]+$/.test(text) ? text : `'${text.replaceAll("'", "'\\''")}'`;
}

/** `hushed play harbour.toml --fps 60 --seconds 10 --set lamp.spin.speed=60`, and more words. */
export function commandLine(what: string, file: string, rate: number | null, seconds: number, changed: readonly Changed[], ...more: string[]): string {
  const sets = changed.filter(({ now }) => now !== null).flatMap(({ path, now }) => ["--set", `${path}=${now}`]);
  const frames = [...(rate === null ? [] : ["--fps", String(rate)]), "--seconds", String(Number(seconds.toFixed(4)))];
  return ["hushed", what, file, ...frames, ...sets, ...more].map(shellWord).join(" ");
}

/** The known readings as CSV, like those of `hushed play --format csv`. */
export function readingsText(history: History, names: readonly string[]): string {
  const quoted = (name: string): string => (name.includes(",") ? `"${name}"` : name);
  const rows = history.frames.map((frame, i) => [frame, history.times[i], ...names.map((_, column) => history.columns[column]?.[i])]);
  return [["frame", "time", ...names.map(quoted)], ...rows].map((row) => `${row.map((each) => each ?? "").join(",")}\n`).join("");
}

/** Offers a file to the browser, which saves it. */
export function download(name: string, content: BlobPart, type = "application/octet-stream"): void {
  const address = URL.createObjectURL(new Blob([content], { type }));
  el("a", { href: address, download: name }).click();
  setTimeout(() => URL.revokeObjectURL(address), 10_000);
}

export class Exports {
  readonly opener = button("export", "Pictures, readings and recordings as files", () => this.open());
  private readonly dialog = el("dialog", { class: "exports", "aria-label": "Export" });

  constructor(
    host: HTMLElement,
    private readonly history: History,
    private readonly asks: ExportAsks,
  ) {
    host.append(this.dialog);
  }

  private open(): void {
    const state = this.asks.state();
    if (!state) return;
    const file = this.asks.file();
    const stem = file.replace(/\.[^.]*$/, "");
    const { first, last, seconds } = this.asks.stretch();
    const watches = state.watches.map((watch) => watch.text).join(",");
    const columns = state.watches.flatMap((watch) => watch.columns.map((column) => column.name));
    const command = (what: string, ...more: string[]): string => commandLine(what, file, state.rate, seconds, state.changed, ...more);
    const record = (format: string): void => this.asks.send({ do: "export", what: "recording", format, first, last });
    const only = this.asks.chosen().length > 0 ? ["--only", this.asks.chosen().join(",")] : [];
    const curves = this.asks.curveCanvas();
    this.dialog.replaceChildren(
      el("h2", {}, "Export"),
      el("p", { class: "quiet" }, `Frames ${first} to ${last}, ${Number(seconds.toFixed(2))} s. The commands play with the present values from the beginning.`),
      this.row("Picture of the scene", "PNG", () => this.picture(this.asks.sceneCanvas(), `${stem}.png`), command("draw", "--show", "paths", "--from", "angle", ...only, "--to", `${stem}.png`)),
      this.row("Picture of the curves", "PNG", curves && (() => this.picture(curves, `${stem}-curves.png`)), command("draw", "--show", "curves", "--watch", watches, "--to", `${stem}-curves.png`), "open a reading wide first"),
      this.row("Readings", "CSV", () => download(`${stem}.csv`, readingsText(this.history, columns), "text/csv"), `${command("play", "--watch", watches, "--format", "csv")} > ${shellWord(`${stem}.csv`)}`),
      this.row("Recording of all objects", "glTF", () => record("glb"), command("play", "--record", `${stem}.glb`)),
      this.row("Recording of all objects", "CSV", () => record("csv"), command("play", "--record", `${stem}.csv`)),
      this.row("The scene with the present values", "TOML", () => this.asks.send({ do: "export", what: "scene" }), ""),
      el("div", { class: "buttons" }, button("Close", "Close (Escape)", () => this.dialog.close())),
    );
    if (!this.dialog.open) this.dialog.showModal();
  }

  private row(words: string, format: string, save: (() => void) | undefined, command: string, missing = ""): HTMLElement {
    const saving = button(format, `${words}: save it as ${format}`, () => save?.(), { "aria-label": `${words}, ${format}` });
    saving.disabled = save === undefined;
    const copy = button("Copy", "Copy the command", () => void navigator.clipboard?.writeText(command), { class: "quiet" });
    return el("div", { class: "export" }, el("span", {}, words, saving.disabled ? el("em", {}, ` (${missing})`) : ""), saving, command === "" ? "" : el("code", { tabindex: 0 }, command), command === "" ? "" : copy);
  }

  private picture(canvas: HTMLCanvasElement, name: string): void {
    canvas.toBlob((blob) => blob && download(name, blob, "image/png"), "image/png");
  }
}
