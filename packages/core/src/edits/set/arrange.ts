import { CoreError } from '../../error';
import type { Placement, Project } from '../../model';
import { existing, PLACEMENT_DEFAULTS } from '../../model';
import { boxCornersAt, carrierAt, placementAt, rootsOf, withAttached } from '../../set';
import type { Frame, Vector } from '../../space';
import { anglesOf, inverseRotation, turned, withAxis, within } from '../../space';
import type { Edit } from '../edit';
import { creation, deletion, patching } from '../edit';
import { movedParts, shiftedParts } from './placement-motion';
import { freeName, naming } from './placements';

/** Sides to which several things can be aligned along an axis of the world. */
export type AlignSide = 'low' | 'middle' | 'high';

/** A copy of each placement and of all that is attached to it, moved by `stepM`. @param makeId gives a new id each time. */
export function duplicatePlacements(
  project: Project,
  placementIds: readonly string[],
  makeId: () => string,
  stepM: Vector = [0, 0, 0],
): Edit {
  return {
    name: `Duplicate ${naming(project, placementIds)}`,
    operations: copies(project, placementIds, makeId, stepM, new Set()),
  };
}

/** `count` copies in a line, each `stepM` further than the one before it. */
export function arrayPlacements(
  project: Project,
  placementIds: readonly string[],
  makeId: () => string,
  count: number,
  [x, y, z]: Vector,
): Edit {
  const names = new Set<string>();
  return {
    name: `Copies of ${naming(project, placementIds)}`,
    operations: Array.from({ length: count }, (_, i) =>
      copies(project, placementIds, makeId, [x * (i + 1), y * (i + 1), z * (i + 1)], names),
    ).flat(),
  };
}

function copies(
  project: Project,
  placementIds: readonly string[],
  makeId: () => string,
  stepM: Vector,
  names: Set<string>,
) {
  const roots = new Set(rootsOf(project, placementIds));
  const all = [...roots].flatMap((id) => withAttached(project, id));
  const newIds = new Map(all.map((placement) => [placement.id, makeId()]));
  return [...new Set(all)].map((placement) => {
    const { revision: _revision, ...own } = placement;
    const id = newIds.get(placement.id) as string;
    const moved = roots.has(placement.id) ? shiftedBy(project, placement, stepM) : {};
    const parentId = placement.parentId === null ? null : (newIds.get(placement.parentId) ?? placement.parentId);
    return creation('placement', { ...own, ...moved, id, parentId, name: nextName(project, placement.name, names) });
  });
}

/** `crate 2` after `crate`, `crate 3` after `crate 2`; remembers what it gave away. */
function nextName(project: Project, name: string, given: Set<string>): string {
  const stem = name.replace(/ \d+$/, '');
  const taken = new Set([...Object.values(project.placements).map((one) => one.name), ...given]);
  let number = 2;
  while (taken.has(`${stem} ${number}`)) number += 1;
  given.add(`${stem} ${number}`);
  return `${stem} ${number}`;
}

/** What moving a placement by a vector of the world changes of it, at a scene time. */
export function movedBy(project: Project, placement: Placement, [dx, dy, dz]: Vector, atFlicks: number) {
  const { positionM, quaternion } = placementAt(project, placement.id, atFlicks);
  const target: Frame = { positionM: [positionM[0] + dx, positionM[1] + dy, positionM[2] + dz], quaternion };
  const [x, y, z] = within(carrierAt(project, placement, atFlicks), target).positionM;
  return movedParts(placement, atFlicks, { positionM: [x, y, z] });
}

/** What moving a placement by a vector of the world changes of it, all its movement with it. */
function shiftedBy(project: Project, placement: Placement, stepM: Vector) {
  return shiftedParts(placement, turned(stepM, inverseRotation(carrierAt(project, placement, 0).quaternion)));
}

/** Brings things to one side, or to one middle, along an axis (0 east, 1 up, 2 south) of the world. */
export function alignPlacements(
  project: Project,
  placementIds: readonly string[],
  axis: 0 | 1 | 2,
  side: AlignSide,
  atFlicks: number,
): Edit {
  const spans = rootsOf(project, placementIds).map((id) => {
    const placement = existing(project, 'placement', id);
    const along = boxCornersAt(project, placement, atFlicks).map((corner) => corner[axis]);
    return { placement, low: Math.min(...along), high: Math.max(...along) };
  });
  const low = Math.min(...spans.map((span) => span.low));
  const high = Math.max(...spans.map((span) => span.high));
  const by = (span: { low: number; high: number }) =>
    ({ low: low - span.low, high: high - span.high, middle: (low + high - span.low - span.high) / 2 })[side];
  return {
    name: `Align ${naming(project, placementIds)}`,
    operations: spans.map((span) => {
      const delta = withAxis([0, 0, 0], axis, by(span));
      return patching(project, 'placement', span.placement.id, movedBy(project, span.placement, delta, atFlicks));
    }),
  };
}

/** Holds placements together in a group that stands in their middle; they stay where they are. */
export function groupPlacements(project: Project, placementIds: readonly string[], groupId: string): Edit {
  const [first] = placementIds.map((id) => existing(project, 'placement', id));
  if (!first) throw new CoreError('unknown-entity', 'Choose what the group is to hold.');
  const ids = rootsOf(project, placementIds);
  const places = ids.map((id) => placementAt(project, id, 0).positionM);
  const mean = (axis: 0 | 1 | 2) => places.reduce((sum, place) => sum + place[axis], 0) / places.length;
  const positionM: Vector = [mean(0), Math.min(...places.map((place) => place[1])), mean(2)];
  const group: Placement = {
    ...PLACEMENT_DEFAULTS,
    id: groupId,
    revision: '',
    setId: first.setId,
    name: freeName(project, 'group'),
    piece: { kind: 'group' as const },
    positionM,
  };
  const { revision: _revision, ...own } = group;
  return {
    name: `Group ${naming(project, placementIds)}`,
    operations: [creation('placement', own), ...attaching(project, ids, group, 0)],
  };
}

/** Lets the members of a group stand alone, where they are, and takes the group away. */
export function ungroup(project: Project, groupId: string): Edit {
  const group = existing(project, 'placement', groupId);
  const members = Object.values(project.placements).filter((one) => one.parentId === groupId);
  const parent = group.parentId === null ? null : existing(project, 'placement', group.parentId);
  const ids = members.map((one) => one.id);
  return {
    name: `Ungroup ${group.name}`,
    operations: [...attaching(project, ids, parent, 0), deletion(project, 'placement', groupId)],
  };
}

/**
 * Attaches things to another one, which then carries them, or (`null`) lets them stand alone. They stay where they are.
 * @throws CoreError `circle` when it would carry itself; `in-motion` for things that move by themselves.
 */
export function attachPlacements(
  project: Project,
  placementIds: readonly string[],
  parentId: string | null,
  atFlicks: number,
): Edit {
  const parent = parentId === null ? null : existing(project, 'placement', parentId);
  const what = `${naming(project, placementIds)}${parent ? ` to ${parent.name}` : ''}`;
  return {
    name: parent ? `Attach ${what}` : `Detach ${what}`,
    operations: attaching(project, parent ? rootsOf(project, placementIds) : placementIds, parent, atFlicks),
  };
}

function attaching(project: Project, placementIds: readonly string[], parent: Placement | null, atFlicks: number) {
  const known = parent && project.placements[parent.id];
  const frame: Frame =
    parent === null
      ? { positionM: [0, 0, 0], quaternion: [0, 0, 0, 1] }
      : known
        ? placementAt(project, parent.id, atFlicks)
        : { positionM: parent.positionM, quaternion: [0, 0, 0, 1] };
  return placementIds.map((id) => {
    const placement = existing(project, 'placement', id);
    if (parent && withAttached(project, id).some((one) => one.id === parent.id)) {
      throw new CoreError('circle', `${placement.name} carries ${parent.name}; it cannot be carried by it as well.`);
    }
    if (placement.motion.kind !== 'still') {
      throw new CoreError('in-motion', `${placement.name} moves by itself. Stop its movement before attaching it.`);
    }
    const { positionM, quaternion } = within(frame, placementAt(project, id, atFlicks));
    const [x, y, z] = positionM;
    const parentId = parent?.id ?? null;
    return patching(project, 'placement', id, { parentId, positionM: [x, y, z], ...anglesOf(quaternion) });
  });
}
