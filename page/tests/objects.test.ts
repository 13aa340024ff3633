// SPDX-License-Identifier: MIT
import { describe, expect, test } from "vitest";

import { found, treeOf, type ObjectNode } from "../src/objects";

const harbour = [
  { name: "lamp", parent: "lighthouse" },
  { name: "lighthouse", tags: ["tall"] },
  { name: "gull-1", tags: ["bird"] },
  { name: "gull-2", tags: ["bird"] },
  { name: "mast", parent: "pontoon" },
  { name: "gull-3", tags: ["bird"] },
  { name: "pontoon" },
  { name: "post-1" },
  { name: "post-2" },
];

/** "pontoon(mast)" */
function text(nodes: ObjectNode[]): string {
  return nodes.map(({ name, children }) => (children.length > 0 ? `${name}(${text(children)})` : name)).join(" ");
}

describe("the tree of objects", () => {
  test("has children below parents, whatever comes first, and folds crowds of three", () => {
    expect(text(treeOf(harbour))).toBe("lighthouse(lamp) gull(gull-1 gull-2 gull-3) pontoon(mast) post-1 post-2");
  });
  test("keeps an object whose parent is not there", () => {
    expect(text(treeOf([{ name: "lamp", parent: "gone" }]))).toBe("lamp");
  });
  test("finds names and tags, those that begin with the text first", () => {
    expect(found(harbour, "BIRD")).toEqual(["gull-1", "gull-2", "gull-3"]);
    expect(found(harbour, "la")).toEqual(["lamp"]);
    expect(found(harbour, "st")).toEqual(["mast", "post-1", "post-2"]);
    expect(found([{ name: "tug-boat" }, { name: "boat" }], "boat")).toEqual(["boat", "tug-boat"]);
    expect(found(harbour, "whale")).toEqual([]);
  });
});
