// SPDX-License-Identifier: MIT
import { readFileSync } from "node:fs";

import { describe, expect, it } from "vitest";

const css = readFileSync(new URL("../src/style.css", import.meta.url), "utf8");

/** The colours of a theme: those of the day, replaced by those of the night. */
function colors(isDark: boolean): Map<string, string> {
  const [day, night] = [...css.matchAll(/:root \{([^}]*)\}/g)].map((match) => match[1] ?? "");
  const text = isDark ? `${day}${night}` : (day ?? "");
  return new Map([...text.matchAll(/--([\w-]+): (#[0-9a-f]{6});/g)].map((match) => [match[1] ?? "", match[2] ?? ""]));
}

/** Relative luminance and contrast as WCAG 2 defines them. */
function luminance(color: string): number {
  const [r, g, b] = [1, 3, 5].map((at) => {
    const share = parseInt(color.slice(at, at + 2), 16) / 255;
    return share <= 0.04045 ? share / 12.92 : ((share + 0.055) / 1.055) ** 2.4;
  }) as [number, number, number];
  return 0.2126 * r + 0.7152 * g + 0.0722 * b;
}

function contrast(one: string, other: string): number {
  const [low, high] = [luminance(one), luminance(other)].sort((a, b) => a - b) as [number, number];
  return (high + 0.05) / (low + 0.05);
}

const texts: [string, string][] = [
  ["ink", "paper"], ["ink", "panel"], ["ink", "changed"], ["quiet", "paper"], ["quiet", "panel"], ["accent", "panel"],
  ["accent", "paper"], ["accent-ink", "accent"], ["bad", "bad-paper"], ["bad", "paper"], ["bad", "panel"],
  ["event", "panel"],
];
const signs: [string, string][] = [
  ["now", "paper"], ["event", "panel"], ["chosen", "panel"], ["chosen", "water"], ["ghost", "water"],
  ...[1, 2, 3, 4, 5, 6].flatMap((i): [string, string][] => [[`line${i}`, "paper"], [`line${i}`, "water"]]),
];

describe.each([["by day", false], ["by night", true]] as const)("the theme %s", (_, isDark) => {
  const all = colors(isDark);
  const of = (name: string): string => all.get(name) ?? "";
  it.each(texts)("lets %s be read on %s", (one, other) => expect(contrast(of(one), of(other))).toBeGreaterThanOrEqual(4.5));
  it.each(signs)("lets %s be seen on %s", (one, other) => expect(contrast(of(one), of(other))).toBeGreaterThanOrEqual(3));
});
