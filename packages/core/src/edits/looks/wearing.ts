import { lookIdOf, wornId, wornVariation } from '../../camera';
import type { Camera, Project, Variation } from '../../model';
import { camerasInOrder, compareOrder } from '../../model';

/** A variation with its id. */
export interface NamedVariation extends Variation {
  readonly id: string;
}

/** A camera's variations in their order. */
export function variationsOf({ variations }: Pick<Camera, 'variations'>): NamedVariation[] {
  return Object.entries(variations)
    .map(([id, variation]) => ({ ...variation, id }))
    .sort(compareOrder);
}

/** Who has a look on, by name: the project, cameras of their own, variations of cameras. */
export interface Wearers {
  /** Whether cameras that follow the project have it. */
  readonly project: boolean;
  /** Cameras that are seen with it now. */
  readonly cameras: readonly Camera[];
  /** Variations that have it, whether they are worn or not. */
  readonly variations: readonly { readonly camera: Camera; readonly variation: NamedVariation }[];
  /** How many have it: each camera, and each variation that is not worn. */
  readonly count: number;
}

/** Who wears a look; of the one that leaves everything as it is (null) too. */
export function wearersOf(project: Project, lookId: string | null): Wearers {
  const all = camerasInOrder(project);
  const cameras = all.filter((camera) => lookIdOf(project, camera, wornVariation(camera)) === lookId);
  const variations = all.flatMap((camera) =>
    variationsOf(camera)
      .filter((variation) => variation.lookId !== null && variation.lookId === lookId)
      .map((variation) => ({ camera, variation })),
  );
  const waiting = variations.filter(({ camera, variation }) => camera.wears !== variation.id);
  return { project: project.head.lookId === lookId, cameras, variations, count: cameras.length + waiting.length };
}

/** Whom else an edit of the look changes that a camera is seen with: other cameras, and variations that wait. */
export function othersWearing(project: Project, camera: Camera, variationId: string | null): Wearers {
  const [worn, id] = [wornVariation(camera, variationId), wornId(camera, variationId)];
  const { cameras, variations, ...wearers } = wearersOf(project, lookIdOf(project, camera, worn));
  const others = cameras.filter((one) => one.id !== camera.id);
  const waiting = variations.filter(({ variation, camera: of }) => variation.id !== id || of.id !== camera.id);
  const unseen = waiting.filter(({ camera: of, variation }) => of.wears !== variation.id);
  return { ...wearers, cameras: others, variations: waiting, count: others.length + unseen.length };
}
