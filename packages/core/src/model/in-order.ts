import type { KitLens } from '../optics';
import { STANDARD_LENSES } from '../optics';
import type { Camera } from './camera';
import type { LightGroup } from './light-group';
import type { Look } from './look';
import type { Marker } from './marker';
import type { Move } from './move';
import { compareOrder } from './order';
import type { Placement } from './placement';
import type { Project } from './project';
import type { Sequence } from './sequence';
import type { SetEntity } from './set';
import type { Shot } from './shot';
import type { Sound } from './sound';

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

/** Looks by name. */
export function looksInOrder(project: Pick<Project, 'looks'>): Look[] {
  return Object.values(project.looks).sort((a, b) => a.name.localeCompare(b.name) || a.id.localeCompare(b.id));
}

/** Placements by name. */
export function placementsInOrder(project: Project): Placement[] {
  return Object.values(project.placements).sort((a, b) => a.name.localeCompare(b.name) || a.id.localeCompare(b.id));
}

/** The set that is worked in. */
export function setOf(project: Pick<Project, 'sets'>): SetEntity | undefined {
  return Object.values(project.sets)[0];
}

interface NamedKit {
  readonly name: string;
  readonly lenses: readonly KitLens[];
}

const kitsByTable = new WeakMap<
  Project['lensKits'],
  { readonly kits: readonly NamedKit[]; readonly lenses: ReadonlyMap<string, KitLens> }
>();

function sortedKits(lensKits: Project['lensKits']) {
  let found = kitsByTable.get(lensKits);
  if (!found) {
    const own = Object.values(lensKits).sort((a, b) => a.name.localeCompare(b.name) || a.id.localeCompare(b.id));
    const kits: readonly NamedKit[] = [{ name: 'Standard kit', lenses: STANDARD_LENSES }, ...own];
    // The first kit that has a lens of an id is the one that is meant.
    const lenses = new Map(
      [...kits].reverse().flatMap((kit) => [...kit.lenses].reverse().map((lens) => [lens.id, lens])),
    );
    found = { kits, lenses };
    kitsByTable.set(lensKits, found);
  }
  return found;
}

/** Lens kits of a project by name, after the standard one that every project has. Sorted once for each state of the kits. */
export function lensKitsOf({ lensKits }: Pick<Project, 'lensKits'>): readonly NamedKit[] {
  return sortedKits(lensKits).kits;
}

/** The lens with this id, from any kit of the project. */
export function kitLensOf({ lensKits }: Pick<Project, 'lensKits'>, lensId: string | null): KitLens | undefined {
  return lensId === null ? undefined : sortedKits(lensKits).lenses.get(lensId);
}

/** Light groups by name. */
export function lightGroupsInOrder(project: Pick<Project, 'lightGroups'>): LightGroup[] {
  return Object.values(project.lightGroups).sort((a, b) => a.name.localeCompare(b.name) || a.id.localeCompare(b.id));
}

/** Sequences by name. */
export function sequencesInOrder(project: Project): Sequence[] {
  return Object.values(project.sequences).sort((a, b) => a.name.localeCompare(b.name) || a.id.localeCompare(b.id));
}

const shotsBySequence = new WeakMap<Project['shots'], Map<string, readonly Shot[]>>();

/** Shots of a sequence in their order. Sorted once for each state of the shots. */
export function shotsInOrder({ shots }: Pick<Project, 'shots'>, sequenceId: string): readonly Shot[] {
  let sequences = shotsBySequence.get(shots);
  if (!sequences) {
    const found = new Map<string, Shot[]>();
    for (const shot of Object.values(shots)) {
      const own = found.get(shot.sequenceId);
      if (own) own.push(shot);
      else found.set(shot.sequenceId, [shot]);
    }
    for (const own of found.values()) own.sort(compareOrder);
    sequences = found;
    shotsBySequence.set(shots, sequences);
  }
  return sequences.get(sequenceId) ?? [];
}

/** Markers of a sequence in time. */
export function markersInOrder({ markers }: Pick<Project, 'markers'>, sequenceId: string): Marker[] {
  return Object.values(markers)
    .filter((marker) => marker.sequenceId === sequenceId)
    .sort((a, b) => a.atFlicks - b.atFlicks || a.id.localeCompare(b.id));
}

/** Pieces of sound of a sequence, by lane and in time. */
export function soundsInOrder({ sounds }: Pick<Project, 'sounds'>, sequenceId: string): Sound[] {
  return Object.values(sounds)
    .filter((sound) => sound.sequenceId === sequenceId)
    .sort((a, b) => a.lane - b.lane || a.startFlicks - b.startFlicks || a.id.localeCompare(b.id));
}
