// SPDX-License-Identifier: MIT
// Fills the generated parts of the documents: what a command prints, and what a file contains. A part looks like
//
//     <!-- output: hushed describe spin --markdown -->
//     ...
//     <!-- end -->
//
// and is one of: `output: COMMAND`, `file: PATH`, `prints: EXAMPLE` (the output that an example promises).
//
//     TOOL=build/hushed node docs/site/generate.mjs           writes the documents
//     TOOL=build/hushed node docs/site/generate.mjs --check   fails where a part differs from the code, a key of scene
//                                                             files is missing, or a link leads nowhere

import { spawnSync } from "node:child_process";
import { existsSync, readFileSync, readdirSync, writeFileSync } from "node:fs";
import { dirname, extname, join, resolve } from "node:path";
import { fileURLToPath } from "node:url";

const root = resolve(dirname(fileURLToPath(import.meta.url)), "../..");
const tool = resolve(process.env.TOOL ?? join(root, "build/hushed"));
const checks = process.argv.includes("--check");

const fence = (language, text) => `\`\`\`${language}\n${text.replace(/\n+$/, "")}\n\`\`\``;

function output(command) {
  const [name, ...words] = command.match(/'[^']*'|\S+/g).map((word) => word.replace(/^'(.*)'$/, "$1"));
  if (name !== "hushed") throw new Error(`"${command}" is not a hushed command.`);
  const run = spawnSync(tool, words, { cwd: root, encoding: "utf8", env: { ...process.env, LC_ALL: "C.UTF-8" } });
  if (run.error) throw run.error;
  if (run.status > 2 || run.status === null) throw new Error(`"${command}" ended with status ${run.status}: ${run.stderr}`);
  const text = run.stdout + run.stderr;
  return words.includes("--markdown") ? text.replace(/\n+$/, "") : fence("text", `$ ${command}\n${text}`);
}

/** A file without its licence line, and an example without the promise at its end. */
function file(path) {
  const text = readFileSync(join(root, path), "utf8")
    .replace(/^(\/\/|#) SPDX-License-Identifier.*\n/, "")
    .replace(/\n*\/\/ Prints:\n[^]*$/, "");
  return fence({ ".cpp": "cpp", ".toml": "toml", ".csv": "csv" }[extname(path)] ?? "", text);
}

function prints(path) {
  const promise = /\/\/ Prints:\n([^]*)$/.exec(readFileSync(join(root, path), "utf8"));
  if (!promise) throw new Error(`${path} does not say what it prints.`);
  return fence("text", promise[1].replace(/^\/\/ ?/gm, ""));
}

const makers = { output, file, prints };

function documents() {
  const inside = (folder) => readdirSync(join(root, folder)).filter((name) => name.endsWith(".md")).map((name) => `${folder}/${name}`);
  return ["README.md", ...inside("docs"), ...inside("docs/guide"), ...inside("docs/reference")];
}

/** Reports links of a document to files that do not exist. */
function checkLinks(path, text) {
  const prose = text.replace(/```[^]*?```/g, "").replace(/`[^`\n]*`/g, "");
  for (const [, link] of prose.matchAll(/(?:\]\(|src=")([^)"#\s]+)/g)) {
    if (/^[a-z]+:/.test(link) || existsSync(join(root, dirname(path), link))) continue;
    console.error(`${path}: "${link}" does not exist.`);
    differing += 1;
  }
}

/** The keys in a part of the schema, without those of definitions that it refers to. */
function keysOf(node, keys = new Set()) {
  if (Array.isArray(node)) for (const each of node) keysOf(each, keys);
  else if (node && typeof node === "object") {
    for (const key of Object.keys(node.properties ?? {})) keys.add(key);
    for (const [name, each] of Object.entries(node)) if (name !== "ignore") keysOf(each, keys);  // codes of check
  }
  return keys;
}

/** Reports keys of scene files that the reference does not name. */
function checkKeys() {
  const { properties, $defs } = JSON.parse(spawnSync(tool, ["describe", "--schema"], { encoding: "utf8" }).stdout);
  for (const [path, part] of [
    ["docs/reference/rules.md", [properties.rule, $defs.conditions]],
    ["docs/reference/scene-file.md", [properties.scene, properties.view, properties.object, properties.crowd, properties.expect]],
  ]) {
    const words = new Set(readFileSync(join(root, path), "utf8").match(/[\w-]+/g));
    for (const key of keysOf(part)) {
      if (words.has(key)) continue;
      console.error(`${path}: the key "${key}" is missing.`);
      differing += 1;
    }
  }
}

let differing = 0;
checkKeys();
for (const path of documents()) {
  const before = readFileSync(join(root, path), "utf8");
  const after = before.replace(/<!-- (output|file|prints): (.*?) -->\n[^]*?<!-- end -->/g, (whole, kind, what) => {
    const made = `<!-- ${kind}: ${what} -->\n${makers[kind](what)}\n<!-- end -->`;
    if (checks && made !== whole) {
      console.error(`${path}: the part "${kind}: ${what}" differs from the code. Run \`make docs-parts\` and read the change.`);
      differing += 1;
    }
    return made;
  });
  checkLinks(path, after);
  if (!checks && after !== before) {
    writeFileSync(join(root, path), after);
    console.log(`${path} was updated.`);
  }
}
process.exit(differing > 0 ? 1 : 0);
