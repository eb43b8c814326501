import type { Project } from '../model';
import { fileNamePart } from '../facts';
import type { PictureFormatId } from './formats';
import { chosenFormats, PICTURE_FORMATS } from './formats';
import type { RenderOrder } from './order';

/** What of the scene a file of a frame holds. */
export type FrameLayer =
  /** The picture, for people. */
  | { readonly kind: 'picture' }
  /** Linear light of the picture. */
  | { readonly kind: 'light' }
  | { readonly kind: 'depth' }
  /** Share of each pixel that things of a group of the set fill: what a group carries, or what stands alone. */
  | { readonly kind: 'mask'; readonly placementId: string }
  /** Linear light of one light group alone; of what belongs to none, with `null`. */
  | { readonly kind: 'group'; readonly lightGroupId: string | null };

/** One of the pictures that a frame is made of: an eye, or a face of a cube; the only one has no name. */
export type FrameView = '' | 'left' | 'right' | CubeFace | `${'left' | 'right'}-${CubeFace}`;
export const CUBE_FACES = ['front', 'right', 'back', 'left', 'up', 'down'] as const;
export type CubeFaceName = (typeof CUBE_FACES)[number];
type CubeFace = `face-${CubeFaceName}`;

/** One file of each frame of an order. */
export interface FrameFile {
  /** Name within the frame, and the folder within the part's in which the files lie: none for the picture itself. */
  readonly role: string;
  readonly folder: string;
  readonly view: FrameView;
  readonly layer: FrameLayer;
  readonly format: PictureFormatId;
  readonly ending: string;
  /** Whether it leaves the building, or only movies are made from it. */
  readonly leaves: boolean;
  /** What else is in it, as channels of layers by these names. */
  readonly beside: readonly LayerBeside[];
}

/** A layer of a file: `Z` for the distance, else a name before its channels. */
interface LayerBeside {
  readonly name: string;
  readonly layer: FrameLayer;
}

/** The pictures that each frame is made of. */
export function frameViews({ stereo, panorama }: Pick<RenderOrder, 'stereo' | 'panorama'>): readonly FrameView[] {
  const eyes = stereo?.layout === 'two-files' ? (['left', 'right'] as const) : ([''] as const);
  if (panorama?.kind !== 'cube' || panorama.cube !== 'six') return eyes;
  return eyes.flatMap((eye) =>
    CUBE_FACES.map((face): FrameView => (eye === '' ? `face-${face}` : `${eye}-face-${face}`)),
  );
}

/** The files of each frame of an order, in a fixed order; the first is what lists show. */
export function frameFiles(project: Project, order: RenderOrder): FrameFile[] {
  const { pictures, movies, layersLie } = order.formats;
  return frameViews(order).flatMap((view) => {
    const file = (
      format: PictureFormatId,
      layer: FrameLayer,
      name = '',
      { leaves = true, beside = [] }: Partial<Pick<FrameFile, 'leaves' | 'beside'>> = {},
    ): FrameFile => {
      const folder = [view, name].filter((one) => one !== '').join('/');
      const { ending } = PICTURE_FORMATS[format];
      const role = [folder.replaceAll('/', '.'), ending].filter(Boolean).join('.');
      return { role, folder, view, layer, format, ending, leaves, beside };
    };
    const files = chosenFormats(pictures, 'shown').map(({ id }) => file(id, { kind: 'picture' }));
    // Movies are made from it, whether it leaves or not.
    if (movies.length > 0 && pictures[MADE_INTO_MOVIES] === null)
      files.unshift(file(MADE_INTO_MOVIES, { kind: 'picture' }, '', { leaves: false }));
    for (const { id } of chosenFormats(pictures, 'linear')) {
      const layers = layersBeside(project, order);
      if (layersLie === 'together') files.push(file(id, { kind: 'light' }, '', { beside: layers }));
      else files.push(file(id, { kind: 'light' }), ...layers.map(({ name, layer }) => file(id, layer, name)));
    }
    return files;
  });
}

/** The format that movies are made from. */
export const MADE_INTO_MOVIES = 'png';

/** What an order wants beside the light, by name. */
function layersBeside(project: Project, { formats: { layers } }: RenderOrder): LayerBeside[] {
  return [
    ...(layers.depth ? [{ name: 'depth', layer: { kind: 'depth' } as const }] : []),
    ...(layers.masks
      ? maskedThings(project).map(({ id, name }) => ({ name, layer: { kind: 'mask', placementId: id } as const }))
      : []),
    ...(layers.lightGroups
      ? lightLayers(project).map(({ id, name }) => ({ name, layer: { kind: 'group', lightGroupId: id } as const }))
      : []),
  ];
}

/** Light groups as layers, and what belongs to none. */
export function lightLayers(project: Project): { readonly id: string | null; readonly name: string }[] {
  const groups = Object.values(project.lightGroups).sort((a, b) => (a.id < b.id ? -1 : 1));
  return distinct('light', [...groups, { id: null, name: 'ungrouped' }]);
}

/** What has a mask of its own: the groups of the set, and figures and other subjects that stand alone. */
function maskedThings(project: Project): { readonly id: string; readonly name: string }[] {
  const things = Object.values(project.placements)
    .filter(({ piece, subject, parentId }) => piece.kind === 'group' || (subject && parentId === null))
    .sort((a, b) => (a.id < b.id ? -1 : 1));
  return distinct('mask', things);
}

/** Names as folders, each another one. */
function distinct<T extends { readonly name: string }>(kind: string, all: readonly T[]): T[] {
  const taken = new Set<string>();
  return all.map((one) => {
    const wish = `${kind}-${fileNamePart(one.name)}`;
    let name = wish;
    for (let i = 2; taken.has(name.toLowerCase()); i++) name = `${wish}-${i}`;
    taken.add(name.toLowerCase());
    return { ...one, name };
  });
}
