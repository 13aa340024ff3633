// SPDX-License-Identifier: MIT
// Play mode: creates the parts of the page and passes messages of the server to them.

import "uplot/dist/uPlot.min.css";
import "./style.css";

import { Changes } from "./changes";
import { Clock } from "./clock";
import { Distances } from "./distances";
import { button, byId, el, oncePerFrame } from "./dom";
import { keysOf } from "./edits";
import { download, Exports } from "./exports";
import { Handling } from "./handling";
import { Help } from "./help";
import { History } from "./history";
import { Keeping } from "./keeping";
import { Held } from "./keys";
import { Inputs } from "./inputs";
import { cameraButtons, layOutPanes } from "./layout";
import { addressOf, Link } from "./link";
import { Loop } from "./loop";
import { protocol, type Mark, type ObjectMessage, type Order, type SceneMessage, type SceneObject, type State, type Told } from "./messages";
import { reading } from "./format";
import { say, showKeys, showOtherVersion, showReading, showTrouble } from "./notices";
import { ObjectForm } from "./object_form";
import { Objects } from "./objects";
import { Paths } from "./paths";
import { Picker } from "./picker";
import { Readings, type Span } from "./readings";
import { Rules } from "./rules";
import { ScriptEditor } from "./script";
import { lineColor, Selection } from "./selection";
import { listenToKeys, listenToScene } from "./shortcuts";
import type { PathMoment, Trail } from "./trails";
import { Tries } from "./tries";
import { Finder } from "./finder";
import { Tuning } from "./tuning";
import { Urges } from "./urges";
import { View } from "./view";
import { Wide } from "./wide";
import type { Frame, Stretch } from "./wire";

class Page {
  private scene?: SceneMessage;
  private state?: State;
  private frame?: Frame;
  private object?: ObjectMessage;
  private marks: Mark[] = [];
  private readonly drawSoon = oncePerFrame(() => this.draw());
  private isPathDue = false;

  private readonly history = new History();
  private readonly paths = new Paths(this.history, (order) => this.link.send(order));
  private readonly urges = new Urges((order) => this.link.send(order));
  private readonly link: Link;
  private readonly view: View;
  private readonly clock: Clock;
  private readonly readings: Readings;
  private readonly wide: Wide;
  private readonly loop = new Loop((order) => this.link.send(order));
  private readonly tuning: Tuning;
  private readonly keeping: Keeping;
  private readonly selection = new Selection(() => this.showSelection());
  private readonly changes = new Changes({
    send: (order) => this.link.send(order),
    change: (order) => this.loop.change(() => this.link.send(order)),
    begin: (gesture) => {
      if (this.paths.remember(gesture)) this.history.remember();
    },
  });
  private readonly picker: Picker;
  private readonly form: ObjectForm;
  private readonly rules: Rules;
  private readonly handling: Handling;
  private readonly tries: Tries;
  private readonly finder: Finder;
  private readonly inputs = new Inputs(byId("input"), (order) => this.link.send(order));
  private readonly exports: Exports;
  private readonly script: ScriptEditor;
  private readonly held: Held;

  private readonly undo = button("Undo", "Undo the last change (Ctrl+Z)", () => this.sendAfterChanges({ do: "undo" }));
  private readonly redo = button("Redo", "Redo the change (Ctrl+Shift+Z)", () => this.sendAfterChanges({ do: "redo" }));
  private readonly keep = button("Keep …", "Write tuned values into the file (Ctrl+S)", () => this.openKeeping());
  private readonly forget = button("Clear old paths", "Remove the paths from before the change", () => {
    this.paths.forgetOld();
    this.history.forget();
    this.due(true);
  });
  private readonly objects = new Objects(byId("objects"), (name, besides) => this.selection.choose(name, besides));
  private readonly selected = el("h2", { id: "object" });
  private readonly distances = new Distances(() => this.due(true));
  private readonly tools = el(
    "span",
    { class: "object-tools", role: "group", "aria-label": "The selected object" },
    button("edit", "Name, parent and tags", () => this.withSelected((object) => this.form.edit(object))),
    button("copy", "Add a copy of it", () => this.withSelected((object) => this.form.copy(object))),
    button("delete", "Remove it from the scene", () => this.withSelected((object) => this.form.remove(object))),
    button("+ object", "Add an object in the middle of the scene", () => this.form.add(this.view.middle)),
  );

  constructor() {
    this.view = new View(byId("view"), {
      choose: (object, besides) => this.selection.chooseNumber(object, besides),
      goTo: (moment) => {
        const frame = this.frameOf(moment);
        if (frame !== undefined) this.link.send({ do: "show", frame });
        return frame !== undefined;
      },
      describe: (moment) => this.describe(moment),
      drawn: () => this.handling?.place(),
    });
    this.handling = new Handling(byId("view"), this.view, {
      set: (path, to, gesture) => this.changes.set(path, to, gesture),
      edits: this.changes,
    });
    this.clock = new Clock(byId("clock"), byId("happened"), this.history, {
      playOrPause: () => this.playOrPause(),
      step: (by) => this.link.send({ do: "step", by }),
      show: (frame) => this.link.send({ do: "show", frame }),
      again: () => this.link.send({ do: "again" }),
      rhythm: (change) => this.link.send({ do: "rhythm", ...change }),
      loop: (stretch) => this.loop.set(stretch),
      setWindow: (seconds) => {
        this.paths.seconds = seconds;
        this.askAhead();
        this.due(true);
      },
    });
    this.readings = new Readings(byId("readings"), {
      watch: (watches) => this.link.send({ do: "watch", watches }),
      goTo: (time) => this.showTime(time),
      open: (watch, firstColumn) => this.wide.toggle(watch, firstColumn),
    });
    this.wide = new Wide(byId("wide"), this.history, (time) => this.showTime(time));
    this.tuning = new Tuning(byId("stack"), {
      set: (path, to, gesture) => this.changes.set(path, to, gesture),
      reset: (path) => this.changes.reset(path),
      editScript: (behaviour) => this.script.open(behaviour),
      find: (sought) => this.finder.look(sought),
      addBehaviour: () => this.link.send({ do: "kinds", object: this.selection.first }),
      edits: this.changes,
    });
    this.picker = new Picker(document.body, (kind) => {
      const { name, behaviours } = this.object ?? { name: "", behaviours: [] };
      this.changes.make([{ edit: "add behaviour", object: name, keys: keysOf(kind, behaviours) }]);
    });
    this.form = new ObjectForm(document.body, this.changes, (name) => this.selection.expect(name));
    this.rules = new Rules(byId("rules"), {
      send: (order) => this.link.send(order),
      edits: this.changes,
      goTo: (time) => this.showTime(time),
    });
    this.tuning.clear();
    this.keeping = new Keeping(document.body, {
      plan: (values) => this.sendAfterChanges({ do: "plan", values }),
      keep: (values) => this.sendAfterChanges({ do: "keep", values }),
    });
    this.script = new ScriptEditor(byId("script"), {
      read: (behaviour) => this.link.send({ do: "script", behaviour }),
      write: (behaviour, version, text) => this.link.send({ do: "write", behaviour, version, text }),
    });
    this.tries = new Tries(byId("tries"), {
      send: (order) => this.link.send(order),
      compare: (tries) => this.paths.askTries(tries),
      keep: () => this.openKeeping(),
      changed: () => {
        this.paths.forgetTries();
        this.due(true);
      },
    });
    this.finder = new Finder(byId("find"), {
      send: (order) => this.link.send(order),
      watched: () => this.state?.watches.flatMap((watch) => watch.columns.map((column) => column.name)) ?? [],
      compare: (name) => this.tries.compareWithNow(name),
    });
    this.exports = new Exports(document.body, this.history, {
      send: (order) => this.link.send(order),
      sceneCanvas: () => this.view.picture,
      curveCanvas: () => this.wide.picture,
      state: () => this.state,
      file: () => this.scene?.file ?? "scene.toml",
      stretch: () => ({ first: this.frame?.first ?? 0, last: this.frame?.last ?? 0, seconds: this.history.times.at(-1) ?? 0 }),
      chosen: () => this.selection.names,
    });
    this.held = new Held(
      () => new Set(this.scene?.keys.map((each) => each.key)),
      (what, key) => this.link.send({ do: what, key }),
    );
    this.layOut();
    layOutPanes(this.view, () => this.due());
    listenToScene(byId("view"), this.held, () => this.showKeys());
    listenToKeys({
      keep: () => this.openKeeping(),
      undo: () => this.sendAfterChanges({ do: "undo" }),
      redo: () => this.sendAfterChanges({ do: "redo" }),
      playOrPause: () => this.playOrPause(),
      step: (by) => this.link.send({ do: "step", by }),
      again: () => this.link.send({ do: "again" }),
    });
    matchMedia("(prefers-color-scheme: dark)").addEventListener("change", () => this.repaint());
    this.link = new Link(addressOf(new URL(location.href)), {
      connected: () => this.trouble(),
      gone: () => {
        this.changes.giveUp();
        this.paths.giveUp();
        this.trouble();
      },
      told: (message) => this.hear(message),
      frame: (frame) => this.seeFrame(frame),
      stretch: (stretch) => this.seeStretch(stretch),
      file: ({ name, content }) => download(name, content),
      model: (model) => void this.view.setModel(model, () => this.scene),
    });
  }

  /** Sends an order about changes, after those that wait for the next frame. */
  private sendAfterChanges(order: Order): void {
    this.changes.flush();
    this.link.send(order);
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
        if (this.changes.isStale() || message.name !== this.selection.first) return;
        this.object = message;
        this.tuning.show(message);
        this.handling.setObject(message);
        this.urges.choose(message.behaviours.some((each) => each.kind === "steer") ? message.name : undefined);
        return this.due(true);
      case "kinds":
        return this.picker.open(message);
      case "comparison":
        return this.tries.hear(message);
      case "measures":
        return this.finder.setKinds(message.measures);
      case "measured":
        return this.finder.measured(message);
      case "finding":
        return this.finder.finding(message.plays);
      case "found":
        return this.finder.found(message);
      case "rules":
        return this.rules.hear(message.rules);
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
        return say(message.text);
      case "refused":
        if (message.do === "object") this.changes.isStale();
        if (message.do === "past") this.paths.giveUp();
        if (message.do === "ahead" || message.do === "past") return;
        if (message.do === "find" || message.do === "measure") return this.finder.refused(message.text);
        if (message.do === "write") return this.script.refused(message.text);
        say(message.text, true);
        if (message.do === "set") this.askObject(); // restores the input: the value was refused
    }
  }

  private setScene(scene: SceneMessage): void {
    if (scene.protocol !== protocol) {
      this.link.close();
      return showOtherVersion();
    }
    this.scene = scene;
    const name = scene.name || scene.file || "a scene";
    document.title = `${name} · Hushed Orbit`;
    byId("name").textContent = name;
    byId("file").textContent = scene.file ?? "scene of a running program";
    this.tuning.setEasings(scene.easings);
    this.view.setScene(scene);
    for (const model of this.view.missingModels) this.link.send({ do: "model", model });
    const names = scene.objects.map((object) => object.name);
    this.objects.setObjects(scene.objects);
    this.distances.setObjects(names);
    this.form.setObjects(scene.objects);
    this.handling.setScene(scene);
    this.inputs.setAxes(scene.axes);
    const isFile = scene.file !== null;
    this.keep.hidden = !isFile;
    this.tools.hidden = !isFile;
    this.tuning.allowEdits(isFile);
    this.showKeys();
    this.selection.setObjects(scene.objects, this.state?.watches ?? []);
  }

  private setState(state: State): void {
    const old = this.state;
    this.state = state;
    this.clock.setState(state);
    this.readings.setWatches(state.watches);
    if (JSON.stringify(state.watches) !== JSON.stringify(old?.watches)) this.wide.setWatches(this.readings.columns);
    this.undo.disabled = !state.undo;
    this.redo.disabled = !state.redo;
    const count = state.changed.length + state.edits.length;
    this.keep.disabled = count === 0;
    this.keep.textContent = count === 0 ? "Keep …" : `Keep ${count} …`;
    this.keeping.refresh(state.changed, state.edits);
    this.rules.ask(true);
    this.tries.setTries(state.tries);
    if (old && (old.values !== state.values || old.edition !== state.edition)) this.tries.again();
    if (old && JSON.stringify(old.changed) !== JSON.stringify(state.changed)) this.finder.again();
    this.tuning.mark(state.changed);
    this.script.mark(state.diagnostics);
    if (old && old.files !== state.files) this.script.again();
    this.showKeys();
    this.trouble();
    showReading(state.reading);
    if (!old && this.selection.names.length <= 1 && this.scene) this.selection.chooseWell(state.watches);
    if (old && (old.values !== state.values || old.edition !== state.edition)) this.askObject();
    if (!old || old.values !== state.values || old.edition !== state.edition || (old.playing && !state.playing)) this.askAhead();
    if (JSON.stringify(state.lost) !== JSON.stringify(old?.lost ?? [])) say(state.lost.join(" "));
    this.due(true);
  }

  private setMarks(marks: Mark[], from: number): void {
    this.marks = [...this.marks.slice(0, from), ...marks];
    this.clock.setMarks(marks, from);
    this.rules.setMarks(this.marks);
  }

  private seeFrame(frame: Frame): void {
    this.frame = frame;
    this.paths.see(frame, this.state?.playing === true);
    this.loop.see(frame, this.state?.playing === true);
    this.urges.see();
    this.rules.ask(this.state?.playing !== true);
    this.due(true);
  }

  private seeStretch(stretch: Stretch): void {
    this.paths.hear(stretch);
    this.due(true);
  }

  // --- requests ----------------------------------------------------------------------------------------------------

  private askAhead(): void {
    this.paths.askAhead(this.state?.playing === true);
  }

  private askObject(): void {
    if (this.selection.first !== undefined && this.link.isOpen) this.changes.askObject(this.selection.first);
  }

  private showTime(time: number): void {
    this.link.send({ do: "show", frame: this.history.frameAt(time) ?? 0 });
  }

  private playOrPause(): void {
    this.link.send({ do: this.state?.playing ? "pause" : "play" });
  }

  // --- selection ---------------------------------------------------------------------------------------------------

  private showSelection(): void {
    const { selection } = this;
    this.objects.mark(selection.names);
    this.selected.textContent = selection.first ?? "no object";
    this.readings.suggest(selection.first);
    this.paths.choose(selection.names, selection.numbers);
    this.object = undefined;
    this.handling.setObject(undefined);
    this.urges.choose(undefined);
    if (selection.first === undefined) this.tuning.clear();
    this.askObject();
    this.paths.askPast();
    this.askAhead();
    this.tries.again();
    this.view.setChosen(selection.numbers, selection.colors);
    this.due(true);
  }

  private withSelected(act: (object: SceneObject) => void): void {
    const { object } = this.selection;
    if (object) act(object);
  }

  private colorOf(urge: string, number: number): string {
    return urge === "wanted" ? getComputedStyle(document.documentElement).getPropertyValue("--ink").trim() : lineColor(number);
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
    const span = this.span();
    this.readings.show(this.frame, this.history, span);
    this.wide.show(span, this.marks);
    if (this.isPathDue) this.drawPaths();
    this.isPathDue = false;
    this.view.setFrame(this.frame);
    this.handling.setFrame(this.frame);
    this.view.setArrows(this.urges.current.map((urge, i) => ({ urge, color: this.colorOf(urge.urge, i) })));
    this.forget.hidden = !this.paths.hasOld;
    const from = this.selection.numbers[0];
    if (from !== undefined) this.distances.show(this.frame, from, this.lined());
  }

  private drawPaths(): void {
    const { numbers, colors } = this.selection;
    this.view.setOverlay({
      paths: this.tries.names ? this.trailsOfTries() : numbers.map((object, i) => ({ object, color: colors[i] ?? "", ...this.paths.of(i) })),
      lines: this.lined().map((to) => ({ from: numbers[0] ?? 0, to })),
    });
  }

  /** The paths of the selected objects in both tries that are compared. */
  private trailsOfTries(): Trail[] {
    return [0, 1].flatMap((which) =>
      this.selection.numbers.flatMap((object, i) => {
        const past = this.paths.ofTry(which, i);
        return past ? [{ object, color: lineColor(which), past }] : [];
      }),
    );
  }

  /** The numbers of the objects to which lines are drawn. */
  private lined(): number[] {
    return this.selection.first === undefined ? [] : this.distances.to(this.object?.behaviours.flatMap((each) => each.dependencies) ?? []);
  }

  /** The frame of a moment of a path, unless it lies in the future. */
  private frameOf({ time, isAhead }: PathMoment): number | undefined {
    const isFuture = isAhead && this.frame?.current === this.frame?.last;
    return isFuture ? undefined : this.history.frameAt(time - 1e-9);
  }

  private describe(moment: PathMoment): string {
    const frame = this.frameOf(moment);
    const words = `${this.scene?.objects[moment.object]?.name ?? ""} at ${moment.time.toFixed(2)} s, ${reading(moment.speed)} m/s`;
    return frame === undefined ? `${words}, not played yet` : `${words}, frame ${frame}`;
  }

  private repaint(): void {
    this.view.repaint();
    this.readings.repaint();
    this.clock.repaint();
    this.view.setChosen(this.selection.numbers, this.selection.colors);
    this.due(true);
  }

  // --- notices -----------------------------------------------------------------------------------------------------

  private trouble(): void {
    showTrouble(!this.link?.isOpen, this.state?.diagnostics ?? null);
  }

  private showKeys(): void {
    showKeys(this.scene?.keys ?? [], this.state?.held ?? [], document.activeElement === byId("view"));
  }

  // --- setup -------------------------------------------------------------------------------------------------------

  private openKeeping(): void {
    if (this.state && !this.keep.disabled && this.scene?.file !== null) this.keeping.open(this.state.changed, this.state.edits);
  }

  private layOut(): void {
    byId("actions").append(this.undo, this.redo, this.keep, new Help().opener);
    this.forget.hidden = true;
    byId("choice").append(
      this.selected,
      this.tools,
      this.handling.choice,
      this.distances.choice,
      this.forget,
    );
    byId("camera").append(
      this.rules.pane.opener,
      this.tries.pane.opener,
      this.finder.pane.opener,
      this.inputs.pane.opener,
      this.exports.opener,
      ...cameraButtons(this.view),
    );
  }

  /** For tests: the state of the page in numbers. */
  get report(): Record<string, unknown> {
    return {
      frame: this.frame?.current,
      time: this.frame?.time,
      playing: this.state?.playing,
      draws: this.view.draws,
      chosen: this.selection.names,
      changed: this.state?.changed.length,
      hasOldPaths: this.paths.hasOld,
      poses: this.frame ? Array.from(this.frame.poses) : [],
      missingModels: this.view.missingModels.length,
      objects: this.scene?.objects.map((object) => object.name) ?? [],
      colours: Object.fromEntries(this.scene?.objects.map((object) => [object.name, object.shape?.colour]) ?? []),
    };
  }
}

const page = new Page();
Object.assign(window, { hushed: page });
