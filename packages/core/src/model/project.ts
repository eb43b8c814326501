import * as z from 'zod';
import { CoreError } from '../error';
import type { KitLens } from '../optics';
import { STANDARD_LENSES } from '../optics';
import type { Asset } from './asset';
import { assetSchema } from './asset';
import type { Camera } from './camera';
import { cameraSchema } from './camera';
import type { ProjectHead } from './head';
import { headSchema } from './head';
import type { Entity, EntityKind, EntityOf } from './kinds';
import { ENTITY_KINDS } from './kinds';
import type { LensKit } from './lens-kit';
import { lensKitSchema } from './lens-kit';
import type { LightGroup } from './light-group';
import { lightGroupSchema } from './light-group';
import type { Move } from './move';
import { moveSchema } from './move';
import type { Placement } from './placement';
import { placementSchema } from './placement';
import type { Sequence } from './sequence';
import { sequenceSchema } from './sequence';
import type { SetEntity } from './set';
import { setSchema } from './set';
import type { Shot } from './shot';
import { shotSchema } from './shot';

export type Table<T> = Readonly<Record<string, T>>;

/** A whole project: plain, immutable, validated. `seq` counts the changes it has seen on the server. */
export interface Project {
  readonly seq: number;
  readonly head: ProjectHead;
  readonly sets: Table<SetEntity>;
  readonly lightGroups: Table<LightGroup>;
  readonly assets: Table<Asset>;
  readonly placements: Table<Placement>;
  readonly lensKits: Table<LensKit>;
  readonly cameras: Table<Camera>;
  readonly moves: Table<Move>;
  readonly sequences: Table<Sequence>;
  readonly shots: Table<Shot>;
}

const uuid = z.uuid();

/** A project as it travels. */
export const projectSchema = z.object({
  seq: z.number().int().nonnegative(),
  head: headSchema,
  sets: z.record(uuid, setSchema),
  lightGroups: z.record(uuid, lightGroupSchema),
  assets: z.record(uuid, assetSchema),
  placements: z.record(uuid, placementSchema),
  lensKits: z.record(uuid, lensKitSchema),
  cameras: z.record(uuid, cameraSchema),
  moves: z.record(uuid, moveSchema),
  sequences: z.record(uuid, sequenceSchema),
  shots: z.record(uuid, shotSchema),
});

/** The entity of this kind and id, or `undefined`. */
export function entityIn<K extends EntityKind>(project: Project, kind: K, id: string): EntityOf[K] | undefined {
  if (kind === 'project') return (project.head.id === id ? project.head : undefined) as EntityOf[K] | undefined;
  const table = project[ENTITY_KINDS[kind].table] as Table<EntityOf[K]>;
  return Object.hasOwn(table, id) ? table[id] : undefined;
}

/** The project with an entity put in (or, for `undefined`, taken out). */
export function withEntity(project: Project, kind: EntityKind, id: string, entity: Entity | undefined): Project {
  if (kind === 'project') return entity ? { ...project, head: entity as ProjectHead } : project;
  const key = ENTITY_KINDS[kind].table;
  const { [id]: _taken, ...rest } = project[key] as Table<Entity>;
  return { ...project, [key]: entity ? { ...(project[key] as Table<Entity>), [id]: entity } : rest };
}

const movesByCamera = new WeakMap<Project['moves'], Map<string, Move>>();

/** The move of a camera, if it has one. */
export function moveOf(project: Project, cameraId: string): Move | undefined {
  let index = movesByCamera.get(project.moves);
  if (!index) {
    index = new Map(Object.values(project.moves).map((move) => [move.cameraId, move]));
    movesByCamera.set(project.moves, index);
  }
  return index.get(cameraId);
}

/** Cameras in the order of their numbers. */
export function camerasInOrder(project: Project): Camera[] {
  return Object.values(project.cameras).sort((a, b) => a.number - b.number || a.id.localeCompare(b.id));
}

/** Placements by name. */
export function placementsInOrder(project: Project): Placement[] {
  return Object.values(project.placements).sort((a, b) => a.name.localeCompare(b.name) || a.id.localeCompare(b.id));
}

/** The set that is worked in. */
export function setOf(project: Pick<Project, 'sets'>): SetEntity | undefined {
  return Object.values(project.sets)[0];
}

/** Lens kits of a project by name, after the standard one that every project has. */
export function lensKitsOf({
  lensKits,
}: Pick<Project, 'lensKits'>): readonly { name: string; lenses: readonly KitLens[] }[] {
  return [
    { name: 'Standard kit', lenses: STANDARD_LENSES },
    ...Object.values(lensKits).sort((a, b) => a.name.localeCompare(b.name) || a.id.localeCompare(b.id)),
  ];
}

/** The lens with this id, from any kit of the project. */
export function kitLensOf(project: Pick<Project, 'lensKits'>, lensId: string | null): KitLens | undefined {
  if (lensId === null) return undefined;
  for (const { lenses } of lensKitsOf(project)) {
    const found = lenses.find((lens) => lens.id === lensId);
    if (found) return found;
  }
  return undefined;
}

/** Light groups by name. */
export function lightGroupsInOrder(project: Pick<Project, 'lightGroups'>): LightGroup[] {
  return Object.values(project.lightGroups).sort((a, b) => a.name.localeCompare(b.name) || a.id.localeCompare(b.id));
}

/** Sequences by name. */
export function sequencesInOrder(project: Project): Sequence[] {
  return Object.values(project.sequences).sort((a, b) => a.name.localeCompare(b.name) || a.id.localeCompare(b.id));
}

/** The entity with this id. @throws CoreError `unknown-entity`. */
export function existing<K extends EntityKind>(project: Project, kind: K, id: string): EntityOf[K] {
  const entity = entityIn(project, kind, id);
  if (!entity) throw new CoreError('unknown-entity', `There is no ${kind} ${id} in this project.`);
  return entity;
}

/** Shots of a sequence in their order. */
export function shotsInOrder(project: Project, sequenceId: string): Shot[] {
  return Object.values(project.shots)
    .filter((shot) => shot.sequenceId === sequenceId)
    .sort((a, b) => a.order - b.order || a.id.localeCompare(b.id));
}
