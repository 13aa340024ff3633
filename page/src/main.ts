// SPDX-License-Identifier: MIT
// Play mode: creates the parts of the page and passes messages of the server to them.

import "uplot/dist/uPlot.min.css";
import "./style.css";

import { Clock } from "./clock";
import { button, el, oncePerFrame } from "./dom";
import { reading } from "./format";
import { History } from "./history";
import { Keeping } from "./keeping";
import { Held } from "./keys";
import { addressOf, Link } from "./link";
import type { Mark, ObjectMessage, SceneMessage, State, Told } from "./messages";
import { Paths } from "./paths";
import { Readings, type Span } from "./readings";
import { ScriptEditor } from "./script";
import { Tuning } from "./tuning";
import { Urges } from "./urges";
import { View } from "./view";
import { poseSize, type Frame, type Stretch } from "./wire";

const mostChosen = 6;
const ghosts = 8;

function byId(id: string): HTMLElement {
  const found = document.getElementById(id);
  if (!found) throw new Error(`there is no #${id}`);
  return found;
}

class Page {
  private scene?: SceneMessage;
  private state?: State;
  private frame?: Frame;
  private object?: ObjectMessage;
  private chosen: string[] = []; // the first one can be tuned; the paths of all are drawn
  private lineTo = ""; // a name, "*" for all objects that the selected one reads, "" for none
  private turn = 0; // counts the requests and changes of this tab
  private lastSet = 0;
  private objectAsks: number[] = []; // requests that are not answered yet; answers arrive in order
  private readonly drawSoon = oncePerFrame(() => this.draw());
  private isPathDue = false;
  private pending?: { path: string; to: string; gesture: number }; // the last change of a drag is sent with the next frame

  private readonly history = new History();
  private readonly paths = new Paths(this.history, (order) => this.link.send(order));
  private readonly urges = new Urges((order) => this.link.send(order));
  private readonly link: Link;
  private readonly view: View;
  private readonly clock: Clock;
  private readonly readings: Readings;
  private readonly tuning: Tuning;
  private readonly keeping: Keeping;
  private readonly script: ScriptEditor;
  private readonly held: Held;

  private readonly undo = button("Undo", "Undo the last change (Ctrl+Z)", () => this.link.send({ do: "undo" }));
  private readonly redo = button("Redo", "Redo the change (Ctrl+Shift+Z)", () => this.link.send({ do: "redo" }));
  private readonly keep = button("Keep …", "Write tuned values into the file (Ctrl+S)", () => this.openKeeping());
  private readonly forget = button("Clear old paths", "Remove the paths from before the change", () => {
    this.paths.forgetOld();
    this.due(true);
  });
  private readonly objects = el("select", { id: "object", "aria-label": "Selected object" });
  private readonly lines = el("select", { "aria-label": "Line to another object, with the distance" });

  constructor() {
    this.view = new View(byId("view"), (object, besides) => this.chooseNumber(object, besides));
    this.clock = new Clock(byId("clock"), this.history, {
      playOrPause: () => this.playOrPause(),
      step: (by) => this.link.send({ do: "step", by }),
      show: (frame) => this.link.send({ do: "show", frame }),
      again: () => this.link.send({ do: "again" }),
      rhythm: (change) => this.link.send({ do: "rhythm", ...change }),
      setWindow: (seconds) => {
        this.paths.seconds = seconds;
        this.askAhead();
        this.due(true);
      },
    });
    this.readings = new Readings(byId("readings"), {
      watch: (watches) => this.link.send({ do: "watch", watches }),
      goTo: (time) => this.link.send({ do: "show", frame: this.history.frameAt(time) ?? 0 }),
    });
    this.tuning = new Tuning(byId("stack"), {
      set: (path, to, gesture) => this.set(path, to, gesture),
      reset: (path) => {
        this.paths.remember(performance.now()); // a separate gesture
        this.link.send({ do: "reset", path });
      },
      edit: (behaviour) => this.script.open(behaviour),
    });
    this.tuning.clear();
    this.keeping = new Keeping(document.body, {
      plan: (values) => this.link.send({ do: "plan", values }),
      keep: (values) => this.link.send({ do: "keep", values }),
    });
    this.script = new ScriptEditor(byId("script"), {
      read: (behaviour) => this.link.send({ do: "script", behaviour }),
      write: (behaviour, version, text) => this.link.send({ do: "write", behaviour, version, text }),
    });
    this.held = new Held(
      () => new Set(this.scene?.keys.map((each) => each.key)),
      (what, key) => this.link.send({ do: what, key }),
    );
    this.layOut();
    this.listenToKeys();
    matchMedia("(prefers-color-scheme: dark)").addEventListener("change", () => this.repaint());
    this.link = new Link(addressOf(new URL(location.href)), {
      connected: () => this.trouble(),
      gone: () => {
        this.objectAsks = [];
        this.paths.giveUp();
        this.trouble();
      },
      told: (message) => this.hear(message),
      frame: (frame) => this.seeFrame(frame),
      stretch: (stretch) => this.seeStretch(stretch),
    });
  }

  // --- messages of the server --------------------------------------------------------------------------------------

  private hear(message: Told): void {
    switch (message.kind) {
      case "scene":
        return this.setScene(message);
      case "state":
        return this.setState(message);
      case "marks":
        return this.setMarks(message.marks, message.from);
      case "object":
        if (this.isStale() || message.name !== this.chosen[0]) return;
        this.object = message;
        this.tuning.show(message);
        this.urges.choose(message.behaviours.some((each) => each.kind === "steer") ? message.name : undefined);
        return this.due(true);
      case "urges":
        this.urges.hear(message.name, message.urges);
        return this.due();
      case "script":
        return this.script.hear(message);
      case "written":
        return this.script.written(message);
      case "plan":
        return this.keeping.showPlan(message);
      case "kept":
        return this.say(message.text);
      case "refused":
        if (message.do === "object") this.isStale();
        if (message.do === "past") this.paths.giveUp();
        if (message.do === "ahead" || message.do === "past") return;
        if (message.do === "write") return this.script.refused(message.text);
        this.say(message.text, true);
        if (message.do === "set") this.askObject(); // restores the input: the value was refused
    }
  }

  private setScene(scene: SceneMessage): void {
    this.scene = scene;
    const name = scene.name || scene.file || "a scene";
    document.title = `${name} · Hushed Orbit`;
    byId("name").textContent = name;
    byId("file").textContent = scene.file ?? "scene of a running program";
    this.tuning.setEasings(scene.easings);
    this.view.setScene(scene);
    const names = scene.objects.map((object) => object.name);
    this.chosen = this.chosen.filter((each) => names.includes(each));
    this.objects.replaceChildren(el("option", { value: "" }, "choose …"), ...names.map((each) => el("option", {}, each)));
    this.lines.replaceChildren(
      el("option", { value: "" }, "no line"),
      el("option", { value: "*" }, "to all that it reads"),
      ...names.map((each) => el("option", { value: each }, `to ${each}`)),
    );
    this.keep.hidden = scene.file === null;
    this.showKeys();
    if (this.chosen.length === 0) this.chosen = this.goodChoice();
    this.chooseAgain();
  }

  /** Selects the object with the most values at the start. */
  private goodChoice(): string[] {
    const watched = this.state?.watches.map((watch) => /(?:local:)?([\w-]+)\./.exec(watch.text)?.[1]) ?? [];
    const objects = this.scene?.objects ?? [];
    const found = watched.find((name) => objects.some((object) => object.name === name && object.moves));
    const other = objects.find((object) => object.moves)?.name;
    const name = found ?? other;
    return name === undefined ? [] : [name];
  }

  private setState(state: State): void {
    const old = this.state;
    this.state = state;
    this.clock.setState(state);
    this.readings.setWatches(state.watches);
    this.undo.disabled = !state.undo;
    this.redo.disabled = !state.redo;
    this.keep.disabled = state.changed.length === 0;
    this.keep.textContent = state.changed.length === 0 ? "Keep …" : `Keep ${state.changed.length} …`;
    this.keeping.refresh(state.changed);
    this.tuning.mark(state.changed);
    this.script.mark(state.diagnostics);
    if (old && old.files !== state.files) this.script.again();
    byId("driving").classList.toggle("held", state.held.length > 0);
    this.showKeys();
    this.trouble();
    if (!old && this.chosen.length <= 1 && this.scene) {
      this.chosen = this.goodChoice();
      this.chooseAgain();
    }
    if (old && (old.values !== state.values || old.edition !== state.edition)) this.askObject();
    if (!old || old.values !== state.values || old.edition !== state.edition || (old.playing && !state.playing)) this.askAhead();
    if (JSON.stringify(state.lost) !== JSON.stringify(old?.lost ?? [])) this.say(state.lost.join(" "));
    this.due(true);
  }

  private setMarks(marks: Mark[], from: number): void {
    this.clock.setMarks(marks, from);
  }

  private seeFrame(frame: Frame): void {
    this.frame = frame;
    this.paths.see(frame, this.state?.playing === true);
    this.urges.see();
    this.due(true);
  }

  private seeStretch(stretch: Stretch): void {
    this.paths.hear(stretch);
    this.due(true);
  }

  // --- requests ----------------------------------------------------------------------------------------------------

  private numbers(): number[] {
    const names = this.scene?.objects.map((object) => object.name) ?? [];
    return this.chosen.map((name) => names.indexOf(name)).filter((number) => number >= 0);
  }

  private askAhead(): void {
    this.paths.askAhead(this.state?.playing === true);
  }

  private askObject(): void {
    if (this.chosen[0] === undefined || !this.link.isOpen) return;
    this.objectAsks.push(++this.turn);
    this.link.send({ do: "object", name: this.chosen[0] });
  }

  /** Counts an answer to `askObject`. Returns true where it was requested before the last change of this tab. */
  private isStale(): boolean {
    return (this.objectAsks.shift() ?? 0) < this.lastSet;
  }

  private playOrPause(): void {
    this.link.send({ do: this.state?.playing ? "pause" : "play" });
  }

  private set(path: string, to: string, gesture: number): void {
    this.paths.remember(gesture);
    const isWaiting = this.pending !== undefined;
    if (this.pending && this.pending.path !== path) this.link.send({ do: "set", ...this.pending });
    this.pending = { path, to, gesture };
    this.lastSet = ++this.turn;
    if (isWaiting) return;
    requestAnimationFrame(() => {
      this.lastSet = ++this.turn;
      if (this.pending) this.link.send({ do: "set", ...this.pending });
      this.pending = undefined;
    });
  }

  // --- selection ---------------------------------------------------------------------------------------------------

  private chooseNumber(number: number, besides: boolean): void {
    const name = this.scene?.objects[number]?.name;
    if (name !== undefined) this.choose(name, besides);
  }

  private choose(name: string, besides = false): void {
    const others = this.chosen.filter((each) => each !== name);
    if (!besides) this.chosen = [name];
    else if (others.length < this.chosen.length && this.chosen.length > 1) this.chosen = others;
    else this.chosen = [...others, name].slice(-mostChosen);
    this.chooseAgain();
  }

  private chooseAgain(): void {
    this.objects.value = this.chosen[0] ?? "";
    this.readings.suggest(this.chosen[0]);
    this.paths.choose(this.chosen, this.numbers());
    this.object = undefined;
    this.urges.choose(undefined);
    if (this.chosen.length === 0) this.tuning.clear();
    this.askObject();
    this.paths.askPast();
    this.askAhead();
    this.view.setChosen(this.numbers(), this.colors());
    this.due(true);
  }

  private colors(): string[] {
    const style = getComputedStyle(document.documentElement);
    return this.chosen.map((_, i) => style.getPropertyValue(`--line${(i % 6) + 1}`).trim());
  }

  private colorOf(urge: string, number: number): string {
    const name = urge === "wanted" ? "--ink" : `--line${(number % 6) + 1}`;
    return getComputedStyle(document.documentElement).getPropertyValue(name).trim();
  }

  // --- drawing -----------------------------------------------------------------------------------------------------

  /** The visible time span. It ends at the present while the scene plays, and stays while the user looks back. */
  private span(): Span {
    const { seconds } = this.paths;
    const now = this.frame?.time ?? 0;
    const first = this.history.times[0] ?? 0;
    const last = Math.max(this.history.times.at(-1) ?? 0, now);
    if (seconds === 0) return { from: first, to: Math.max(last, first + 1), now };
    const to = now < last - seconds ? now + seconds / 2 : Math.max(last, first + seconds);
    return { from: to - seconds, to, now };
  }

  private due(withPaths = false): void {
    this.isPathDue ||= withPaths;
    this.drawSoon();
  }

  private draw(): void {
    if (!this.frame) return;
    this.clock.setFrame(this.frame);
    this.readings.show(this.frame, this.history, this.span());
    if (this.isPathDue) this.drawPaths();
    this.isPathDue = false;
    this.view.setFrame(this.frame);
    this.view.setArrows(this.urges.current.map((urge, i) => ({ urge, color: this.colorOf(urge.urge, i) })));
    this.forget.hidden = !this.paths.hasOld;
    this.showDistances();
  }

  private drawPaths(): void {
    const colors = this.colors();
    this.view.setOverlay({
      ghosts,
      paths: this.numbers().map((object, i) => ({ object, color: colors[i] ?? "", ...this.paths.of(i) })),
      lines: this.lined().map((to) => ({ from: this.numbers()[0] ?? 0, to })),
    });
  }

  /** The numbers of the objects to which lines are drawn. */
  private lined(): number[] {
    if (this.chosen.length === 0 || this.lineTo === "") return [];
    const names = this.lineTo === "*" ? (this.object?.behaviours.flatMap((each) => each.dependencies) ?? []) : [this.lineTo];
    const all = this.scene?.objects.map((object) => object.name) ?? [];
    return [...new Set(names)].map((name) => all.indexOf(name)).filter((number) => number >= 0);
  }

  private showDistances(): void {
    const from = this.numbers()[0];
    const poses = this.frame?.poses;
    if (from === undefined || !poses) return;
    const part = (object: number, axis: number): number => poses[object * poseSize + axis] ?? 0;
    byId("between").replaceChildren(
      ...this.lined().flatMap((to) => {
        const [x, y, z] = [0, 1, 2].map((axis) => part(to, axis) - part(from, axis)) as [number, number, number];
        const away = Math.hypot(x, y, z);
        const bearing = away === 0 ? 0 : (Math.atan2(x, z) * 180) / Math.PI;
        return [el("dt", {}, `${this.chosen[0] ?? ""} → ${this.scene?.objects[to]?.name ?? ""}`), el("dd", {}, `${reading(away)} m, bearing ${bearing.toFixed(1)}°`)];
      }),
    );
  }

  private repaint(): void {
    this.view.repaint();
    this.readings.repaint();
    this.clock.repaint();
    this.view.setChosen(this.numbers(), this.colors());
    this.due(true);
  }

  // --- notices -----------------------------------------------------------------------------------------------------

  private say(text: string, isRefusal = false): void {
    const said = byId("said");
    said.textContent = text;
    said.classList.toggle("refusal", isRefusal);
  }

  /** Shows a problem: the server is gone, or the file has errors. */
  private trouble(): void {
    const place = byId("trouble");
    const isGone = !this.link?.isOpen;
    const diagnostics = this.state?.diagnostics ?? null;
    place.hidden = !isGone && diagnostics === null;
    document.body.classList.toggle("gone", isGone);
    if (isGone) {
      place.replaceChildren(el("p", {}, "The connection to the server is lost. The page shows the last frame it received and keeps trying to reconnect."));
    } else if (diagnostics) {
      place.replaceChildren(
        el("p", {}, "The file has errors. The last valid version of the scene keeps playing."),
        el("ul", {}, ...diagnostics.map((each) => el("li", {}, el("code", {}, each.line > 0 ? `${each.file}:${each.line}:${each.column}` : each.file), ` ${each.text}`))),
      );
    }
  }

  private showKeys(): void {
    const view = byId("view");
    const keys = this.scene?.keys ?? [];
    const held = this.state?.held ?? [];
    const isDriving = document.activeElement === view;
    view.classList.toggle("driving", isDriving && keys.length > 0);
    const sign = (name: string): HTMLElement => el("kbd", { class: held.includes(name) ? "down" : "" }, name);
    const names = [...new Set(keys.map((each) => each.key))];
    const grouped = new Map<string, string[]>();
    for (const { key, what } of keys) grouped.set(what, [...(grouped.get(what) ?? []), key]);
    const place = byId("driving");
    if (keys.length === 0) place.replaceChildren("This scene uses no keys.");
    else if (!isDriving) place.replaceChildren("Click the scene to send it these keys: ", ...names.map(sign));
    else
      place.replaceChildren(
        el("strong", {}, "Keys go to the scene; press Escape to stop. "),
        ...[...grouped].flatMap(([what, each]) => [...each.map(sign), ` ${what}  `]),
      );
  }

  // --- setup -------------------------------------------------------------------------------------------------------

  private openKeeping(): void {
    if (this.state && this.state.changed.length > 0 && this.scene?.file !== null) this.keeping.open(this.state.changed);
  }

  private layOut(): void {
    byId("actions").append(this.undo, this.redo, this.keep);
    this.forget.hidden = true;
    byId("choice").append(
      this.objects,
      this.lines,
      this.forget,
      el("p", { class: "hint" }, "Shift-click another object to see its path too."),
    );
    this.objects.addEventListener("change", () => (this.objects.value === "" ? undefined : this.choose(this.objects.value)));
    this.lines.addEventListener("change", () => {
      this.lineTo = this.lines.value;
      this.due(true);
    });
    byId("camera").append(
      button("above", "From above", () => this.view.viewFrom("above")),
      button("side", "From the side", () => this.view.viewFrom("side")),
      button("angle", "At an angle", () => this.view.viewFrom("angle")),
      button("chosen", "Centre the selected object", () => this.view.centreOnSelected()),
      button("+", "Zoom in", () => this.view.zoom(1.25), { "aria-label": "Zoom in" }),
      button("−", "Zoom out", () => this.view.zoom(0.8), { "aria-label": "Zoom out" }),
      button("↺", "Rotate left", () => this.view.turn(-15), { "aria-label": "Rotate left" }),
      button("↻", "Rotate right", () => this.view.turn(15), { "aria-label": "Rotate right" }),
    );
  }

  private listenToKeys(): void {
    const view = byId("view");
    view.addEventListener("pointerdown", () => view.focus());
    view.addEventListener("focus", () => this.showKeys());
    view.addEventListener("blur", () => {
      this.held.releaseAll();
      this.showKeys();
    });
    window.addEventListener("blur", () => this.held.releaseAll());
    view.addEventListener("keydown", (event) => {
      if (event.ctrlKey || event.metaKey || event.altKey) return;
      if (event.key === "Escape") {
        view.blur();
      } else if (event.repeat ? this.held.isHeld(event.key) : this.held.press(event.key)) {
        event.preventDefault();
        event.stopPropagation();
      }
    });
    view.addEventListener("keyup", (event) => this.held.release(event.key));
    document.addEventListener("keydown", (event) => this.shortcut(event));
  }

  private shortcut(event: KeyboardEvent): void {
    const isWord = event.ctrlKey || event.metaKey;
    const done = (act: () => void): void => {
      event.preventDefault();
      act();
    };
    const key = event.key.toLowerCase();
    if (isWord && key === "s") return done(() => this.openKeeping());
    const target = event.target as HTMLElement;
    const isTyping = target.matches("input:not([type=checkbox]), select, textarea, dialog *");
    if (isTyping) return;
    if (isWord && key === "z") return done(() => this.link.send({ do: event.shiftKey ? "redo" : "undo" }));
    if (isWord) return;
    if (event.key === " " && !target.matches("button, summary, input")) return done(() => this.playOrPause());
    if (event.key === "ArrowLeft") return done(() => this.link.send({ do: "step", by: event.shiftKey ? -10 : -1 }));
    if (event.key === "ArrowRight") return done(() => this.link.send({ do: "step", by: event.shiftKey ? 10 : 1 }));
    if (event.key === "Home") return done(() => this.link.send({ do: "again" }));
  }

  /** For tests: the state of the page in numbers. */
  get report(): Record<string, unknown> {
    return {
      frame: this.frame?.current,
      time: this.frame?.time,
      playing: this.state?.playing,
      draws: this.view.draws,
      chosen: this.chosen,
      hasOldPaths: this.paths.hasOld,
      poses: this.frame ? Array.from(this.frame.poses) : [],
      objects: this.scene?.objects.map((object) => object.name) ?? [],
    };
  }
}

const page = new Page();
Object.assign(window, { hushed: page });
