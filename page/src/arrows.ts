// SPDX-License-Identifier: MIT
// Arrows in space: for each urge of an agent, from its position along the wanted velocity, scaled by its share.

import * as THREE from "three";

import type { UrgeShare } from "./messages";

const seconds = 0.6; // an arrow is as long as the movement in this time

export interface Arrow {
  urge: UrgeShare;
  color: string;
}

/** Replaces the arrows of a group. */
export function drawArrows(group: THREE.Group, from: THREE.Vector3, arrows: readonly Arrow[]): void {
  for (const each of [...group.children]) {
    group.remove(each);
    if (each instanceof THREE.ArrowHelper) each.dispose();
  }
  for (const { urge, color } of arrows) {
    const way = new THREE.Vector3(...urge.velocity).multiplyScalar(urge.share * seconds);
    const length = way.length();
    if (length < 0.02) continue;
    const head = Math.min(0.45, length * 0.4);
    group.add(new THREE.ArrowHelper(way.normalize(), from, length, color, head, head * 0.6));
  }
}
