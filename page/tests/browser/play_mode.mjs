// SPDX-License-Identifier: MIT
// Play mode as a user sees it: the tool, its page in Chromium, and a scene file.
// TOOL=build/dev/src/cli/hushed node --test page/tests/browser/play_mode.mjs

import assert from "node:assert/strict";
import { execFileSync } from "node:child_process";
import { readFileSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { test } from "node:test";

import { browser, choose, open, pause, place, play, report, serve, tool, until, untilValue } from "./support.mjs";

test("plays, halts, and steps back to the poses that were shown", async (t) => {
  const page = await open(t, await serve(t));
  await play(page).click();
  await until(page, "frame 40", (now) => now.frame > 40);
  await pause(page).click();
  const halted = await until(page, "a halt", (now) => !now.playing);
  await page.getByRole("button", { name: "One frame back" }).click();
  const back = await until(page, "one frame back", (now) => now.frame === halted.frame - 1);
  assert.notDeepEqual(place(back, "ferry"), place(halted, "ferry"));
  await page.getByRole("button", { name: "One frame forward" }).click();
  const again = await until(page, "one frame forward", (now) => now.frame === halted.frame);
  assert.deepEqual(again.poses, halted.poses);

  // Back by the scrubber, and on from there: equal frames.
  await page.getByLabel("Current frame").fill("10");
  await until(page, "frame 10", (now) => now.frame === 10);
  for (let i = 0; i < 10; ++i) await page.keyboard.press("ArrowRight");
  await until(page, "frame 20", (now) => now.frame === 20);
  await page.getByRole("combobox", { name: "Playback speed" }).selectOption("0.5");
  await page.locator("#head").click();
  await page.keyboard.press("Space");
  await until(page, "it plays", (now) => now.playing);
  await until(page, "as far as before", (now) => now.frame > halted.frame);
  await page.keyboard.press("Space");
  await until(page, "a halt", (now) => !now.playing);
  await page.getByLabel("Current frame").fill(String(halted.frame));
  const same = await until(page, "the frame of before", (now) => now.frame === halted.frame);
  assert.deepEqual(same.poses, halted.poses);
});

test("shows what an agent wants in the frame that is shown, of the past as well", async (t) => {
  const page = await open(t, await serve(t));
  const order = (what) => page.evaluate((what) => window.hushed.link.send(what), what);
  const legend = () => page.locator(".legend li").allTextContents();
  await choose(page, "flock-7");
  await order({ do: "step", by: 110 });
  await until(page, "frame 110", (now) => now.frame === 110);
  let then = [];
  await until(page, "what it wants", async () => {
    const before = then;
    await page.waitForTimeout(200);
    then = await legend();
    return then.at(-1) === "wanted" && String(then) === String(before);
  });
  await order({ do: "step", by: 60 });
  await until(page, "others", async () => String(await legend()) !== String(then));
  await order({ do: "show", frame: 110 });
  await until(page, "what it wanted then", async () => String(await legend()) === String(then));
  assert.equal((await report(page)).frame, 110);
});

test("tunes one urge of an agent by its slider, and keeps that number alone", async (t) => {
  const server = await serve(t);
  const page = await open(t, server);
  // The members of a flock use a preset, and an object can have its own values; a single agent is changed itself.
  const tern = "\n[object.tern]\n[[object.tern.behaviour]]\nkind = \"steer\"\nurges = [\n" +
    "  { urge = \"wander\", rate = 40 }, # lazily\n" +
    "  { urge = \"flee\", target = \"pilot\", within = 6, weight = 3 },\n]\n";
  const text = server.read() + tern;
  server.write(text);
  await until(page, "a tern", (now) => now.objects.includes("tern"));
  await choose(page, "tern");
  const flee = page.getByRole("group", { name: "flee" });
  await flee.getByLabel("within", { exact: true }).fill("9");
  await flee.getByLabel("within", { exact: true }).press("Enter");
  await flee.getByRole("slider", { name: "weight, slider" }).fill("4.5");
  await untilValue(page, "value-tern-steer-urges", (value) => value.includes("within = 9, weight = 4.5"));
  await page.getByRole("button", { name: "Keep 1 …" }).click();
  await page.getByRole("dialog").getByRole("button", { name: "Write these lines" }).click();
  await page.getByText("of harbour.toml").and(page.getByText("written")).waitFor();
  assert.equal(server.read(), text.replace("within = 6, weight = 3", "within = 9, weight = 4.5"));
});

test("tunes with the old path beside the new, undoes, and keeps", async (t) => {
  const server = await serve(t);
  const text = server.read();
  const page = await open(t, server);
  await choose(page, "ferry");
  const card = page.getByRole("region", { name: "ferry.route" });
  const speed = card.getByLabel("speed", { exact: true });
  assert.equal(await speed.inputValue(), "4");
  await speed.fill("7");
  await speed.press("Enter");
  await until(page, "the path as it was", (now) => now.hasOldPaths);
  await speed.press("ArrowUp");
  await page.getByRole("button", { name: "Keep 1 …" }).waitFor();
  assert.equal(await speed.inputValue(), "7.1");

  await page.locator("#head").click();
  await page.keyboard.press("Control+z");
  await untilValue(page, "value-ferry-route-speed", (value) => value !== "7.1");
  await page.getByRole("button", { name: "Redo" }).click();
  await untilValue(page, "value-ferry-route-speed", (value) => value === "7.1");

  // Selects it by its curve.
  await card.getByRole("button", { name: "Choose a curve" }).click();
  await card.getByRole("button", { name: "in-out-cubic" }).click();
  await page.getByRole("button", { name: "Keep 2 …" }).click();
  const dialog = page.getByRole("dialog");
  await dialog.getByText('easing = "in-out-cubic"').waitFor();
  await dialog.getByText("+ speed  = 7.1").waitFor();
  assert.equal(server.read(), text, "nothing is written before it is asked for");
  await dialog.getByRole("button", { name: "Write these lines" }).click();
  await page.getByText("2 lines of harbour.toml were written.").waitFor();
  assert.equal(
    server.read(),
    text.replace("speed  = 4\npause  = [4, 0, 4, 0]\neasing = \"in-out-sine\"", "speed  = 7.1\npause  = [4, 0, 4, 0]\neasing = \"in-out-cubic\""),
  );
  assert.notEqual(server.read(), text);
});

test("says what was refused, and goes on", async (t) => {
  const page = await open(t, await serve(t));
  await choose(page, "hook");
  const frequency = page.getByRole("region", { name: "hook.spring" }).getByLabel("frequency", { exact: true });
  await frequency.fill("-3");
  await frequency.press("Enter");
  await page.getByRole("status").getByText("hook.spring.frequency").waitFor();
  await untilValue(page, "value-hook-spring-frequency", (value) => value === "0.35");
});

test("follows the file as it is edited, and says what is wrong in it", async (t) => {
  const server = await serve(t);
  const text = server.read();
  const page = await open(t, server);
  await play(page).click();
  await until(page, "frame 20", (now) => now.frame > 20);
  server.write(text.replace("[object.lighthouse]", "[object.dinghy]\n\n[object.lighthouse]"));
  const grown = await until(page, "a new object", (now) => now.objects.includes("dinghy"));
  assert.ok(grown.frame > 20 && grown.playing);
  server.write(text.replace("speed = 40", "sped = 40"));
  await page.getByRole("alert").getByText('unknown key "sped"; did you mean "speed"?').waitFor();
  const wrong = await report(page);
  await until(page, "the last good scene goes on", (now) => now.frame > wrong.frame + 5);
  server.write(text);
  await page.getByRole("alert").waitFor({ state: "hidden" });
});

test("plays on with a script as it is saved, and shows its sliders and mistakes", async (t) => {
  const server = await serve(t, 0, "scripts.toml");
  const script = join(server.folder, "scripts", "winch.lua");
  const text = readFileSync(script, "utf8");
  const page = await open(t, server, undefined, 4);
  await choose(page, "load");
  const reachesTo = (max) =>
    until(page, `a slider up to ${max}`, async () => (await page.locator('input[aria-label="height, slider"]').getAttribute("max")) === max);
  await reachesTo("10");
  await play(page).click();
  const before = await until(page, "frame 20", (now) => now.frame > 20);
  writeFileSync(script, text.replace("slider = { 0, 10 }", "slider = { 0, 6 }").replace("pose.position.x, kept", "pose.position.x + 5, kept"));
  const after = await until(page, "the load is elsewhere", (now) => place(now, "load")[0] > 10.99);
  assert.ok(place(after, "load")[1] < place(before, "load")[1]); // it goes on hauling down
  await reachesTo("6");
  writeFileSync(script, `${text}count = 3\n`);
  await page.getByRole("alert").getByText('"count" is not local').waitFor();
  writeFileSync(script, text);
  await page.getByRole("alert").waitFor({ state: "hidden" });
});

test("edits a script beside its motion, and notices what others save", async (t) => {
  const server = await serve(t, 0, "scripts.toml");
  const script = join(server.folder, "scripts", "winch.lua");
  const text = readFileSync(script, "utf8");
  const page = await open(t, server, undefined, 4);
  await choose(page, "load");
  await play(page).click();
  await page.getByRole("button", { name: "Edit script" }).click();
  const editor = page.getByRole("textbox", { name: "Text of the script" });
  const status = (words) => page.getByRole("region", { name: "Script" }).getByText(words, { exact: true }).waitFor();
  await until(page, "the text of the script", async () => (await editor.inputValue()) === text);
  // The numbers of the lines stand beside the text, and no button of the scene is outside it.
  const box = (selector) => page.locator(selector).boundingBox();
  const [numbers, lines, scene, buttons] = [await box("#script .numbers"), await box("#script textarea"), await box("#view"), await box("#camera")];
  assert.ok(Math.abs(numbers.x + numbers.width - lines.x) < 1 && Math.abs(numbers.y - lines.y) < 1);
  assert.ok(buttons.x >= scene.x && buttons.x + buttons.width <= scene.x + scene.width);
  const moved = text.replace("pose.position.x, kept", "pose.position.x + 5, kept");
  await editor.fill(moved);
  await status("not saved");
  await page.keyboard.press("Control+s");
  await status("saved");
  assert.equal(readFileSync(script, "utf8"), moved);
  await until(page, "the load is elsewhere", (now) => place(now, "load")[0] > 10.99);
  // A mistake is shown with its line, which a click selects.
  await editor.fill(moved.replace("my.height - kept", "my.heigth - kept").replace("local rest", "rest"));
  await page.getByRole("button", { name: "Save" }).click();
  await page.getByRole("region", { name: "Script" }).getByText('"rest" is not local').waitFor();
  await page.getByRole("button", { name: /^line \d+$/ }).first().click();
  assert.match(await editor.evaluate((box) => box.value.slice(box.selectionStart, box.selectionEnd)), /^ {2}rest = /);
  // Someone else saves while there are changes: nothing is overwritten, and nothing typed is lost.
  await editor.fill("-- mine\n");
  writeFileSync(script, text);
  await status(/changed in the file/);
  await page.getByRole("button", { name: "Save" }).click();
  await status(/was changed since its text was opened/);
  assert.equal(readFileSync(script, "utf8"), text);
  assert.equal(await editor.inputValue(), "-- mine\n");
  await page.getByRole("button", { name: "Close" }).click();
  await page.getByRole("button", { name: "Close without saving" }).click();
  await editor.waitFor({ state: "hidden" });
});

test("drives the pilot boat to the post, where the horn opens the bridge", async (t) => {
  const page = await open(t, await serve(t));
  const start = await report(page);
  await play(page).click();
  await page.keyboard.press("h"); // the scene does not have the focus
  await page.locator("#view").click({ position: { x: 12, y: 120 } });
  await page.getByText("Keys go to the scene").waitFor();
  await page.keyboard.down("w");
  await until(page, "the boat is near", (now) => place(now, "pilot")[0] > -5.5);
  assert.deepEqual(place(await report(page), "bridge"), place(start, "bridge"));
  await page.keyboard.press("h");
  await page.keyboard.up("w");
  await until(page, "the bridge is open", (now) => place(now, "bridge")[0] > 7.9, 20_000);
  await page.keyboard.press("Escape");
  assert.equal(await page.evaluate(() => document.activeElement?.id), "");

  // Back to the event of the horn.
  await pause(page).click();
  await until(page, "a halt", (now) => !now.playing);
  const happened = page.locator("#happened");
  for (let i = 0; i < 20 && !(await happened.textContent()).includes("bridge-answers-the-horn"); ++i) {
    const { frame } = await report(page);
    await page.getByRole("button", { name: "‹ event" }).click();
    await until(page, "an earlier event", (now) => now.frame < frame);
    await page.evaluate(() => new Promise((drawn) => requestAnimationFrame(() => requestAnimationFrame(drawn))));
  }
  assert.match(await happened.textContent(), /rule bridge-answers-the-horn fired/);
  const horn = await report(page);
  assert.ok(Math.abs(place(horn, "bridge")[0] - place(start, "bridge")[0]) < 0.1);
});

test("two tabs stay in step", async (t) => {
  const server = await serve(t);
  const one = await open(t, server);
  const other = await open(t, server, { colorScheme: "dark", viewport: { width: 1024, height: 640 } });
  await play(one).click();
  await pause(other).click();
  const there = await until(other, "a halt", (now) => !now.playing && now.frame > 0);
  const here = await until(one, "the same frame", (now) => now.frame === there.frame);
  assert.deepEqual(here.poses, there.poses);
  await choose(other, "lamp");
  const slider = other.getByLabel("speed, slider");
  await slider.focus();
  await other.keyboard.press("ArrowRight");
  await one.getByRole("button", { name: "Keep 1 …" }).waitFor();
  await untilValue(one, "value-lamp-spin-speed", (value) => value === "42");
});

test("says that the server is gone, and goes on when it is back", async (t) => {
  const server = await serve(t);
  const page = await open(t, server);
  const port = Number(new URL(server.address).port);
  await page.getByRole("button", { name: "One frame forward" }).click();
  await until(page, "frame 1", (now) => now.frame === 1);
  assert.equal(await server.stop(), 0);
  await page.getByRole("alert").getByText("The connection to the server is lost.").waitFor();
  await server.start(port);
  await page.getByRole("alert").waitFor({ state: "hidden" });
  await until(page, "the new play", (now) => now.frame === 0);
  await page.getByRole("button", { name: "One frame forward" }).click();
  await until(page, "frame 1", (now) => now.frame === 1);
});

test("draws nothing while nothing changes", async (t) => {
  const page = await open(t, await serve(t));
  // What is loaded after the page opened is drawn once it is there; after that, nothing.
  let draws = -1;
  for (let tries = 0; tries < 20 && (await report(page)).draws !== draws; ++tries) {
    ({ draws } = await report(page));
    await page.waitForTimeout(700);
  }
  assert.equal((await report(page)).draws, draws);
  await page.getByRole("button", { name: "One frame forward" }).click();
  await until(page, "it is drawn", (now) => now.draws > draws);
});

/** The share of the page, point by point, where the scene is seen and can be clicked. */
const shareOfScene = (page) =>
  page.evaluate(() => {
    let seen = 0;
    let all = 0;
    for (let x = 5; x < innerWidth; x += 10)
      for (let y = 5; y < innerHeight; y += 10, ++all) seen += document.elementFromPoint(x, y)?.closest("#view") ? 1 : 0;
    return seen / all;
  });

test("fills the page with the scene; panes are resized, folded and remembered", async (t) => {
  const server = await serve(t);
  const context = await browser.newContext({ viewport: { width: 1280, height: 800 } });
  t.after(() => context.close());
  const page = await context.newPage();
  await page.goto(server.address);
  await until(page, "the scene is there", (now) => now.objects.length > 10);
  await page.getByRole("button", { name: "Got it" }).click();
  await choose(page, "hook");
  await page.getByRole("region", { name: "hook.spring" }).waitFor();
  assert.ok((await shareOfScene(page)) > 0.6, `${await shareOfScene(page)} of the page`);
  const width = () => page.evaluate(() => document.querySelector("#side").clientWidth);
  const before = await width();
  const divider = page.getByRole("separator", { name: "Size of the readings" });
  const box = await divider.boundingBox();
  await page.mouse.move(box.x + 3, box.y + 200);
  await page.mouse.down();
  await page.mouse.move(box.x + 83, box.y + 200);
  await page.mouse.up();
  assert.ok(Math.abs((await width()) - before - 80) < 4);
  await divider.focus();
  await page.keyboard.press("ArrowRight");
  const after = await width();
  assert.ok(Math.abs(after - before - 96) < 4);
  await page.getByRole("button", { name: "Fold the values" }).click();
  await page.getByRole("region", { name: "hook.spring" }).waitFor({ state: "hidden" });
  await page.reload();
  await until(page, "the scene is there again", (now) => now.objects.length > 10);
  assert.equal(await width(), after);
  await page.getByRole("button", { name: "Show the values" }).waitFor();
  await page.getByRole("button", { name: "Fold the readings" }).click();
  assert.equal(await width(), 0);
});

test("explains itself at the first visit, and its keys", async (t) => {
  const context = await browser.newContext({ viewport: { width: 1280, height: 800 } });
  t.after(() => context.close());
  const page = await context.newPage();
  await page.goto((await serve(t)).address);
  await page.getByRole("button", { name: "Got it" }).click();
  await page.reload();
  await until(page, "the scene is there", (now) => now.objects.length > 10);
  assert.equal(await page.getByRole("button", { name: "Got it" }).count(), 0);
  await page.locator("#head").click();
  await page.keyboard.press("?");
  await page.getByRole("dialog", { name: "Keys" }).getByText("play or pause").waitFor();
  await page.keyboard.press("Escape");
  await page.getByRole("dialog", { name: "Keys" }).waitFor({ state: "hidden" });
});

test("has all objects in a tree, by keyboard too", async (t) => {
  const page = await open(t, await serve(t));
  const tree = page.getByRole("tree", { name: "Objects" });
  const crowd = tree.getByRole("treeitem", { name: "flock (16)" });
  assert.equal(await crowd.getAttribute("aria-expanded"), "false");
  assert.equal(await tree.getByRole("treeitem", { name: "flock-7" }).count(), 0);
  await crowd.click();
  await tree.getByRole("treeitem", { name: "flock-7", exact: true }).click();
  await until(page, "the gull is selected", (now) => now.chosen[0] === "flock-7");
  await page.getByRole("searchbox", { name: "Find an object" }).fill("moored");
  assert.deepEqual(await tree.getByRole("treeitem").allTextContents(), ["gig", "punt", "dory"]);
  await page.keyboard.press("ArrowDown");
  await page.keyboard.press("ArrowDown");
  await page.keyboard.press("Enter");
  await until(page, "the second boat is selected", (now) => now.chosen[0] === "punt");
  await page.getByRole("searchbox", { name: "Find an object" }).fill("");
  const pontoon = tree.getByRole("treeitem", { name: "pontoon" });
  await pontoon.focus();
  await page.keyboard.press("ArrowLeft");
  assert.equal(await pontoon.getAttribute("aria-expanded"), "false");
  assert.equal(await tree.getByRole("treeitem", { name: "mast" }).count(), 0);
});

test("names the frame of a path under the pointer, and goes there by a click", async (t) => {
  const page = await open(t, await serve(t));
  await page.evaluate(() => window.hushed.link.send({ do: "step", by: 300 }));
  await until(page, "frame 300", (now) => now.frame === 300);
  await choose(page, "ferry");
  await page.getByRole("button", { name: "above" }).click();
  const moment = page.locator(".moment");
  const box = await page.locator("#view canvas").boundingBox();
  // Looks for the path of the ferry in the upper half of the scene.
  let words = "";
  let at = [0, 0];
  for (let y = 60; y < box.height * 0.6 && !/frame \d+$/.test(words); y += 8)
    for (let x = 60; x < box.width - 60 && !/frame \d+$/.test(words); x += 24) {
      at = [box.x + x, box.y + y];
      await page.mouse.move(...at);
      if (await moment.isVisible()) words = await moment.textContent();
    }
  const [, time, frame] = /^ferry at ([\d.]+) s, [\d.]+ m\/s, frame (\d+)$/.exec(words) ?? [];
  assert.ok(frame !== undefined, words);
  assert.ok(Math.abs(Number(time) * 60 - Number(frame)) < 1.01, words);
  await page.mouse.click(...at);
  await until(page, "that frame", (now) => now.frame === Number(frame));
});

test("plays a stretch again and again, and each change from its beginning", async (t) => {
  const page = await open(t, await serve(t));
  await page.evaluate(() => window.hushed.link.send({ do: "step", by: 400 }));
  await until(page, "frame 400", (now) => now.frame === 400);
  await choose(page, "hook");
  const marks = await page.locator("canvas.marks").boundingBox();
  await page.mouse.move(marks.x + marks.width * 0.25, marks.y + 6);
  await page.mouse.down();
  await page.mouse.move(marks.x + marks.width * 0.35, marks.y + 6, { steps: 4 });
  await page.mouse.up();
  const loop = page.getByRole("button", { name: /^loop \d+–\d+ ×$/ });
  const [from, to] = (await loop.textContent()).match(/\d+/g).map(Number);
  assert.ok(Math.abs(from - 100) < 3 && Math.abs(to - 140) < 3, `${from} to ${to}`);
  await until(page, "the stretch is played", (now) => now.playing && now.frame > to - 15);
  const [again] = [await until(page, "it begins again", (now) => now.frame < to - 20)];
  assert.ok(again.frame >= from);
  await page.evaluate(() => window.hushed.link.send({ do: "rhythm", pace: 0.25 }));
  // Looks at each frame as it comes, since a question from here may take longer than a frame lasts.
  const poseAt = (frame) => page.evaluate((frame) => new Promise((done) => {
    const { link } = window.hushed;
    const { hear } = link;
    link.hear = (data) => {
      hear.call(link, data);
      if (window.hushed.report.frame !== frame) return;
      delete link.hear;
      done(window.hushed.report.poses);
    };
  }), frame);
  const before = await poseAt(to - 3);
  const damping = page.getByRole("region", { name: "hook.spring" }).getByLabel("damping", { exact: true });
  await damping.fill("0.6");
  await damping.press("Enter");
  await until(page, "it begins again with the change", (now) => now.frame < to - 20 && now.changed === 1);
  const after = await poseAt(to - 3);
  assert.notDeepEqual(after, before); // the hook moves otherwise
  await loop.click();
  await until(page, "it plays on", (now) => now.frame > to + 20);
});

test("opens readings wide, with a ruler and a zoom", async (t) => {
  const page = await open(t, await serve(t));
  await page.evaluate(() => window.hushed.link.send({ do: "step", by: 240 }));
  await until(page, "frame 240", (now) => now.frame === 240);
  await page.getByRole("button", { name: "Open lamp.rotation.yaw wide" }).click();
  await page.getByRole("button", { name: "Open ferry.speed wide" }).click();
  const curves = page.getByRole("region", { name: "Curves" });
  await curves.getByRole("button", { name: "Ruler" }).click();
  const box = await page.locator("#wide canvas").boundingBox();
  /** The numbers of the ruler between two shares of the picture. */
  const measured = async (from, to) => {
    await page.mouse.move(box.x + box.width * from, box.y + 80);
    await page.mouse.down();
    await page.mouse.move(box.x + box.width * to, box.y + 90, { steps: 3 });
    await page.mouse.up();
    const words = await page.locator(".measured").textContent();
    return { words, numbers: words.match(/-?\d+\.\d+/g).map(Number) };
  };
  const first = await measured(0.15, 0.3);
  const [from, to, seconds, , , turned] = first.numbers;
  assert.ok(Math.abs(to - from - seconds) < 0.002, first.words);
  assert.ok(Math.abs(turned / seconds - 40) < 0.1, first.words); // the lamp turns by 40 degrees a second
  assert.match(first.words, /ferry\.speed/);
  await page.mouse.move(box.x + box.width * 0.2, box.y + 80);
  await page.mouse.wheel(0, -400);
  const nearer = await measured(0.15, 0.3);
  assert.ok(nearer.numbers[2] < 0.7 * seconds, `${nearer.words} after ${first.words}`);
  await page.keyboard.press("Escape");
  await curves.waitFor({ state: "hidden" });
});

test("draws an easing by hand, as one change of each drag", async (t) => {
  const page = await open(t, await serve(t));
  await choose(page, "ferry");
  const easing = page.locator("#value-ferry-route-easing");
  assert.equal(await easing.inputValue(), "in-out-sine");
  await page.getByTitle("Choose a curve, or drag it").click();
  const end = page.getByRole("slider", { name: "End of the curve" });
  const box = await end.boundingBox();
  await page.mouse.move(box.x + box.width / 2, box.y + box.height / 2);
  await page.mouse.down();
  for (let i = 1; i <= 10; ++i) await page.mouse.move(box.x + box.width / 2 + i, box.y + box.height / 2 - 3 * i);
  await page.mouse.up();
  const numbers = async () => ((await easing.inputValue()).match(/-?\d+(\.\d+)?/g) ?? []).map(Number);
  const dragged = Number(await end.getAttribute("aria-valuenow")); // the values of the drag arrive one by one
  await until(page, "the curve at the end of the drag", async () => Math.abs((await numbers())[3] - dragged) < 0.006);
  const [x1, y1, x2, y2] = await numbers();
  assert.ok(Math.abs(x1 - 0.37) < 0.06 && Math.abs(y1) < 0.06, "it begins near the sine"); // 1 - cos, by least squares
  assert.ok(x2 > 0.61 && y2 > 1.1, `${x2}, ${y2}`);
  await end.focus();
  await page.keyboard.press("Shift+ArrowDown");
  await until(page, "a step by keyboard", async () => Math.abs((await numbers())[3] - y2 + 0.1) < 0.011);
  await page.getByRole("button", { name: "Undo" }).click();
  await untilValue(page, "value-ferry-route-easing", (value) => value.startsWith("cubic-bezier") && Number(value.match(/-?[\d.]+/g)[3]) === y2);
  await page.getByRole("button", { name: "Undo" }).click();
  await untilValue(page, "value-ferry-route-easing", (value) => value === "in-out-sine");
});

test("knows the colours of CSS by their names", async (t) => {
  const server = await serve(t);
  const names = await (await open(t, server)).evaluate((names) => {
    const box = document.createElement("div");
    document.body.append(box);
    return names.map((name) => {
      box.style.color = name;
      return [name, getComputedStyle(box).color.match(/\d+/g).map((each) => Number(each).toString(16).padStart(2, "0")).join("")];
    });
  }, JSON.parse(execFileSync(tool, ["describe", "--schema"], { encoding: "utf8", maxBuffer: 1e8 })).properties.view.properties.sky.anyOf[0].enum);
  assert.equal(names.length, 148);
  server.write(`hushed = 1\n${names.map(([name]) => `[object.${name}]\nshape = { kind = "box", colour = "${name}" }\n`).join("")}`);
  const page = await open(t, server, undefined, 148);
  const drawn = await page.evaluate(() => window.hushed.report.colours);
  assert.deepEqual(Object.entries(drawn).sort(), names.map(([name, digits]) => [name, `#${digits}`]).sort());
});

test("is used by the keyboard alone, and fits a small screen", async (t) => {
  const page = await open(t, await serve(t), { viewport: { width: 1024, height: 640 } });
  const sizes = await page.evaluate(() => [document.body.scrollWidth, document.body.scrollHeight]);
  assert.deepEqual(sizes, [1024, 640]);
  await choose(page, "hook");
  await page.getByRole("region", { name: "hook.spring" }).waitFor();
  // No control lies over another, and none is outside the page.
  const troubles = await page.evaluate(() => {
    const all = [...document.querySelectorAll("#head button, #head select, #camera button, #objects input, #choice > *, #readings .add > *")];
    const boxes = all.filter((each) => each.checkVisibility()).map((each) => ({ name: each.textContent || each.getAttribute("aria-label"), box: each.getBoundingClientRect() }));
    const apart = (a, b) => a.right <= b.left + 1 || b.right <= a.left + 1 || a.bottom <= b.top + 1 || b.bottom <= a.top + 1;
    return [
      ...boxes.filter(({ box }) => box.left < 0 || box.top < 0 || box.right > innerWidth || box.bottom > innerHeight).map(({ name }) => `${name} is cut`),
      ...boxes.flatMap((a, i) => boxes.slice(i + 1).filter((b) => !apart(a.box, b.box)).map((b) => `${a.name} overlaps ${b.name}`)),
    ];
  });
  assert.deepEqual(troubles, []);
  const names = new Set();
  for (let i = 0; i < 90; ++i) {
    await page.keyboard.press("Tab");
    const [name, outline] = await page.evaluate(() => {
      const now = document.activeElement;
      if (now === document.body) return ["the end of the page", "solid"];
      const label = now.getAttribute("aria-label") ?? now.labels?.[0]?.textContent ?? now.textContent;
      return [label, getComputedStyle(now).outlineStyle];
    });
    assert.ok(name && name.trim() !== "", "everything has a name");
    assert.equal(outline, "solid", `the focus is seen on ${name}`);
    names.add(name.trim());
  }
  for (const name of ["Play", "One frame back", "Current frame", "Add a watch", "From above", "Find an object", "Size of the readings", "damping"])
    assert.ok([...names].some((each) => each === name || (name === "From above" && each === "above")), `${name} is reached by Tab: ${[...names].join(", ")}`);
});

test("shows what an artist has made, and takes over what they save", async (t) => {
  const server = await serve(t, 0, "harbour-from-gltf.toml");
  const page = await open(t, server);
  await until(page, "all models are there", (now) => now.missingModels === 0);
  // The bounds of the lighthouse, which are shown until its model is there, have one colour, but it has a red band. It is
  // in the upper part of the picture; the red buoy is not.
  const reds = () => page.evaluate(() => {
    const canvas = window.hushed.view.picture;
    const copy = document.createElement("canvas");
    [copy.width, copy.height] = [canvas.width, canvas.height];
    const context = copy.getContext("2d");
    context.drawImage(canvas, 0, 0);
    const { data } = context.getImageData(0, 0, copy.width, Math.floor(0.45 * copy.height));
    let count = 0;
    for (let i = 0; i < data.length; i += 4) if (data[i] > 2.2 * data[i + 1] && data[i] > 2.2 * data[i + 2] && data[i] > 50) ++count;
    return count;
  });
  await until(page, "the red band is seen", async () => (await reds()) > 100);
  await page.keyboard.press("ArrowRight");
  await until(page, "frame 1", (now) => now.frame === 1);
  const bytes = readFileSync(join(server.folder, "artist.glb"));
  const renamed = Buffer.from(bytes.toString("latin1").replace('"name":"gangway"', '"name":"planken"'), "latin1");
  writeFileSync(join(server.folder, "artist.glb"), renamed);
  await until(page, "the new name is there", (now) => now.objects.includes("planken") && !now.objects.includes("gangway"));
  assert.equal((await page.evaluate(() => window.hushed.report)).frame, 1, "the play goes on where it was");
});
