// SPDX-License-Identifier: MIT
// Editing the structure of a scene on the page, checked through the file and the messages.
// TOOL=build/dev/src/cli/hushed node --test page/tests/browser/editing.mjs

import assert from "node:assert/strict";
import { execFileSync } from "node:child_process";
import { readFileSync } from "node:fs";
import { test } from "node:test";

import { choose, open, place, play, report, serve, tool, until } from "./support.mjs";

/** Writes all changes into the file by the dialog, once it shows a text that they contain. */
async function keepAll(page, text = "") {
  await page.getByRole("button", { name: /^Keep \d+ …$/ }).click();
  await page.getByRole("dialog").locator("pre", { hasText: text }).first().waitFor();
  await page.getByRole("button", { name: "Write these lines" }).click();
  await page.getByRole("button", { name: "Keep …", exact: true }).waitFor(); // nothing is left to be kept
}

const cards = (page) => page.locator("#stack .card").evaluateAll((all) => all.map((card) => card.getAttribute("aria-label")));
const untilCards = (page, expected) => until(page, `the stack ${expected}`, async () => JSON.stringify(await cards(page)) === JSON.stringify(expected));

test("adds, moves, switches off and removes behaviours, undone and kept in the file", async (t) => {
  const server = await serve(t);
  const text = server.read();
  const page = await open(t, server);
  await choose(page, "lamp");
  await page.getByRole("button", { name: "+ behaviour" }).click();
  await page.getByRole("searchbox", { name: "Find a behaviour" }).fill("oscillates");
  await page.keyboard.press("Enter");
  await untilCards(page, ["lamp.spin, spin", "lamp.sway, sway"]);
  await page.getByRole("button", { name: "Move lamp.sway", exact: true }).press("ArrowLeft");
  await untilCards(page, ["lamp.sway, sway", "lamp.spin, spin"]);

  await page.getByRole("button", { name: "lamp.sway alone" }).click();
  const isOn = (name) => page.getByRole("checkbox", { name: `lamp.${name} is on` }).isChecked();
  await until(page, "the sway alone", async () => !(await isOn("spin")) && (await isOn("sway")));
  await page.getByRole("button", { name: "Undo" }).click();
  await until(page, "both", async () => (await isOn("spin")) && (await isOn("sway")));

  await page.getByRole("button", { name: "Undo" }).click();
  await untilCards(page, ["lamp.spin, spin", "lamp.sway, sway"]);
  await page.getByRole("button", { name: "Redo" }).click();
  await untilCards(page, ["lamp.sway, sway", "lamp.spin, spin"]);
  assert.equal(server.read(), text, "nothing is written before it is asked for");
  await keepAll(page);
  const sway = '[[object.lamp.behaviour]]\nkind      = "sway"\namplitude = [0, 0.5, 0]\nfrequency = 0.5\n\n';
  const spin = '[[object.lamp.behaviour]]\nkind  = "spin"';
  assert.equal(server.read(), text.replace(spin, sway + spin));

  await page.getByRole("button", { name: "Remove lamp.sway" }).click();
  await untilCards(page, ["lamp.spin, spin"]);
  await keepAll(page);
  assert.equal(server.read(), text);
});

test("adds, renames, copies and deletes objects; those in use are not deleted", async (t) => {
  const server = await serve(t);
  const text = server.read();
  const page = await open(t, server);
  await page.getByRole("button", { name: "+ object" }).click();
  const form = page.getByRole("dialog");
  await form.getByLabel("name").fill("barrel");
  await form.getByLabel("shape").selectOption("cylinder");
  await form.getByRole("button", { name: "Add" }).click();
  await until(page, "a barrel", (now) => now.objects.includes("barrel") && now.chosen[0] === "barrel");

  await choose(page, "ferry");
  await page.getByRole("group", { name: "The selected object" }).getByRole("button", { name: "delete" }).click();
  await page.locator("#said.refusal").getByText(/ferry/).waitFor();

  await page.getByRole("group", { name: "The selected object" }).getByRole("button", { name: "copy" }).click();
  await until(page, "another ferry", (now) => now.chosen[0] === "ferry-2");
  const moment = await report(page);
  await page.getByRole("group", { name: "The selected object" }).getByRole("button", { name: "edit" }).click();
  await form.getByLabel("name").fill("packet");
  await form.getByLabel("tags").fill("boat, post");
  await page.keyboard.press("Enter");
  const renamed = await until(page, "the packet", (now) => now.chosen[0] === "packet" && !now.objects.includes("ferry-2"));
  assert.deepEqual(place(renamed, "packet"), place(moment, "ferry-2"));

  await choose(page, "tug");
  await page.getByRole("group", { name: "The selected object" }).getByRole("button", { name: "edit" }).click();
  await form.getByLabel("parent").selectOption("packet");
  await form.getByRole("button", { name: "Apply" }).click();
  await page.getByRole("button", { name: "Keep 5 …" }).waitFor();
  await keepAll(page);
  const now = server.read();
  assert.match(now, /\n\[object\.barrel\]\nposition = \[.*\]\nshape {4}= \{ kind = "cylinder", size = 1, colour = "gold" \}\n/);
  assert.match(now, /\n\[object\.packet\]\ntags {2}= \["boat", "post"\]\n/);
  assert.match(now, /\n\[object\.tug\]\n[^[]*(\[[^\]]*\][^[]*)*parent {3}= "packet"\n/);
  const comments = (all) => all.split("\n").filter((line) => line.startsWith("#"));
  assert.deepEqual(comments(now), comments(text));
  execFileSync(tool, ["play", server.file, "--seconds", "1"], { stdio: "ignore" });
});

test("drags a waypoint with the old path beside the new, adds one and types another", async (t) => {
  const server = await serve(t);
  const text = server.read();
  const page = await open(t, server);
  await choose(page, "ferry");
  const second = page.getByRole("button", { name: "route points 2" });
  const box = await second.boundingBox();
  const [x, y] = [box.x + box.width / 2, box.y + box.height / 2];
  await page.mouse.move(x, y);
  await page.mouse.down();
  for (let i = 1; i <= 10; ++i) await page.mouse.move(x + 3 * i, y - i);
  const dragged = await until(page, "the path as it was", (now) => now.hasOldPaths && now.changed === 1);
  await until(page, "the handle is where the pointer is", async () => {
    const there = await second.boundingBox();
    return Math.hypot(there.x + there.width / 2 - x - 30, there.y + there.height / 2 - y + 10) < 4;
  });
  await page.mouse.up();
  assert.equal(dragged.changed, 1);

  // One drag is one step of undo.
  await page.locator("#name").click();
  await page.keyboard.press("Control+z");
  await until(page, "as it was", (now) => now.changed === 0);

  await page.getByRole("button", { name: "Add a point after points 2" }).click();
  await page.getByRole("button", { name: "route points 5" }).waitFor();
  await page.getByRole("button", { name: "route points 3" }).press("Enter");
  await page.getByRole("textbox", { name: "points 3, numbers" }).fill("-6, 0, -18");
  await page.keyboard.press("Enter");
  // A pause belongs to each point.
  const route = page.getByRole("region", { name: "ferry.route" });
  await route.getByLabel("pause", { exact: true }).waitFor();
  const points = route.getByLabel("points", { exact: true });
  await until(page, "the typed point is known", async () => (await points.inputValue()).includes("[-6, 0, -18]"));
  // The dialog asks for its plan after the change of the same frame.
  const sent = await page.getByRole("button", { name: "route points 1" }).evaluate((handle) => {
    const { link } = window.hushed;
    const kinds = [];
    link.send = (order) => {
      kinds.push(order.do);
      Object.getPrototypeOf(link).send.call(link, order);
    };
    handle.dispatchEvent(new KeyboardEvent("keydown", { key: "ArrowRight", bubbles: true }));
    handle.dispatchEvent(new KeyboardEvent("keydown", { key: "s", ctrlKey: true, bubbles: true }));
    delete link.send;
    return kinds.filter((kind) => kind === "set" || kind === "plan");
  });
  assert.deepEqual(sent, ["set", "plan"]);
  await page.keyboard.press("Escape");
  await keepAll(page, "20.1, 0, -4");
  assert.equal(
    server.read().match(/kind {3}= "route"\npoints = (.*)/)[1],
    "[[20.1, 0, -4], [6, 0, -16], [-6, 0, -18], [-18, 0, -12], [-4, 0, -2]]",
  );
  assert.equal(server.read().split("\n").length, text.split("\n").length);
});

test("adds and removes a waypoint of a route without pauses", async (t) => {
  const server = await serve(t);
  server.write(server.read().replace("pause  = [4, 0, 4, 0]\n", ""));
  const page = await open(t, server);
  await choose(page, "ferry");
  await page.getByRole("button", { name: "Add a point after points 4" }).click(); // the way back to the first
  await page.getByRole("button", { name: "route points 5" }).waitFor();
  await page.getByRole("button", { name: "route points 2" }).press("Delete");
  await page.getByRole("button", { name: "route points 5" }).waitFor({ state: "detached" });
  await keepAll(page);
  assert.equal(server.read().match(/kind {3}= "route"\npoints = (.*)/)[1], "[[20, 0, -4], [-18, 0, -12], [-4, 0, -2], [8, 0, -3]]");
});

test("moves an object by the handle of its rest position, along the vertical with Shift, and by keys", async (t) => {
  const server = await serve(t);
  const page = await open(t, server);
  await choose(page, "lighthouse");
  const before = place(await report(page), "lighthouse");
  const rest = page.getByRole("button", { name: "rest position" });
  const box = await rest.boundingBox();
  await page.mouse.move(box.x + 7, box.y + 7);
  await page.keyboard.down("Shift");
  await page.mouse.down();
  for (let i = 1; i <= 5; ++i) await page.mouse.move(box.x + 7, box.y + 7 - 8 * i);
  await page.mouse.up();
  await page.keyboard.up("Shift");
  const after = await until(page, "it is higher", (now) => place(now, "lighthouse")[1] > before[1] + 0.5);
  assert.equal(place(after, "lighthouse")[0], before[0]);
  await page.getByRole("button", { name: "Undo" }).click();
  await until(page, "as before", (now) => place(now, "lighthouse")[1] === before[1]);
  assert.equal(await page.getByRole("button", { name: "Undo" }).isDisabled(), true, "one drag is one edit");

  // Keys that are pressed faster than the server answers all count.
  await rest.evaluate((handle) => {
    for (let i = 0; i < 3; ++i) handle.dispatchEvent(new KeyboardEvent("keydown", { key: "ArrowRight", bubbles: true }));
  });
  await until(page, "it is 0.3 m to the right", (now) => Math.abs(place(now, "lighthouse")[0] - before[0] - 0.3) < 1e-6);
});

test("turns an object by its handles, compares it with before, keeps it, and undoes what was kept", async (t) => {
  const server = await serve(t);
  const before = server.read();
  const page = await open(t, server);
  await choose(page, "lighthouse");
  await page.getByRole("button", { name: "tries", exact: true }).click();
  const tries = page.getByRole("region", { name: "Tries" });
  await tries.getByRole("button", { name: "Keep the present values as a try" }).click();
  await tries.getByRole("button", { name: "Use try A" }).waitFor();

  await page.getByRole("button", { name: "rest roll" }).press("Enter");
  await page.getByRole("textbox", { name: "rest roll, numbers" }).fill("15");
  await page.keyboard.press("Enter");
  await page.getByRole("button", { name: "Keep 1 …" }).waitFor();
  await tries.getByLabel("First try").selectOption("A");
  await tries.getByLabel("Second try").selectOption("now");
  await tries.getByRole("button", { name: "Compare" }).click();
  await tries.getByText("They differ in objects, behaviours or rules, too.").waitFor();
  await tries.getByRole("row").filter({ hasText: /^lamp/ }).filter({ hasText: " m at " }).waitFor(); // it stands on the tower
  await keepAll(page);
  assert.match(server.read(), /\n\[object\.lighthouse\]\n(?:[^[\n][^\n]*\n)*rotation = \[0, 0, 15\]\n/);

  await page.getByRole("button", { name: "Undo" }).click();
  await page.getByRole("button", { name: "Keep 1 …" }).waitFor();
  await keepAll(page);
  assert.equal(server.read(), before);
});

test("shows which conditions of rules hold, fires one by hand, and switches one off", async (t) => {
  const server = await serve(t);
  const page = await open(t, server);
  await play(page).click();
  await page.getByRole("button", { name: "rules", exact: true }).click();
  const rules = page.getByRole("region", { name: "Rules" });
  const flag = rules.getByRole("listitem").filter({ hasText: "flag-goes-up" }).first();
  await flag.getByRole("button", { name: /s$/ }).waitFor(); // it has fired by itself
  await page.getByRole("button", { name: "Pause", exact: true }).click();
  await flag.getByRole("img", { name: "holds", exact: true }).or(flag.getByRole("img", { name: "does not hold" })).waitFor();
  const before = await until(page, "a halt", (now) => !now.playing);
  await rules.getByRole("button", { name: "Fire bell-rings" }).click();
  await page.keyboard.press("Escape");
  await page.locator("#name").click();
  for (let i = 0; i < 30; ++i) await page.keyboard.press("ArrowRight");
  await until(page, "the bell rings", (now) => now.frame >= before.frame + 30 && place(now, "bell").join() !== place(before, "bell").join());

  await page.getByRole("button", { name: "rules", exact: true }).click();
  await rules.getByRole("checkbox", { name: "bell-rings is on" }).click(); // the list is drawn anew with what the server says
  await page.getByRole("button", { name: "Keep 1 …" }).waitFor();
  await keepAll(page);
  assert.match(server.read(), /do {3}= \[\{ start = "bell\.ring" \}\]\nenabled = false\n/);
});

test("says so where the server is of another version", async (t) => {
  const server = await serve(t);
  const page = await open(t, server, undefined, 10, (context) =>
    context.addInitScript(() => {
      const parse = JSON.parse;
      JSON.parse = (text) => {
        const made = parse(text);
        if (made?.kind === "scene" && window.isOtherVersion) made.protocol += 1;
        return made;
      };
    }),
  );
  await page.evaluate(() => (window.isOtherVersion = true));
  await server.stop();
  await server.start(new URL(server.address).port);
  await page.getByText("This page is of another version than the server.").waitFor();
  await page.getByRole("button", { name: "Load it again" }).click();
  await page.getByText(/^frame \d+$/).waitFor();
});

test("shows numbers that are 0, too", async (t) => {
  const page = await open(t, await serve(t));
  await choose(page, "gull");
  const amplitude = page.getByRole("region", { name: "gull.sway, sway" }).getByRole("spinbutton", { name: /^amplitude/ });
  await until(page, "all three", async () => (await amplitude.evaluateAll((all) => all.map((box) => box.value).join())) === "0,0.3,0");
});

test("keeps two tries, compares them from one frame, and goes back to the first", async (t) => {
  const server = await serve(t);
  const page = await open(t, server);
  await choose(page, "hook");
  const damping = page.getByRole("region", { name: "hook.spring" }).getByRole("spinbutton", { name: "damping" });
  const first = await damping.inputValue();
  await page.getByRole("button", { name: "tries", exact: true }).click();
  const tries = page.getByRole("region", { name: "Tries" });
  await tries.getByRole("button", { name: "Keep the present values as a try" }).click();
  await tries.getByRole("button", { name: "Use try A" }).waitFor();
  await damping.fill("0.9");
  await damping.press("Enter");
  await page.getByRole("button", { name: "Keep 1 …" }).waitFor();
  await tries.getByRole("button", { name: "Keep the present values as a try" }).click();
  await tries.getByRole("button", { name: "Use try B" }).waitFor();
  await tries.getByLabel("First try").selectOption("A");
  await tries.getByLabel("Second try").selectOption("B");
  await tries.getByRole("button", { name: "Compare" }).click();
  await tries.getByRole("row").filter({ hasText: "hook.spring.damping" }).filter({ hasText: "0.9" }).waitFor();
  await tries.getByRole("row").filter({ hasText: /^hook/ }).filter({ hasText: " m at " }).waitFor();
  await tries.getByRole("button", { name: "Use try A" }).click();
  await until(page, "the first values", async (now) => now.changed === 0 && (await damping.inputValue()) === first);

  const [file] = await Promise.all([page.waitForEvent("download"), tries.getByRole("button", { name: "Scene file of try B" }).click()]);
  const saved = readFileSync(await file.path(), "utf8");
  assert.equal(file.suggestedFilename(), "harbour-B.toml");
  assert.equal(saved, server.read().replace(/(frequency = 0\.35\ndamping {3}= )[\d.]+/, "$10.9"));
  assert.notEqual(saved, server.read());
});

test("finds the value for a wish, as a try that is used", async (t) => {
  const server = await serve(t);
  const page = await open(t, server);
  await choose(page, "hook");
  const spring = page.getByRole("region", { name: "hook.spring" });
  const damping = spring.getByRole("spinbutton", { name: "damping" });
  await spring.getByRole("button", { name: "Find hook.spring.damping" }).click();
  const finder = page.getByRole("region", { name: "Find a value" });
  await finder.getByLabel("Measure", { exact: true }).selectOption("least");
  await finder.getByLabel("Of what").fill("hook.position.x");
  await finder.getByLabel("Of what").press("Tab");
  // what the command prints
  const measure = ["--measure", "least(hook.position.x)", "--format", "csv"];
  const least = (more) => Number(execFileSync(tool, ["play", "harbour.toml", ...measure, ...more], { cwd: server.folder }).toString().split("\n")[1].split(",")[1]);
  const printed = least([]);
  await until(page, "it is measured", async () => Math.abs(Number(/Now: ([\d.]+) m/.exec(await finder.locator(".now").textContent())?.[1]) - printed) < 1e-4);
  await finder.getByLabel("Wanted", { exact: true }).fill("13.5");
  await finder.getByRole("button", { name: "Find", exact: true }).click();
  await finder.getByText("It is try A").waitFor({ timeout: 60_000 });
  assert.equal(await damping.inputValue(), "0.12", "nothing is set yet");
  await finder.getByRole("button", { name: "Use" }).click();
  await until(page, "it is set", async () => (await damping.inputValue()) !== "0.12");
  const reached = least(["--set", `hook.spring.damping=${await damping.inputValue()}`]);
  assert.ok(Math.abs(reached - 13.5) < 0.0135, `${reached}`);

  await finder.getByLabel("Of what").fill("hok.position.x");
  await finder.getByLabel("Of what").press("Tab");
  await finder.getByText("no object \"hok\"").waitFor();
});

test("exports pictures, readings and recordings that are those of the command", async (t) => {
  const server = await serve(t);
  const page = await open(t, server);
  for (let i = 0; i < 20; ++i) await page.keyboard.press("ArrowRight");
  await until(page, "frame 20", (now) => now.frame === 20);
  await until(page, "all frames are known", () => page.evaluate(() => window.hushed.history.frames.length === 21));
  await page.getByRole("button", { name: "export", exact: true }).click();
  const dialog = page.getByRole("dialog", { name: "Export" });
  const saved = async (name) => {
    const [file] = await Promise.all([page.waitForEvent("download"), dialog.getByRole("button", { name }).click()]);
    return readFileSync(await file.path());
  };
  const readings = (await saved("Readings, CSV")).toString();
  const command = await dialog.locator("code").filter({ hasText: "--format csv" }).textContent();
  const printed = execFileSync("sh", ["-c", command.replace(/^hushed/, tool).replace(/ > .*/, "")], { cwd: server.folder }).toString();
  const numbers = (text) => text.trim().split("\n").slice(1).map((line) => line.split(",").map(Number));
  assert.deepEqual(readings.split("\n")[0], printed.split("\n")[0]);
  assert.equal(numbers(readings).length, 21);
  numbers(printed).forEach((row, i) => row.forEach((each, k) => assert.ok(Math.abs(each - numbers(readings)[i][k]) < 1e-6, `row ${i}, column ${k}`)));

  const glb = await saved("Recording of all objects, glTF");
  assert.equal(glb.subarray(0, 4).toString(), "glTF");
  const picture = await saved("Picture of the scene, PNG");
  assert.equal(picture.subarray(1, 4).toString(), "PNG");
  assert.ok(picture.length > 20_000, "there is something in the picture");
  assert.equal(await dialog.getByRole("button", { name: "Picture of the curves, PNG" }).isDisabled(), true);
});

test("drives by the slider of an axis, saves what was done, and plays it again", async (t) => {
  const page = await open(t, await serve(t));
  const start = place(await report(page), "pilot");
  await page.getByRole("button", { name: "input", exact: true }).click();
  const input = page.getByRole("region", { name: "Input" });
  await input.getByRole("slider", { name: "Axis forward" }).fill("0.8");
  await page.evaluate(() => window.hushed.link.send({ do: "step", by: 60 }));
  const driven = await until(page, "it has moved", (now) => now.frame === 60);
  assert.ok(Math.hypot(place(driven, "pilot")[0] - start[0], place(driven, "pilot")[2] - start[2]) > 1);
  const [file] = await Promise.all([page.waitForEvent("download"), input.getByRole("button", { name: "Save what was pressed" }).click()]);
  const keys = await file.path();
  assert.match(readFileSync(keys, "utf8"), /^time,key,change\n0,forward,0\.8\n/);

  await input.getByRole("slider", { name: "Axis forward" }).fill("0");
  await page.evaluate(() => window.hushed.link.send({ do: "show", frame: 0 }));
  await until(page, "frame 0", (now) => now.frame === 0);
  await page.evaluate(() => window.hushed.link.send({ do: "axis", name: "forward", value: 0 }));
  const choice = input.getByLabel("Play a key file");
  await choice.setInputFiles(keys);
  await until(page, "the file was sent", () => choice.evaluate((box) => box.value === ""));
  await page.evaluate(() => window.hushed.link.send({ do: "step", by: 60 }));
  const again = await until(page, "frame 60 again", (now) => now.frame === 60);
  assert.deepEqual(place(again, "pilot"), place(driven, "pilot"));
});
