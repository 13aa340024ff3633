// SPDX-License-Identifier: MIT
// Types for the parts of three that this page uses. The package has none.

declare module "three" {
  type ColorLike = string | number | Color;

  export class Color {
    constructor(color: ColorLike);
    lerp(other: Color, share: number): this;
    toArray(to: Float32Array, from: number): Float32Array;
  }
  export class Vector2 {
    constructor(x?: number, y?: number);
  }
  export class Vector3 {
    constructor(x?: number, y?: number, z?: number);
    x: number;
    y: number;
    z: number;
    set(x: number, y: number, z: number): this;
    setScalar(value: number): this;
    setLength(length: number): this;
    fromArray(numbers: ArrayLike<number>, from?: number): this;
    copy(other: Vector3): this;
    clone(): this;
    add(other: Vector3): this;
    sub(other: Vector3): this;
    multiply(other: Vector3): this;
    multiplyScalar(factor: number): this;
    divide(other: Vector3): this;
    addScaledVector(way: Vector3, factor: number): this;
    applyQuaternion(rotation: Quaternion): this;
    projectOnPlane(normal: Vector3): this;
    clampLength(least: number, most: number): this;
    cross(other: Vector3): this;
    distanceTo(other: Vector3): number;
    lengthSq(): number;
    dot(other: Vector3): number;
    setX(x: number): this;
    setZ(z: number): this;
    divideScalar(divisor: number): this;
    normalize(): this;
    length(): number;
    applyAxisAngle(axis: Vector3, radians: number): this;
    project(camera: PerspectiveCamera): this;
  }
  export class Quaternion {
    constructor(x?: number, y?: number, z?: number, w?: number);
    x: number;
    y: number;
    z: number;
    w: number;
    multiply(other: Quaternion): this;
    fromArray(numbers: ArrayLike<number>, from?: number): this;
    setFromAxisAngle(axis: Vector3, radians: number): this;
    clone(): this;
    invert(): this;
  }
  export class Plane {
    setFromNormalAndCoplanarPoint(normal: Vector3, point: Vector3): this;
  }
  export class Ray {
    constructor(origin: Vector3, direction: Vector3);
    origin: Vector3;
    direction: Vector3;
    intersectPlane(plane: Plane, to: Vector3): Vector3 | null;
  }
  export class Matrix4 {
    compose(position: Vector3, rotation: Quaternion, scale: Vector3): this;
    makeScale(x: number, y: number, z: number): this;
  }
  export class Box3 {
    constructor(low: Vector3, high: Vector3);
    getCenter(to: Vector3): Vector3;
    getSize(to: Vector3): Vector3;
  }
  export const MathUtils: { degToRad(degrees: number): number };

  export class BufferGeometry {
    setFromPoints(points: Vector3[]): this;
    setAttribute(name: string, attribute: BufferAttribute): this;
    getAttribute(name: string): BufferAttribute;
    addGroup(start: number, count: number, material: number): void;
    groups: { start: number; count: number; materialIndex: number }[];
    computeVertexNormals(): void;
    dispose(): void;
  }
  export class BufferAttribute {
    constructor(numbers: Float32Array, each: number);
    needsUpdate: boolean;
    array: Float32Array;
    setXYZ(item: number, x: number, y: number, z: number): this;
  }
  export class PlaneGeometry extends BufferGeometry {
    constructor(width: number, height: number);
  }
  export class BoxGeometry extends BufferGeometry {
    constructor(width: number, height: number, depth: number);
  }
  export class SphereGeometry extends BufferGeometry {
    constructor(radius: number, across: number, down: number);
  }
  export class CylinderGeometry extends BufferGeometry {
    constructor(top: number, bottom: number, height: number, around: number);
  }
  export class ConeGeometry extends BufferGeometry {
    constructor(radius: number, height: number, around: number);
  }
  export class OctahedronGeometry extends BufferGeometry {
    constructor(radius: number);
  }

  export class Material {
    dispose(): void;
  }
  export class MeshLambertMaterial extends Material {
    constructor(settings: { color: ColorLike; vertexColors?: boolean; map?: Texture | null });
  }
  export class MeshBasicMaterial extends Material {
    constructor(settings: { color: ColorLike; transparent?: boolean; opacity?: number; depthWrite?: boolean });
  }
  export const RepeatWrapping: number;
  export const MirroredRepeatWrapping: number;
  export const ClampToEdgeWrapping: number;
  export const LinearFilter: number;
  export const NearestFilter: number;
  export const SRGBColorSpace: string;
  export class Texture {
    constructor(picture?: ImageBitmap);
    flipY: boolean;
    colorSpace: string;
    wrapS: number;
    wrapT: number;
    magFilter: number;
    needsUpdate: boolean;
  }
  export class CanvasTexture extends Texture {
    constructor(canvas: HTMLCanvasElement);
  }
  export const AdditiveBlending: number;
  export class PointsMaterial extends Material {
    constructor(settings: {
      size: number;
      sizeAttenuation?: boolean;
      color?: ColorLike;
      map?: Texture;
      vertexColors?: boolean;
      transparent?: boolean;
      depthWrite?: boolean;
      blending?: number;
    });
  }
  export class LineBasicMaterial extends Material {
    constructor(settings: { color: ColorLike });
  }
  export class LineDashedMaterial extends Material {
    constructor(settings: { color: ColorLike; dashSize: number; gapSize: number });
  }

  export class Object3D {
    name: string;
    visible: boolean;
    frustumCulled: boolean;
    rotation: { x: number };
    children: Object3D[];
    position: Vector3;
    add(...children: Object3D[]): this;
    remove(...children: Object3D[]): this;
    getObjectByName(name: string): Object3D | undefined;
  }
  export class Group extends Object3D {}
  export class Scene extends Object3D {
    background: Color | null;
    fog: Fog | null;
  }
  export class Fog {
    constructor(color: ColorLike, near: number, far: number);
  }
  export class Mesh extends Object3D {
    constructor(geometry: BufferGeometry, material: Material);
    geometry: BufferGeometry;
  }
  export class Points extends Object3D {
    constructor(geometry: BufferGeometry, material: Material);
    geometry: BufferGeometry;
  }
  export class Line extends Object3D {
    constructor(geometry: BufferGeometry, material: Material);
    geometry: BufferGeometry;
    computeLineDistances(): this;
  }
  export class LineSegments extends Line {}
  export class InstancedMesh extends Object3D {
    constructor(geometry: BufferGeometry | undefined, material: Material | Material[], count: number);
    count: number;
    boundingSphere: object | null;
    instanceMatrix: { needsUpdate: boolean };
    instanceColor: { needsUpdate: boolean } | null;
    setMatrixAt(instance: number, matrix: Matrix4): void;
    setColorAt(instance: number, color: Color): void;
    dispose(): void;
  }
  export class GridHelper extends LineSegments {
    constructor(size: number, divisions: number, middle: ColorLike, others: ColorLike);
  }
  export class ArrowHelper extends Object3D {
    constructor(way: Vector3, from: Vector3, length: number, color: ColorLike, head: number, width: number);
    dispose(): void;
  }
  export class HemisphereLight extends Object3D {
    constructor(sky: ColorLike, ground: ColorLike, intensity: number);
  }
  export class DirectionalLight extends Object3D {
    constructor(color: ColorLike, intensity: number);
  }
  export class PerspectiveCamera extends Object3D {
    constructor(degrees: number, aspect: number, near: number, far: number);
    aspect: number;
    setViewOffset(fullWidth: number, fullHeight: number, x: number, y: number, width: number, height: number): void;
    updateProjectionMatrix(): void;
  }
  export class Raycaster {
    ray: Ray;
    setFromCamera(pointer: Vector2, camera: PerspectiveCamera): void;
    intersectObjects(objects: Object3D[], below: boolean): { object: Object3D; instanceId?: number }[];
  }
  export class WebGLRenderer {
    constructor(settings: { antialias: boolean });
    domElement: HTMLCanvasElement;
    setPixelRatio(ratio: number): void;
    setSize(width: number, height: number, withStyle: boolean): void;
    render(scene: Scene, camera: PerspectiveCamera): void;
  }
}

declare module "three/addons/controls/OrbitControls.js" {
  import type { PerspectiveCamera, Vector3 } from "three";

  export class OrbitControls {
    constructor(camera: PerspectiveCamera, element: HTMLElement);
    target: Vector3;
    enableDamping: boolean;
    update(): void;
    addEventListener(event: "change", listener: () => void): void;
  }
}
