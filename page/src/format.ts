// SPDX-License-Identifier: MIT
// Numbers as text.

/** A number in a column: three decimals, no sign before 0; "–" for an unknown number. */
export function reading(value: number | undefined): string {
  if (value === undefined || !Number.isFinite(value)) return "–";
  const text = value.toFixed(3);
  return text === "-0.000" ? "0.000" : text;
}

/** The change of a number, with its sign; empty where it is rounded to 0. */
export function change(now: number | undefined, before: number | undefined): string {
  if (now === undefined || before === undefined || !Number.isFinite(now) || !Number.isFinite(before)) return "";
  const text = (now - before).toFixed(3);
  if (Number(text) === 0) return "";
  return now > before ? `+${text}` : text.replace("-", "−");
}

/** A number in an input: no more digits than the step of the input needs. */
export function typed(value: number, step = 0): string {
  if (step <= 0) return String(Number(value.toPrecision(12)));
  const digits = Math.max(0, -Math.floor(Math.log10(step) + 1e-9));
  return String(Number(value.toFixed(Math.min(digits, 12))));
}

/** The greatest of 1, 2 or 5 times a power of ten that is not above a number. */
export function roundStep(most: number): number {
  const power = 10 ** Math.floor(Math.log10(most));
  const share = most / power;
  return Number(((share >= 5 ? 5 : share >= 2 ? 2 : 1) * power).toPrecision(3));
}
