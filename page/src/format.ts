// SPDX-License-Identifier: MIT
// Numbers as they are read.

/** A number in a column: three decimals, without a sign before nothing; "–" where there is none. */
export function reading(value: number | undefined): string {
  if (value === undefined || !Number.isFinite(value)) return "–";
  const text = value.toFixed(3);
  return text === "-0.000" ? "0.000" : text;
}

/** How much it has changed, with its sign; empty where nothing changed that would be seen. */
export function change(now: number | undefined, before: number | undefined): string {
  if (now === undefined || before === undefined || !Number.isFinite(now) || !Number.isFinite(before)) return "";
  const text = (now - before).toFixed(3);
  if (Number(text) === 0) return "";
  return now > before ? `+${text}` : text.replace("-", "−");
}

/** A number as it is typed: no more digits than it needs for a step that fine. */
export function typed(value: number, step = 0): string {
  if (step <= 0) return String(Number(value.toPrecision(12)));
  const digits = Math.max(0, -Math.floor(Math.log10(step) + 1e-9));
  return String(Number(value.toFixed(Math.min(digits, 12))));
}

/** 1, 2 or 5 times a power of ten, not above. */
export function roundStep(most: number): number {
  const power = 10 ** Math.floor(Math.log10(most));
  const share = most / power;
  return Number(((share >= 5 ? 5 : share >= 2 ? 2 : 1) * power).toPrecision(3));
}
