import { dequal } from 'dequal/lite';
import type { Camera, Project } from '../model';
import type { CameraState } from './camera-state';

/** Whether two states of a camera differ in nothing but its look and its light mix. */
export function placedAlike(a: CameraState | undefined, b: CameraState | undefined): boolean {
  if (!a || !b) return a === b;
  return a === b || dequal({ ...a, look: b.look, lightMix: b.lightMix }, b);
}

/** Whether two projects differ in nothing but looks, light groups and what cameras wear: everything is where it was. */
export function projectsPlacedAlike(a: Project | undefined, b: Project | undefined): boolean {
  if (!a || !b) return a === b;
  return (Object.keys(b) as (keyof Project)[]).every(
    (part) =>
      a[part] === b[part] || LIGHT.has(part) || (part === 'cameras' && camerasPlacedAlike(a.cameras, b.cameras)),
  );
}

const LIGHT: ReadonlySet<string> = new Set<keyof Project>(['seq', 'looks', 'keptResponses', 'lightGroups']);

const WORN: ReadonlySet<string> = new Set<keyof Camera>(['revision', 'lookId', 'lightMix', 'variations', 'wears']);

function camerasPlacedAlike(a: Project['cameras'], b: Project['cameras']): boolean {
  const [before, now] = [Object.keys(a), Object.values(b)];
  return before.length === now.length && now.every((camera) => dressedAlike(a[camera.id], camera));
}

function dressedAlike(a: Camera | undefined, b: Camera): boolean {
  if (!a || a === b) return a === b;
  return (Object.keys(b) as (keyof Camera)[]).every((part) => a[part] === b[part] || WORN.has(part));
}
