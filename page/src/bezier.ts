// SPDX-License-Identifier: MIT
// CSS's cubic-bezier(x1, y1, x2, y2): its text, its curve, and the one that is nearest to another curve.

export interface Bezier {
  x1: number;
  y1: number;
  x2: number;
  y2: number;
}

/** The easings of CSS that are such curves. */
const named: Record<string, Bezier> = {
  linear: { x1: 0, y1: 0, x2: 1, y2: 1 },
  ease: { x1: 0.25, y1: 0.1, x2: 0.25, y2: 1 },
  "ease-in": { x1: 0.42, y1: 0, x2: 1, y2: 1 },
  "ease-out": { x1: 0, y1: 0, x2: 0.58, y2: 1 },
  "ease-in-out": { x1: 0.42, y1: 0, x2: 0.58, y2: 1 },
};

export function bezierOf(text: string): Bezier | undefined {
  const known = named[text.trim()];
  if (known) return { ...known };
  const numbers = /^cubic-bezier\(([^)]*)\)$/.exec(text.trim())?.[1]?.split(",").map(Number);
  if (numbers?.length !== 4 || !numbers.every((each) => Number.isFinite(each))) return undefined;
  const [x1, y1, x2, y2] = numbers as [number, number, number, number];
  return { x1, y1, x2, y2 };
}

export function textOfBezier({ x1, y1, x2, y2 }: Bezier): string {
  return `cubic-bezier(${[x1, y1, x2, y2].map((each) => String(Math.round(each * 100) / 100)).join(", ")})`;
}

function at(t: number, a: number, b: number): number {
  return 3 * (1 - t) * (1 - t) * t * a + 3 * (1 - t) * t * t * b + t * t * t;
}

/** The parameter of the curve at a share of the time, 0 to 1. */
function parameterAt(x1: number, x2: number, share: number): number {
  let low = 0;
  let high = 1;
  for (let i = 0; i < 40; ++i) {
    const middle = (low + high) / 2;
    if (at(middle, x1, x2) < share) low = middle;
    else high = middle;
  }
  return (low + high) / 2;
}

/** The curve's value at a share of the time, 0 to 1. */
export function valueAt(curve: Bezier, share: number): number {
  return at(parameterAt(curve.x1, curve.x2, share), curve.y1, curve.y2);
}

/** The best y1 and y2 for some x1 and x2, by least squares, and the sum of the squares that are left. */
function fitted(x1: number, x2: number, values: readonly number[]): { curve: Bezier; error: number } {
  const rows = values.map((value, i) => {
    const t = parameterAt(x1, x2, i / (values.length - 1));
    return { a: 3 * (1 - t) * (1 - t) * t, b: 3 * (1 - t) * t * t, rest: value - t * t * t };
  });
  const sum = (of: (row: { a: number; b: number; rest: number }) => number): number => rows.reduce((all, row) => all + of(row), 0);
  const [aa, ab, bb, ar, br] = [sum((r) => r.a * r.a), sum((r) => r.a * r.b), sum((r) => r.b * r.b), sum((r) => r.a * r.rest), sum((r) => r.b * r.rest)];
  const determinant = aa * bb - ab * ab;
  const [y1, y2] = Math.abs(determinant) < 1e-12 ? [x1, x2] : [(ar * bb - br * ab) / determinant, (br * aa - ar * ab) / determinant];
  return { curve: { x1, y1, x2, y2 }, error: sum((r) => (r.a * y1 + r.b * y2 - r.rest) ** 2) };
}

/** The nearest curve to values at equal shares of the time: of a grid of x1 and x2, which becomes ever finer. */
export function nearestBezier(values: readonly number[]): Bezier {
  let best = fitted(0.5, 0.5, values);
  for (let step = 0.1, around = 0.5; step > 0.002; around = step, step /= 5) {
    const { x1, x2 } = best.curve;
    for (let dx = -around; dx <= around + 1e-9; dx += step)
      for (let dz = -around; dz <= around + 1e-9; dz += step) {
        const tried = fitted(Math.max(0, Math.min(x1 + dx, 1)), Math.max(0, Math.min(x2 + dz, 1)), values);
        if (tried.error < best.error) best = tried;
      }
  }
  return best.curve;
}
