// SPDX-License-Identifier: MIT
// Small moving pictures of the kinds of behaviours.

import { el } from "./dom";

interface Place {
  x: number; // -1 to 1
  y: number;
  angle?: number; // of a mark, in turns
  other?: { x: number; y: number }; // another object
}

const { sin, cos, PI, abs, exp } = Math;
const turn = 2 * PI;

/** A wave from -1 to 1 and back, in straight lines. */
const zigzag = (t: number): number => 1 - 4 * abs((t % 1) - 0.5);
const smoothstep = (t: number): number => t * t * (3 - 2 * t);

/** A point that comes to rest, anew every two seconds. */
const settling = (t: number): number => 0.6 - 1.2 * exp(-3 * (t % 2)) * cos(9 * (t % 2));

const square: [number, number][] = [
  [-0.7, -0.5],
  [0.7, -0.5],
  [0.7, 0.5],
  [-0.7, 0.5],
];

function alongSquare(t: number): Place {
  const at = (t % 4) + 4;
  const [x0, y0] = square[Math.floor(at) % 4] as [number, number];
  const [x1, y1] = square[(Math.floor(at) + 1) % 4] as [number, number];
  const part = at % 1;
  return { x: x0 + (x1 - x0) * part, y: y0 + (y1 - y0) * part };
}

const leader = (t: number): { x: number; y: number } => ({ x: 0.7 * sin(t * 1.6), y: 0.35 * sin(t * 3.2) });

const motions: Record<string, (t: number) => Place> = {
  spin: (t) => ({ x: 0, y: 0, angle: t / 3 }),
  travel: (t) => ({ x: 0.8 * zigzag(t / 4), y: 0 }),
  sway: (t) => ({ x: 0, y: 0.6 * sin(t * turn * 0.6) }),
  orbit: (t) => ({ x: 0.7 * cos(t * 2), y: 0.55 * sin(t * 2), other: { x: 0, y: 0 } }),
  glide: (t) => ({ x: 0.8 * (2 * smoothstep((1 + zigzag(t / 3)) / 2) - 1), y: 0 }),
  roam: (t) => ({ x: 0.7 * sin(t * 0.9 + sin(t * 1.7)), y: 0.5 * sin(t * 1.3 + 2 * sin(t * 0.7)) }),
  route: (t) => alongSquare(t),
  follow: (t) => ({ ...leader(t - 0.35), other: leader(t) }),
  face: (t) => {
    const other = leader(t);
    return { x: 0, y: 0, angle: Math.atan2(other.y, other.x) / turn, other };
  },
  spring: (t) => ({ x: settling(t), y: 0, other: { x: 0.6, y: 0 } }),
  smooth: (t) => ({ x: t % 2 < 1 ? 0.7 - 1.4 * exp(-4 * (t % 1)) : -0.7 + 1.4 * exp(-4 * (t % 1)), y: 0 }),
  drive: (t) => ({ x: 0.6 * sin(t), y: 0.4 * sin(2 * t), angle: Math.atan2(0.8 * cos(2 * t), 0.6 * cos(t)) / turn }),
  attract: (t) => ({ x: -0.8 + 1.4 * Math.min(1, (t % 2) ** 2 / 2), y: 0, other: { x: 0.6, y: 0 } }),
  steer: (t) => ({ x: 0.7 * sin(t * 0.8 + 0.6 * sin(t * 2)), y: 0.5 * sin(t * 1.1), angle: sin(t) / 4 }),
  fed: (t) => ({ x: 0.7 * zigzag(t / 5), y: 0.2 * Math.floor(3 * sin(t)) }),
  pace: (t) => ({ x: 0.7 * sin(t * 3), y: 0.35, other: { x: 0.7 * sin(t * 1.5), y: -0.35 } }),
};

/** A canvas in which a dot moves like an object with a behaviour of that kind. */
export function kindPicture(kind: string): { canvas: HTMLCanvasElement; draw(seconds: number): void } {
  const canvas = el("canvas", { width: 128, height: 80, class: "kind-picture", "aria-hidden": "true" });
  const motion = motions[kind] ?? ((t: number): Place => ({ x: 0.5 * sin(t), y: 0 }));
  const draw = (seconds: number): void => {
    const context = canvas.getContext("2d");
    if (!context) return;
    const color = getComputedStyle(canvas).color;
    const { x, y, angle, other } = motion(seconds);
    const trail = 1.2; // s
    const at = (px: number, py: number): [number, number] => [64 + px * 52, 40 - py * 32];
    context.clearRect(0, 0, 128, 80);
    context.fillStyle = color;
    for (let i = 24; i > 0; --i) {
      const past = motion(Math.max(0, seconds - (trail * i) / 24));
      context.globalAlpha = 0.5 * (1 - i / 25);
      context.beginPath();
      context.arc(...at(past.x, past.y), 4, 0, turn);
      context.fill();
    }
    context.globalAlpha = 1;
    if (other) {
      context.strokeStyle = color;
      context.lineWidth = 2;
      context.beginPath();
      context.arc(...at(other.x, other.y), 6, 0, turn);
      context.stroke();
    }
    context.fillStyle = color;
    context.beginPath();
    context.arc(...at(x, y), 8, 0, turn);
    context.fill();
    if (angle === undefined) return;
    context.strokeStyle = color;
    context.lineWidth = 4;
    context.beginPath();
    context.moveTo(...at(x, y));
    context.lineTo(...at(x + 0.4 * cos(angle * turn), y + 0.6 * sin(angle * turn)));
    context.stroke();
  };
  return { canvas, draw };
}
