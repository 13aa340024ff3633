// validate.mjs FILE...: fails if the Khronos validator reports anything about a glTF file, even a hint.

import { readFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import validator from 'gltf-validator';

let wrong = process.argv.length < 3;
for (const file of process.argv.slice(2)) {
  const beside = (uri) => Promise.resolve(new Uint8Array(readFileSync(join(dirname(file), decodeURIComponent(uri)))));
  const report = await validator.validateBytes(new Uint8Array(readFileSync(file)), { externalResourceFunction: beside });
  const { numErrors, numWarnings, numInfos, numHints, messages } = report.issues;
  console.log(`${file}: ${numErrors} errors, ${numWarnings} warnings, ${numInfos} notes, ${numHints} hints; ` +
              `${report.info.totalVertexCount} points, ${report.info.animationCount} animations`);
  for (const message of messages) console.log(' ', message.code, message.pointer, message.message);
  wrong ||= numErrors + numWarnings + numInfos + numHints > 0;
}
process.exit(wrong ? 1 : 0);
