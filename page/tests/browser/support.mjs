// SPDX-License-Identifier: MIT
// What the tests in a browser share: the tool with a copy of the harbour, and its page in Chromium.

import assert from "node:assert/strict";
import { spawn } from "node:child_process";
import { cpSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join, resolve } from "node:path";
import { after, before } from "node:test";

import { chromium } from "playwright-core";

export const tool = resolve(process.env.TOOL ?? "build/hushed");
const scenes = resolve(import.meta.dirname ?? new URL(".", import.meta.url).pathname, "../../../scenes");
export const token = "alanternoverthewater";
export let browser;

before(async () => {
  browser = await chromium.launch({
    executablePath: process.env.CHROMIUM ?? "/usr/bin/chromium",
    args: [
      "--no-sandbox", "--disable-gpu", "--disable-quic", "--no-first-run", "--disable-background-networking",
      "--disable-component-update", "--disable-sync",
    ],
  });
});
after(() => browser.close());

/** Starts a server for a copy of the harbour. Returns functions to edit the file and to stop the server. */
export async function serve(t, port = 0, name = "harbour.toml") {
  const folder = mkdtempSync(join(tmpdir(), "harbour-"));
  cpSync(scenes, folder, { recursive: true });
  const file = join(folder, name);
  const server = { folder, file, read: () => readFileSync(file, "utf8"), write: (text) => writeFileSync(file, text) };
  server.start = async (at) => {
    const child = spawn(tool, ["live", file, "--port", String(at), "--token", token], { stdio: ["ignore", "pipe", "inherit"] });
    server.ended = new Promise((done) => child.once("exit", done));
    server.stop = () => {
      child.kill("SIGINT");
      return server.ended;
    };
    server.address = await new Promise((done) => child.stdout.once("data", (text) => done(String(text).trim())));
    return server.address;
  };
  await server.start(port);
  t.after(async () => {
    await server.stop();
    rmSync(folder, { recursive: true });
  });
  return server;
}

/** The tests of a file use this page in turn. To create a page takes longer than to load play mode into it. */
let shared;
let isInUse = false;

/**
 * Opens play mode of the server and waits until it shows at least `least` objects. Returns the shared page, or a new
 * one in its own context where there are `options`, where `prepare` is given, or where the shared page is in use.
 */
export async function open(t, server, options = undefined, least = 10, prepare = undefined) {
  const isShared = !options && !prepare && !isInUse;
  // Half the pixels each way: the scene is drawn without a graphics card here.
  const newPage = async () => {
    const page = await browser.newPage({ viewport: { width: 1280, height: 800 }, deviceScaleFactor: 0.5, ...options });
    page.setDefaultTimeout(60_000);
    await page.addInitScript(() => localStorage.setItem("hushed hint", "read"));
    return page;
  };
  const page = isShared ? (shared ??= await newPage()) : await newPage();
  if (isShared) isInUse = true;
  const errors = [];
  const note = (error) => errors.push(error.message);
  page.on("pageerror", note);
  t.after(async () => {
    if (isShared) {
      await page.evaluate(() => localStorage.clear());
      page.off("pageerror", note);
      await page.goto("about:blank");
      isInUse = false;
    } else {
      await page.close();
    }
    assert.deepEqual(errors, []);
  });
  await prepare?.(page);
  await page.goto(server.address);
  await until(page, "the scene is there", (report) => report.frame !== undefined && report.objects.length >= least);
  return page;
}

export const report = (page) => page.evaluate(() => window.hushed.report);

export async function until(page, what, isSo, longest = 60_000) {
  const latest = Date.now() + longest;
  for (;;) {
    const now = await report(page);
    if (await isSo(now)) return now;
    assert.ok(Date.now() < latest, `never came: ${what}; it was ${JSON.stringify({ ...now, poses: [], objects: [] })}`);
    await page.waitForTimeout(30);
  }
}

/** Waits until a value of the selected object has the given text. */
export async function untilValue(page, id, isSo) {
  await until(page, `${id} as it should be`, async () => isSo(await page.locator(`#${id}`).inputValue()));
}

/** Selects an object by its name. */
export async function choose(page, name) {
  const search = page.getByRole("searchbox", { name: "Find an object" });
  await search.fill(name);
  await search.press("Enter");
  await until(page, `${name} is selected`, (now) => now.chosen[0] === name);
}

export const play = (page) => page.getByRole("button", { name: "Play", exact: true });
export const pause = (page) => page.getByRole("button", { name: "Pause", exact: true });
export const place = (now, object) => now.poses.slice(now.objects.indexOf(object) * 10, now.objects.indexOf(object) * 10 + 7);
