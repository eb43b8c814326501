import { CoreError } from '../../error';
import type { AssetFile, GeometryFile, Piece, PieceOffer, Placement, Project, SetEntity } from '../../model';
import { existing, lightGroupsInOrder, PLACEMENT_DEFAULTS } from '../../model';
import { withAttached } from '../../set';
import type { Vector } from '../../space';
import type { Edit } from '../edit';
import { lettingGo } from './letting-go';
import { creation, deletion, patching } from '../edit';

/** What can be set of a placement at once. */
export type PlacementParts = Partial<Omit<Placement, 'id' | 'revision' | 'setId'>>;

/** `box`, `box 2`, `box 3` …: the first name that nothing in the set has. */
export function freeName(project: Project, wanted: string): string {
  const taken = new Set(Object.values(project.placements).map((one) => one.name));
  for (let number = 1; ; number++) {
    const name = number === 1 ? wanted : `${wanted} ${number}`;
    if (!taken.has(name)) return name;
  }
}

/** Brings geometry into a set: the asset, and one placement of it at a place on the floor. */
export function bringIn(
  project: Project,
  setId: string,
  ids: { asset: string; placement: string },
  name: string,
  file: GeometryFile,
  positionM: Vector = [0, 0, 0],
): Edit {
  const piece: Piece = { kind: 'geometry', eyesM: null };
  const clip = file.clips.length > 0 ? { index: 0, startFlicks: 0, rate: 1, loop: true } : null;
  const placement = {
    ...PLACEMENT_DEFAULTS,
    id: ids.placement,
    setId,
    assetId: ids.asset,
    name: freeName(project, name),
    piece,
    positionM: vector(positionM),
    clip,
  };
  return {
    name: `Bring in ${name}`,
    operations: [creation('asset', { id: ids.asset, name, file }), creation('placement', placement)],
  };
}

/** Puts a picture file on a card that stands in the set, as high as `heightM`. */
export function bringInCard(
  project: Project,
  setId: string,
  ids: { asset: string; placement: string },
  name: string,
  file: Extract<AssetFile, { kind: 'picture' }>,
  positionM: Vector,
  heightM = 1.8,
): Edit {
  const piece: Piece = { kind: 'card', heightM, widthM: (heightM * file.widthPx) / file.heightPx, lit: true };
  const placement = {
    ...PLACEMENT_DEFAULTS,
    id: ids.placement,
    setId,
    assetId: ids.asset,
    name: freeName(project, name),
    piece,
    positionM: vector(positionM),
  };
  return {
    name: `Bring in ${name} as a card`,
    operations: [creation('asset', { id: ids.asset, name, file }), creation('placement', placement)],
  };
}

/** Puts a piece in a set, standing at a place and turned by `panDeg`. */
export function putPiece(
  project: Project,
  setId: string,
  id: string,
  { name, piece, colour, subject }: PieceOffer,
  positionM: Vector,
  panDeg = 0,
): Edit {
  const placement = {
    ...PLACEMENT_DEFAULTS,
    id,
    setId,
    piece,
    subject,
    panDeg,
    name: freeName(project, shortName(name)),
    positionM: vector(positionM),
    surface: { ...PLACEMENT_DEFAULTS.surface, colour },
    lightGroupId: piece.kind === 'practical' ? lampGroupOf(project) : null,
  };
  return { name: `Put ${placement.name} in the set`, operations: [creation('placement', placement)] };
}

/** The light group that a new lamp belongs to: the first that is not that of sun and sky, if there is one. */
function lampGroupOf(project: Project): string | null {
  const daylight = new Set(Object.values(project.sets).map(({ daylightGroupId }) => daylightGroupId));
  return lightGroupsInOrder(project).find(({ id }) => !daylight.has(id))?.id ?? null;
}

/** `figure` for `Figure, standing`. */
function shortName(offer: string): string {
  return (offer.split(/,| with /)[0] ?? offer).toLowerCase();
}

/** Changes parts of a placement, named for undo by `what`. */
export function setPlacement(project: Project, placementId: string, what: string, parts: PlacementParts): Edit {
  return setPlacements(project, [placementId], what, () => parts);
}

/** Changes parts of several placements at once. */
export function setPlacements(
  project: Project,
  placementIds: readonly string[],
  what: string,
  partsOf: (placement: Placement) => PlacementParts,
): Edit {
  return {
    name: `${what} ${naming(project, placementIds)}`,
    operations: placementIds.map((id) =>
      patching(project, 'placement', id, partsOf(existing(project, 'placement', id))),
    ),
  };
}

/**
 * Takes placements out with all that is attached to them. Cameras that were carried by one of them, aimed at it or focused on it
 * stay as they were when they are first seen.
 * @throws CoreError `locked` when one of them is.
 */
export function deletePlacements(project: Project, placementIds: readonly string[]): Edit {
  const all = new Set(placementIds.flatMap((id) => withAttached(project, id).map((one) => one.id)));
  mustBeUnlocked(project, [...all], 'taken out');
  // What is attached goes before what carries it.
  const depth = (id: string): number => {
    const passed = new Set<string>();
    for (let at: string | null | undefined = id; at != null && all.has(at) && !passed.has(at);) {
      passed.add(at);
      at = project.placements[at]?.parentId;
    }
    return passed.size;
  };
  const depths = new Map([...all].map((id) => [id, depth(id)]));
  const deepestFirst = [...all].sort((a, b) => (depths.get(b) ?? 0) - (depths.get(a) ?? 0));
  return {
    name: `Take out ${naming(project, placementIds)}`,
    operations: [
      ...Object.values(project.cameras).flatMap((camera) => lettingGo(project, camera, all)),
      ...deepestFirst.map((id) => deletion(project, 'placement', id)),
    ],
  };
}

/** @throws CoreError `locked` naming the first thing that is locked, and the way out. */
function mustBeUnlocked(project: Project, placementIds: readonly string[], done: string): void {
  const locked = placementIds.map((id) => project.placements[id]).find((one) => one?.locked);
  if (!locked) return;
  throw new CoreError(
    'locked',
    `${locked.name} is locked, so it is not ${done}. Unlock it in the list first.`,
    'locked',
  );
}

/** Changes what a set says of itself: its light, its name. */
export function setSet(
  project: Project,
  setId: string,
  what: string,
  parts: Partial<Omit<SetEntity, 'id' | 'revision'>>,
): Edit {
  return { name: what, operations: [patching(project, 'set', setId, parts)] };
}

/** `keeper`, or `3 things`. */
export function naming(project: Project, placementIds: readonly string[]): string {
  const [first] = placementIds;
  if (placementIds.length !== 1 || first === undefined) return `${placementIds.length} things`;
  return existing(project, 'placement', first).name;
}

function vector([x, y, z]: Vector): Vector {
  return [x, y, z];
}
