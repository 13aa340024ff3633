// SPDX-License-Identifier: MIT
// Fails where the lock files contain an npm package, direct or indirect, that is not in known-packages.txt.
//
// The subject of this project is the motion of scene objects: no package with this purpose may be used.
// known-packages.txt lists every allowed package, one a line. To add one, read what it does, and add its name.

import { readFileSync } from "node:fs";
import { dirname, join } from "node:path";
import { fileURLToPath } from "node:url";

const here = dirname(fileURLToPath(import.meta.url));
const known = new Set(readFileSync(join(here, "known-packages.txt"), "utf8").split("\n").filter((line) => line !== ""));
const seen = new Set();

for (const lock of ["../page/package-lock.json", "../tests/gltf/package-lock.json", "../docs/site/package-lock.json"]) {
  const { packages } = JSON.parse(readFileSync(join(here, lock), "utf8"));
  for (const path of Object.keys(packages)) if (path !== "") seen.add(path.slice(path.lastIndexOf("node_modules/") + 13));
}

const unknown = [...seen].filter((name) => !known.has(name)).sort();
const gone = [...known].filter((name) => !seen.has(name)).sort();
for (const name of unknown)
  console.error(`scripts/known-packages.txt: the package "${name}" is in a lock file and not in this list. Find out what it does; if it does not move scene objects, add its name.`);
for (const name of gone) console.error(`scripts/known-packages.txt: the package "${name}" is in no lock file; remove it.`);
process.exit(unknown.length + gone.length > 0 ? 1 : 0);
