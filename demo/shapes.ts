import type { Vector } from '@arvex/core';
import type { BufferGeometry } from 'three';
import {
  BoxGeometry,
  Color,
  ConeGeometry,
  CylinderGeometry,
  Float32BufferAttribute,
  LatheGeometry,
  SphereGeometry,
  TorusGeometry,
  Triangle,
  Vector2,
  Vector3,
} from 'three';

/** Geometry in one colour, standing in metres. */
export type Shape = BufferGeometry;

/** Gives every vertex of a shape one colour (sRGB in hexadecimal) and makes its faces flat. */
export function painted(shape: Shape, colour: string): Shape {
  const flat = shape.index ? shape.toNonIndexed() : shape;
  flat.deleteAttribute('uv');
  dropSlivers(flat);
  flat.computeVertexNormals();
  const { r, g, b } = new Color(colour);
  const count = flat.getAttribute('position').count;
  flat.setAttribute('color', new Float32BufferAttribute(Array.from({ length: count }, () => [r, g, b]).flat(), 3));
  return flat;
}

/** Takes out triangles without area, which have no normal: the poles of spheres and the tips of turned bodies. */
function dropSlivers(flat: Shape): void {
  const at = flat.getAttribute('position').array;
  const kept: number[] = [];
  const [a, b, c] = [new Vector3(), new Vector3(), new Vector3()];
  for (let i = 0; i < at.length; i += 9) {
    const [p, q, r] = [a.fromArray(at, i), b.fromArray(at, i + 3), c.fromArray(at, i + 6)];
    if (new Triangle(p, q, r).getArea() > 1e-9) kept.push(...p.toArray(), ...q.toArray(), ...r.toArray());
  }
  flat.setAttribute('position', new Float32BufferAttribute(kept, 3));
}

export function box(size: Vector, centre: Vector, colour: string, turnDeg = 0): Shape {
  return painted(new BoxGeometry(...size).rotateY((turnDeg * Math.PI) / 180).translate(...centre), colour);
}

/** A round post from its foot, metres; `top` is the radius at its head. */
export function post(radius: number, height: number, foot: Vector, colour: string, top = radius, sides = 10): Shape {
  const shape = new CylinderGeometry(top, radius, height, sides);
  return painted(shape.translate(foot[0], foot[1] + height / 2, foot[2]), colour);
}

/** A straight bar between two points. */
export function bar(radius: number, from: Vector, to: Vector, colour: string, sides = 6): Shape {
  const [dx, dy, dz] = [to[0] - from[0], to[1] - from[1], to[2] - from[2]];
  const length = Math.hypot(dx, dy, dz);
  const shape = new CylinderGeometry(radius, radius, length, sides);
  shape.rotateX(Math.acos(dy / length)).rotateY(Math.atan2(dx, dz));
  return painted(shape.translate((from[0] + to[0]) / 2, (from[1] + to[1]) / 2, (from[2] + to[2]) / 2), colour);
}

export function ring(radius: number, thickness: number, centre: Vector, colour: string, sides = 40): Shape {
  return painted(new TorusGeometry(radius, thickness, 5, sides).rotateX(Math.PI / 2).translate(...centre), colour);
}

export function ball(radius: number, centre: Vector, colour: string, squash: Vector = [1, 1, 1], sides = 14): Shape {
  const shape = new SphereGeometry(radius, sides, Math.ceil(sides * 0.7));
  return painted(shape.scale(...squash).translate(...centre), colour);
}

export function cone(radius: number, height: number, foot: Vector, colour: string, sides = 16): Shape {
  return painted(new ConeGeometry(radius, height, sides).translate(foot[0], foot[1] + height / 2, foot[2]), colour);
}

/** A body turned round its upright axis from pairs of radius and height. */
export function turnedBody(
  profile: readonly (readonly [number, number])[],
  colour: string,
  sides = 24,
  foot: Vector = [0, 0, 0],
): Shape {
  const shape = new LatheGeometry(
    profile.map(([radius, height]) => new Vector2(radius, height)),
    sides,
  );
  return painted(shape.translate(...foot), colour);
}

/** Repeatable noise from 0 to 1 for two whole numbers. */
export function noise(x: number, y: number): number {
  const value = Math.sin(x * 127.1 + y * 311.7) * 43_758.5453;
  return value - Math.floor(value);
}
