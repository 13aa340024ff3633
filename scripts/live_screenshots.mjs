// SPDX-License-Identifier: MIT
// Screenshots of the live page with the harbour at given frames: node scripts/live_screenshots.mjs (called by screenshots.sh).

import { spawn } from "node:child_process";
import { cpSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join, resolve } from "node:path";

import { chromium } from "../page/node_modules/playwright-core/index.mjs";

const folder = mkdtempSync(join(tmpdir(), "harbour-"));
cpSync("scenes", folder, { recursive: true });
const file = join(folder, "harbour.toml");
async function serve(scene) {
  const server = spawn(resolve("build/hushed"), ["live", scene], { cwd: folder, stdio: ["ignore", "pipe", "ignore"] });
  process.on("exit", () => server.kill("SIGINT"));  // also after an error
  return new Promise((done) => server.stdout.once("data", (text) => done(String(text).trim())));
}
const address = await serve("harbour.toml");
const browser = await chromium.launch({
  executablePath: "/usr/bin/chromium",
  args: [
    "--no-sandbox", "--disable-gpu", "--disable-quic", "--no-first-run", "--disable-background-networking",
    "--disable-component-update", "--disable-sync",
  ],
});

async function picture(name, colorScheme, act, from = address) {
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 }, colorScheme });
  await page.addInitScript(() => localStorage.setItem("hushed hint", "read"));
  await page.goto(from);
  await page.getByText(/^frame \d+$/).waitFor();
  await act(page);
  await page.waitForTimeout(1200);
  await page.screenshot({ path: `docs/screenshots/${name}.png` });
  await page.close();
  console.log(`docs/screenshots/${name}.png`);
}

const choose = async (page, object) => {
  const search = page.getByRole("searchbox", { name: "Find an object" });
  await search.fill(object);
  await search.press("Enter");
};
const order = (page, what) => page.evaluate((what) => window.hushed.link.send(what), what);

await picture("live-urges", "dark", async (page) => {
  await order(page, { do: "step", by: 110 });
  await page.getByText("frame 110", { exact: true }).waitFor();
  await choose(page, "flock-7");
  await page.getByText("wanted", { exact: true }).waitFor();
  await page.getByRole("button", { name: "chosen" }).click();
  for (let i = 0; i < 2; ++i) await page.getByRole("button", { name: "Zoom in" }).click();
});

await picture("live-artist", "dark", async (page) => {
  await order(page, { do: "step", by: 260 });
  await page.getByText("frame 260", { exact: true }).waitFor();
  await choose(page, "Ferry-No-2");
  await page.getByRole("button", { name: "Zoom out" }).click();
}, await serve("harbour-from-gltf.toml"));

await picture("live", "dark", async (page) => {
  for (let frame = 0; frame < 900; frame += 300) await order(page, { do: "step", by: 300 });
  await choose(page, "ferry");
  await page.getByRole("combobox", { name: /Line to another/ }).selectOption("tug");
  await order(page, { do: "show", frame: 540 });
});

await picture("live-tuning", "light", async (page) => {
  await order(page, { do: "again" });
  await order(page, { do: "step", by: 400 });
  await choose(page, "hook");
  await page.getByRole("combobox", { name: "Time span of curves and paths" }).selectOption("5");
  await page.getByRole("button", { name: "chosen" }).click();
  const frequency = page.getByRole("region", { name: "hook.spring" }).getByLabel("frequency", { exact: true });
  await frequency.fill("0.8");
  await frequency.press("Enter");
});

await picture("live-curves", "dark", async (page) => {
  await order(page, { do: "again" });
  await order(page, { do: "step", by: 600 });
  await choose(page, "hook");
  await page.waitForTimeout(800);
  await order(page, { do: "show", frame: 0 });
  const damping = page.getByRole("region", { name: "hook.spring" }).getByLabel("damping", { exact: true });
  await damping.fill("0.4");
  await damping.press("Enter");
  await page.waitForTimeout(300);
  await order(page, { do: "step", by: 600 });
  for (const watch of ["hook.position.x", "ferry.speed"]) await page.getByRole("button", { name: `Open ${watch} wide` }).click();
  await page.getByRole("button", { name: "Ruler" }).click();
  const box = await page.locator("#wide canvas").boundingBox();
  await page.mouse.move(box.x + 300, box.y + 100);
  await page.mouse.down();
  await page.mouse.move(box.x + 520, box.y + 120, { steps: 4 });
  await page.mouse.up();
});

await picture("live-handles", "dark", async (page) => {
  await order(page, { do: "again" });
  await order(page, { do: "step", by: 240 });
  await choose(page, "ferry");
  await page.waitForTimeout(500);
  const box = await page.getByRole("button", { name: "route points 2" }).boundingBox();
  await page.mouse.move(box.x + 7, box.y + 7);
  await page.mouse.down();
  for (let i = 1; i <= 20; ++i) await page.mouse.move(box.x + 7 + 4 * i, box.y + 7 + 3 * i);
});

await picture("live-tries", "light", async (page) => {
  for (let i = 0; i < 4; ++i) await order(page, { do: "undo" });
  await order(page, { do: "again" });
  await order(page, { do: "step", by: 360 });
  await choose(page, "hook");
  await page.getByRole("combobox", { name: "Time span of curves and paths" }).selectOption("5");
  await page.getByRole("button", { name: "tries", exact: true }).click();
  const tries = page.getByRole("region", { name: "Tries" });
  const keep = tries.getByRole("button", { name: "Keep the present values as a try" });
  await keep.click();
  await tries.getByRole("button", { name: "Use try A" }).waitFor();
  await order(page, { do: "set", path: "hook.spring.damping", to: "0.5" });
  await order(page, { do: "set", path: "hook.spring.frequency", to: "0.8" });
  await keep.click();
  await tries.getByRole("button", { name: "Use try B" }).waitFor();
  await tries.getByRole("button", { name: "Compare" }).click();
  await tries.getByRole("table").first().waitFor();
  await page.getByRole("button", { name: "chosen" }).click();
});

await picture("live-script", "dark", async (page) => {
  await order(page, { do: "again" });
  await order(page, { do: "step", by: 500 });
  await choose(page, "launch");
  await page.getByRole("button", { name: "chosen" }).click();
  await page.getByRole("button", { name: "Edit script" }).click();
  await page.getByRole("textbox", { name: "Text of the script" }).waitFor();
});

const text = readFileSync(file, "utf8");
writeFileSync(file, text.replace("speed  = 4", "sped   = 4"));
await picture("live-mistake", "dark", async (page) => {
  await page.getByRole("alert").getByText("sped").waitFor();
});

await browser.close();
rmSync(folder, { recursive: true });
process.exit(0);
