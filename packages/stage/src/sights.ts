import type { Vector } from '@arvex/core';
import { difference, distanceAlongAxis, scaled, sightThrough } from '@arvex/core';
import type { Intersection } from 'three';
import { InstancedMesh, Matrix3, Matrix4, Raycaster, Vector3 } from 'three';
import type { SetScene } from './scene';
import type { StageView } from './view';

/** What lies under a point of a picture, or in the way of a ray. */
export interface Picked {
  readonly pointM: Vector;
  readonly distanceM: number;
  /** Unit normal of the surface in the world. */
  readonly normal: Vector;
  readonly placementId: string | undefined;
}

/** What lies in a view: ids of placements, distances along the axis in metres. */
export interface Survey {
  /** Cut by the near clip. */
  readonly near: string | undefined;
  /** Cut by the far clip. */
  readonly far: string | undefined;
  readonly nearest: { readonly distanceM: number; readonly placementId: string | undefined } | undefined;
  /** What fills the whole window: every sight ends on it. */
  readonly filledBy: string | undefined;
}

/** A place in the world at a scene time. */
export interface PlaceInTime {
  readonly atM: Vector;
  readonly atFlicks: number;
}

/** A straight line in the world at a scene time. */
export interface LineInTime {
  readonly fromM: Vector;
  readonly toM: Vector;
  readonly atFlicks: number;
}

/** What is near a place, and how near, metres. */
export interface Near {
  readonly distanceM: number;
  readonly placementId: string | undefined;
}

/** What sights into the set meet, without drawing it. */
export class Sights {
  constructor(private readonly set: SetScene) {}

  /** What lies in the window, found along a grid of sights: the nearest thing, and what the clip distances cut away. */
  survey(view: StageView): Survey {
    const { pose, lens, window } = view;
    this.set.goTo(view.atFlicks);
    let [near, far]: (string | undefined)[] = [undefined, undefined];
    let nearest: Survey['nearest'];
    const seen = new Set<string | undefined>();
    for (let i = 0; i < CLIP_GRID * CLIP_GRID; i++) {
      const [x, y] = [((i % CLIP_GRID) + 0.5) / CLIP_GRID, (Math.floor(i / CLIP_GRID) + 0.5) / CLIP_GRID];
      const { fromM, direction } = sightThrough(x, y, pose, lens, window);
      const hit = this.cast(fromM, direction, lens.farM * CLIP_SEARCH);
      seen.add(hit?.placementId);
      if (!hit) continue;
      const depth = distanceAlongAxis(pose, hit.pointM);
      if (depth < (nearest?.distanceM ?? Infinity)) nearest = { distanceM: depth, placementId: hit.placementId };
      if (depth < lens.nearM) near ??= hit.placementId;
      else if (depth > lens.farM) far ??= hit.placementId;
    }
    return { near, far, nearest, filledBy: seen.size === 1 ? nearest?.placementId : undefined };
  }

  /** The nearest surface under a point of the window (0…1, top left origin), through the same projection as the picture. */
  pick(view: StageView, x: number, y: number): Picked | undefined {
    const { pose, lens, window } = view;
    this.set.goTo(view.atFlicks);
    const { fromM, direction } = sightThrough(x, y, pose, lens, window);
    return this.cast(fromM, direction, lens.farM);
  }

  /** The nearest surface in a direction (unit vector) from a point, at most `farM` away, passing over `except`. */
  cast(fromM: Vector, direction: Vector, farM: number, except: readonly string[] = []): Picked | undefined {
    const ray = new Raycaster(new Vector3(...fromM), new Vector3(...direction), 0, farM);
    ray.firstHitOnly = except.length === 0;
    for (const hit of ray.intersectObjects(this.set.scene.children, true)) {
      const placementId = this.set.ownerOf(hit);
      if (placementId !== undefined && except.includes(placementId)) continue;
      const normal = normalAt(hit);
      if (normal.dot(ray.ray.direction) > 0) normal.negate();
      const { x, y, z } = hit.point;
      return { pointM: [x, y, z], distanceM: hit.distance, normal: [normal.x, normal.y, normal.z], placementId };
    }
    return undefined;
  }

  /** What is nearest to each place at its time, no farther than so far, along sights in all directions. */
  clearances(places: readonly PlaceInTime[], withinM: number): (Near | undefined)[] {
    return places.map(({ atM, atFlicks }) => {
      this.set.goTo(atFlicks);
      let nearest: Near | undefined;
      for (const direction of ALL_ROUND) {
        const hit = this.cast(atM, direction, nearest?.distanceM ?? withinM);
        if (hit) nearest = { distanceM: hit.distanceM, placementId: hit.placementId };
      }
      return nearest;
    });
  }

  /** What each line meets first at its time; nothing where it is free. Subjects that walk by are met too. */
  crossings(lines: readonly LineInTime[]): (string | undefined)[] {
    return lines.map(({ fromM, toM, atFlicks }) => {
      this.set.goTo(atFlicks);
      const way = difference(toM, fromM);
      const length = Math.hypot(...way);
      return length === 0 ? undefined : this.cast(fromM, scaled(way, 1 / length), length)?.placementId;
    });
  }

  /** Heights of the ground under points, cast down from `fromAboveM` over each; `undefined` where there is none. */
  groundUnder(points: readonly Vector[], fromAboveM: number, except: readonly string[]): (number | undefined)[] {
    return points.map(([x, y, z]) => this.cast([x, y + fromAboveM, z], [0, -1, 0], GROUND_SEARCH_M, except)?.pointM[1]);
  }
}

/** Directions to the faces, edges and corners of a cube, of length 1. */
const ALL_ROUND: readonly Vector[] = [-1, 0, 1].flatMap((x) =>
  [-1, 0, 1].flatMap((y) =>
    [-1, 0, 1].flatMap((z): Vector[] => {
      const length = Math.hypot(x, y, z);
      return length === 0 ? [] : [[x / length, y / length, z / length]];
    }),
  ),
);

/** Sights along each side of the frame on which clipped things are looked for, and how far beyond the far clip. */
const CLIP_GRID = 11;

const CLIP_SEARCH = 20;

/** How far down the ground is looked for, metres. */
const GROUND_SEARCH_M = 2000;

/** Normal of the surface that was hit, in the world. */
function normalAt(hit: Intersection): Vector3 {
  const normal = (hit.face?.normal ?? new Vector3(0, 1, 0)).clone();
  const world = hit.object.matrixWorld.clone();
  if (hit.object instanceof InstancedMesh && hit.instanceId !== undefined) {
    const instance = new Matrix4();
    hit.object.getMatrixAt(hit.instanceId, instance);
    world.multiply(instance);
  }
  return normal.applyNormalMatrix(new Matrix3().getNormalMatrix(world)).normalize();
}
