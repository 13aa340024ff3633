// SPDX-License-Identifier: MIT
// What artists have made: triangles with colours and textures, as the drawing library wants them.

import * as THREE from "three";

import type { SentModel, SentTexture, Wrap } from "./wire";

export interface ShownModel {
  geometry: THREE.BufferGeometry;
  materials: THREE.Material[]; // by the groups of the geometry
}

const wraps: Record<Wrap, number> = { repeat: THREE.RepeatWrapping, mirror: THREE.MirroredRepeatWrapping, clamp: THREE.ClampToEdgeWrapping };

/** Reads the pictures. A part whose picture cannot be read has its colour alone. */
export async function shownModel(model: SentModel): Promise<ShownModel> {
  const textures = await Promise.all(model.textures.map(textureOf));
  const geometry = geometryOf(model);
  const materials = [undefined, ...textures].map((map) => new THREE.MeshLambertMaterial({ color: 0xffffff, vertexColors: true, map: map ?? null }));
  return { geometry, materials };
}

async function textureOf(sent: SentTexture): Promise<THREE.Texture | undefined> {
  const picture = await createImageBitmap(new Blob([sent.bytes], { type: `image/${sent.format}` })).catch(() => undefined);
  if (!picture) return undefined;
  const texture = new THREE.Texture(picture);
  texture.flipY = false; // its coordinates count from the top
  texture.colorSpace = THREE.SRGBColorSpace;
  texture.wrapS = wraps[sent.across];
  texture.wrapT = wraps[sent.down];
  texture.magFilter = sent.isSmooth ? THREE.LinearFilter : THREE.NearestFilter;
  texture.needsUpdate = true;
  return texture;
}

/** The triangles of all parts with flat faces: a group without a texture, then one for each texture. */
export function geometryOf({ parts, textures }: SentModel): THREE.BufferGeometry {
  const corners = parts.reduce((sum, part) => sum + part.indices.length, 0);
  const positions = new Float32Array(3 * corners);
  const colours = new Float32Array(3 * corners);
  const coordinates = new Float32Array(2 * corners);
  const geometry = new THREE.BufferGeometry();
  let corner = 0;
  for (let group = 0; group <= textures.length; ++group) {
    const first = corner;
    for (const part of parts.filter(({ texture }) => (texture === undefined ? 0 : texture + 1) === group)) {
      const paint = new THREE.Color(part.colour);
      for (const index of part.indices) {
        for (let axis = 0; axis < 3; ++axis) positions[3 * corner + axis] = part.positions[3 * index + axis] ?? 0;
        for (let axis = 0; axis < 2; ++axis) coordinates[2 * corner + axis] = part.coordinates[2 * index + axis] ?? 0;
        paint.toArray(colours, 3 * corner);
        corner += 1;
      }
    }
    if (corner > first) geometry.addGroup(first, corner - first, group);
  }
  geometry.setAttribute("position", new THREE.BufferAttribute(positions, 3));
  geometry.setAttribute("color", new THREE.BufferAttribute(colours, 3));
  geometry.setAttribute("uv", new THREE.BufferAttribute(coordinates, 2));
  geometry.computeVertexNormals();
  return geometry;
}
