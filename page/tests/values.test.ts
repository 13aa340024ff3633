// SPDX-License-Identifier: MIT
import { describe, expect, it, vi } from "vitest";

import { controlOf, quoted, textOf, textOfEntries, typedText } from "../src/fields";
import { change, reading, roundStep, typed } from "../src/format";
import { Held, keyName } from "../src/keys";
import type { Field, Form } from "../src/messages";

const number: Form = { kind: "number", words: "a number", low: -1e9, high: 1e9 };
const three: Form = { kind: "list", words: "three numbers", most: 3, parts: [number] };

function field(form: Form, value: Field["value"], more: Partial<Field> = {}): Field {
  return { name: "speed", help: "how fast", unit: "m/s", form, required: false, value, ...more };
}

describe("the control of a value", () => {
  it("is a slider where it is a number", () => {
    expect(controlOf(field(number, 40, { slider: [-360, 360] }))).toEqual({
      kind: "numbers",
      values: [40],
      labels: [""],
      range: { low: -360, high: 360, step: 2 },
      isList: false,
    });
  });

  it("has room for a value beyond the slider, but not beyond what is allowed", () => {
    const beyond = controlOf(field(number, 500, { slider: [-360, 360] }));
    expect(beyond).toMatchObject({ range: { high: 500 } });
    const positive = controlOf(field({ ...number, low: 0 }, 3));
    expect(positive).toMatchObject({ range: { low: 0, high: 6 } });
  });

  it("is one for each part of a vector", () => {
    expect(controlOf(field(three, [0, 1, 0]))).toMatchObject({ labels: ["x", "y", "z"], isList: true });
    expect(controlOf(field({ ...three, most: 99 }, [4, 0, 4, 0]))).toMatchObject({ labels: ["1", "2", "3", "4"] });
  });

  it("goes by the form that the value has", () => {
    const either: Form = { kind: "any_of", words: "one or three", parts: [number, three] };
    expect(controlOf(field(either, 2))).toMatchObject({ isList: false });
    expect(controlOf(field(either, [1, 2, 3]))).toMatchObject({ isList: true });
    expect(controlOf(field(either, undefined))).toEqual({ kind: "text", value: "" });
    const words: Form = { kind: "word", words: "own or world", names: ["own", "world"] };
    expect(controlOf(field(words, "own"))).toEqual({ kind: "word", names: ["own", "world"], value: "own" });
    expect(controlOf(field({ kind: "boolean", words: "true or false" }, true))).toEqual({ kind: "yes-no", value: true });
    expect(controlOf(field({ kind: "text", words: "" }, "in-sine", { easing: true }))).toMatchObject({ kind: "easing" });
  });

  it("sends what a scene file would say", () => {
    expect(textOf([1, -2.5, 0], true)).toBe("[1, -2.5, 0]");
    expect(textOf([3], false)).toBe("3");
    expect(quoted('cubic-bezier(0, 0, 1, 1) "x"')).toBe('"cubic-bezier(0, 0, 1, 1) \\"x\\""');
  });
});

describe("numbers as they are read", () => {
  it("have three decimals, and no sign before nothing", () => {
    expect([1.23456, -0.0001, NaN, undefined].map(reading)).toEqual(["1.235", "0.000", "–", "–"]);
  });
  it("say how much has changed, where it can be seen", () => {
    expect([change(2, 1.5), change(1, 1.25), change(1, 1.0001), change(1, NaN)]).toEqual(["+0.500", "−0.250", "", ""]);
  });
  it("are typed with no more digits than their step has", () => {
    expect([typed(0.30000000000000004), typed(1.23456, 0.01), typed(12.3, 5)]).toEqual(["0.3", "1.23", "12"]);
    expect([3.6, 0.003, 1, 20].map(roundStep)).toEqual([2, 0.002, 1, 20]);
  });
});

describe("keys", () => {
  it("have the names that scenes give them", () => {
    expect(["w", "ArrowUp", " ", "Enter"].map(keyName)).toEqual(["W", "Up", "Space", "Enter"]);
  });

  it("go down once and up once, and only where the scene answers to them", () => {
    const send = vi.fn();
    const held = new Held(() => new Set(["W", "Up"]), send);
    expect(held.press("w")).toBe(true);
    held.press("W"); // the keyboard repeats it
    expect(held.press("x")).toBe(false);
    held.press("ArrowUp");
    held.release("w");
    expect(held.release("w")).toBe(false);
    held.releaseAll();
    expect(send.mock.calls).toEqual([
      ["press", "W"],
      ["press", "Up"],
      ["release", "W"],
      ["release", "Up"],
    ]);
  });
});

describe("Lists of tables", () => {
  it("are sent as a whole, each without what is as it is unless given", () => {
    const urge = (name: string, texts: [string, string | undefined, string | undefined][]) => ({
      name,
      help: "",
      fields: texts.map(([key, text, usual]) => ({ ...field(number, 0), name: key, text, default: usual, required: key === "tag" })),
    });
    const list = [
      urge("separation", [["tag", '"gull"', undefined], ["within", "5", "5"], ["weight", "2.5", "1"]]),
      urge("flee", [["target", "[0, 1, 2]", undefined], ["within", undefined, undefined]]),
    ];
    expect(textOfEntries({ key: "urge", list })).toBe(
      '[{ urge = "separation", tag = "gull", weight = 2.5 }, { urge = "flee", target = [0, 1, 2] }]',
    );
  });

  it("take names without quotes, and anything else as it is typed", () => {
    const name = { ...field(number, 0), value: "gull" };
    expect(typedText(name, "fish")).toBe('"fish"');
    expect(typedText(name, '"fish"')).toBe('"fish"');
    expect(typedText(name, "[0, 1, 2]")).toBe("[0, 1, 2]");
    expect(typedText(field(number, 3), "4")).toBe("4");
  });
});
