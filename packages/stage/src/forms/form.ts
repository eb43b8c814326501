import type { Vector } from '@arvex/core';
import {
  BoxGeometry,
  BufferGeometry,
  CapsuleGeometry,
  CylinderGeometry,
  Float32BufferAttribute,
  Quaternion,
  SphereGeometry,
  Vector3,
} from 'three';
import { mergeGeometries } from 'three/examples/jsm/utils/BufferGeometryUtils.js';

/** One geometry of many. All have the attributes of three's own shapes. */
export function merged(geometries: readonly BufferGeometry[]): BufferGeometry {
  const one = mergeGeometries(geometries.map((geometry) => (geometry.index ? geometry.toNonIndexed() : geometry)));
  geometries.forEach((geometry) => geometry.dispose());
  return one;
}

/** A limb from one place to another, rounded at its ends. */
export function limb(from: Vector, to: Vector, radius: number): BufferGeometry {
  const [a, b] = [new Vector3(...from), new Vector3(...to)];
  const along = b.clone().sub(a);
  const geometry = new CapsuleGeometry(radius, along.length(), 2, 6);
  return between(geometry, a, b);
}

/** A tapering limb from one place to another. */
export function taper(from: Vector, to: Vector, radiusFrom: number, radiusTo: number, sides = 8): BufferGeometry {
  const [a, b] = [new Vector3(...from), new Vector3(...to)];
  return between(new CylinderGeometry(radiusTo, radiusFrom, a.distanceTo(b), sides), a, b);
}

function between(geometry: BufferGeometry, a: Vector3, b: Vector3): BufferGeometry {
  const turn = new Quaternion().setFromUnitVectors(new Vector3(0, 1, 0), b.clone().sub(a).normalize());
  const middle = a.clone().add(b).multiplyScalar(0.5);
  return geometry.applyQuaternion(turn).translate(middle.x, middle.y, middle.z);
}

export function ball(centre: Vector, radii: Vector, sides = 10): BufferGeometry {
  return new SphereGeometry(1, sides, Math.ceil(sides * 0.7)).scale(...radii).translate(...centre);
}

export function block(centre: Vector, size: Vector): BufferGeometry {
  return new BoxGeometry(...size).translate(...centre);
}

/** A wedge of one metre each way: it rises toward −Z, from nothing at +Z. */
export function wedge(): BufferGeometry {
  const [l, r, f, b] = [-0.5, 0.5, 0.5, -0.5];
  const faces: Vector[] = [
    ...([
      [l, 0, f],
      [r, 0, f],
      [r, 1, b],
      [l, 0, f],
      [r, 1, b],
      [l, 1, b],
    ] as Vector[]),
    ...([
      [r, 0, b],
      [l, 0, b],
      [l, 1, b],
      [r, 0, b],
      [l, 1, b],
      [r, 1, b],
    ] as Vector[]),
    ...([
      [l, 0, f],
      [l, 1, b],
      [l, 0, b],
      [r, 0, f],
      [r, 0, b],
      [r, 1, b],
    ] as Vector[]),
    ...([
      [l, 0, f],
      [l, 0, b],
      [r, 0, b],
      [l, 0, f],
      [r, 0, b],
      [r, 0, f],
    ] as Vector[]),
  ];
  const geometry = new BufferGeometry();
  geometry.setAttribute('position', new Float32BufferAttribute(faces.flat(), 3));
  geometry.computeVertexNormals();
  return geometry;
}
