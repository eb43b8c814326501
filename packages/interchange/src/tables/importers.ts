import { begins, holds, textOf } from './first-bytes';

/** What a file becomes once it is brought in: geometry is a thing in the set, a picture a card, a sound lies under the cut. */
export type Becomes = 'geometry' | 'picture' | 'sound' | 'look';

/** A kind of file that Arvex reads. */
export interface Importer {
  readonly id: string;
  /** As it is called where files are chosen. */
  readonly name: string;
  /** Without their dot, in small letters; the usual one first. */
  readonly endings: readonly string[];
  /** As browsers call it, for the dialog in which files are chosen. */
  readonly mediaTypes: readonly string[];
  /** Whether a file is of this kind, from its first {@link HEAD_BYTES} bytes. */
  readonly recognised: (head: Uint8Array) => boolean;
  readonly becomes: Becomes;
  /** Largest file that is taken, with all that comes with it; bytes. */
  readonly mostBytes: number;
  /** Who reads it: a worker of the page, before anything is sent, or the server once it has arrived. */
  readonly read: 'worker' | 'server';
  /** Endings of the files that it refers to, and that come with it. */
  readonly beside: readonly string[];
  /** What such a file may hold and Arvex does not take over, in words; empty where all of it is. */
  readonly leavesOut: string;
}

/** So many bytes from a file's beginning are enough to tell what it is. */
export const HEAD_BYTES = 4096;

const GEOMETRY_BYTES = 200_000_000;
const PICTURE_BYTES = 50_000_000;
/** An hour of 24 bits in stereo. */
const SOUND_BYTES = 1_100_000_000;
/** A table of 65 points a side: three numbers of sixteen characters a line, and comments. */
export const CUBE_BYTES = 20_000_000;
/** Ten thousand corrections. */
const LOOK_BYTES = 10_000_000;

const PICTURES = ['png', 'jpg', 'jpeg', 'webp'];
const XML_OF_COLOURS = /<(\w+:)?Color(Correction|CorrectionCollection|DecisionList)[\s>]/;

const geometry = { becomes: 'geometry', mostBytes: GEOMETRY_BYTES, read: 'worker' } as const;
const picture = { becomes: 'picture', mostBytes: PICTURE_BYTES, read: 'server', beside: [] } as const;
const sound = { becomes: 'sound', mostBytes: SOUND_BYTES, read: 'server', beside: [], leavesOut: '' } as const;
const look = { becomes: 'look', mostBytes: LOOK_BYTES, read: 'worker', beside: [] } as const;

/** Every kind of file that Arvex reads; what is dropped, chosen, sent to the server or looked for is measured by it. */
export const IMPORTERS = [
  {
    ...geometry,
    id: 'glb',
    name: 'GLB',
    endings: ['glb'],
    mediaTypes: ['model/gltf-binary'],
    recognised: (head) => begins(head, 'glTF'),
    beside: [],
    leavesOut: 'cameras, lights, animation and skins',
  },
  {
    ...geometry,
    id: 'gltf',
    name: 'glTF',
    endings: ['gltf'],
    mediaTypes: ['model/gltf+json'],
    recognised: (head) => /^\s*\{/.test(textOf(head)) && /"(asset|scenes|meshes|accessors)"\s*:/.test(textOf(head)),
    beside: ['bin', ...PICTURES],
    leavesOut: 'cameras, lights, animation and skins',
  },
  {
    ...geometry,
    id: 'obj',
    name: 'OBJ',
    endings: ['obj'],
    mediaTypes: ['model/obj'],
    recognised: (head) => /^(v|vn|vt|o|g|f|mtllib|usemtl)\s+\S/m.test(textOf(head)),
    beside: ['mtl', ...PICTURES],
    leavesOut: 'lines and points',
  },
  {
    ...picture,
    id: 'png',
    name: 'PNG',
    endings: ['png'],
    mediaTypes: ['image/png'],
    recognised: (head) => begins(head, '\x89PNG\r\n\x1a\n'),
    leavesOut: 'colours beyond sRGB',
  },
  {
    ...picture,
    id: 'jpeg',
    name: 'JPEG',
    endings: ['jpg', 'jpeg'],
    mediaTypes: ['image/jpeg'],
    recognised: (head) => begins(head, '\xff\xd8\xff'),
    leavesOut: 'colours beyond sRGB',
  },
  {
    ...picture,
    id: 'webp',
    name: 'WebP',
    endings: ['webp'],
    mediaTypes: ['image/webp'],
    recognised: (head) => begins(head, 'RIFF') && holds(head, 'WEBP', 8),
    leavesOut: 'all pictures of an animation but the first',
  },
  {
    ...sound,
    id: 'wav',
    name: 'WAV',
    endings: ['wav'],
    mediaTypes: ['audio/wav', 'audio/x-wav'],
    recognised: (head) => (begins(head, 'RIFF') || begins(head, 'RF64')) && holds(head, 'WAVE', 8),
  },
  {
    ...sound,
    id: 'mp3',
    name: 'MP3',
    endings: ['mp3'],
    mediaTypes: ['audio/mpeg'],
    // A tag, or a frame (ISO/IEC 11172-3): eleven bits of ones, and layer III.
    recognised: (head) => begins(head, 'ID3') || (head[0] === 0xff && ((head[1] ?? 0) & 0xe6) === 0xe2),
  },
  {
    ...sound,
    id: 'aac',
    name: 'AAC',
    endings: ['m4a', 'aac'],
    mediaTypes: ['audio/mp4', 'audio/aac', 'audio/x-m4a'],
    // A container, or a frame of its own (ISO/IEC 13818-7, ADTS): twelve bits of ones, and layer 0.
    recognised: (head) => holds(head, 'ftyp', 4) || (head[0] === 0xff && ((head[1] ?? 0) & 0xf6) === 0xf0),
  },
  {
    ...sound,
    id: 'flac',
    name: 'FLAC',
    endings: ['flac'],
    mediaTypes: ['audio/flac', 'audio/x-flac'],
    recognised: (head) => begins(head, 'fLaC'),
  },
  {
    ...sound,
    id: 'ogg',
    name: 'OGG',
    endings: ['ogg', 'oga'],
    mediaTypes: ['audio/ogg'],
    recognised: (head) => begins(head, 'OggS'),
  },
  {
    ...look,
    id: 'cdl',
    name: 'ASC CDL',
    endings: ['cdl', 'ccc', 'cc'],
    mediaTypes: [],
    recognised: (head) => XML_OF_COLOURS.test(textOf(head)),
    leavesOut: 'descriptions and references to media',
  },
  {
    ...look,
    id: 'cube',
    name: '.cube table',
    endings: ['cube'],
    mediaTypes: [],
    recognised: (head) => /^\s*LUT_(1D|3D)_SIZE\s/m.test(textOf(head)),
    mostBytes: CUBE_BYTES,
    leavesOut: 'tables of one dimension',
  },
  {
    ...look,
    id: 'look',
    name: 'look of Arvex',
    endings: ['json'],
    mediaTypes: ['application/json'],
    recognised: (head) => /^\s*\{\s*"arvex"\s*:/.test(textOf(head)),
    leavesOut: 'tables that a look goes through',
  },
] as const satisfies readonly Importer[];

export type ImporterId = (typeof IMPORTERS)[number]['id'];
type IdOf<What extends Becomes> = Extract<(typeof IMPORTERS)[number], { readonly becomes: What }>['id'];
/** Kinds that a worker turns into geometry. */
export type GeometryId = IdOf<'geometry'>;
/** Kinds that a worker reads as a look. */
export type LookId = IdOf<'look'>;

/** The kinds of files that become any of these; all of them when none is named. */
export function importersOf(...becomes: readonly Becomes[]): readonly (Importer & { readonly id: ImporterId })[] {
  return IMPORTERS.filter((one) => becomes.length === 0 || becomes.includes(one.becomes));
}

/**
 * What kind of file this is: by its content, whatever it is called; where that tells nothing, or several things, by the ending of
 * its name.
 * @param head its first {@link HEAD_BYTES} bytes, or all of a shorter one.
 * @returns nothing for a kind that Arvex does not read.
 */
export function importerFor(name: string, head: Uint8Array): (Importer & { readonly id: ImporterId }) | undefined {
  const ending = endingOf(name);
  const byContent = importersOf().filter(({ recognised }) => recognised(head));
  const named = (all: readonly (Importer & { readonly id: ImporterId })[]) =>
    all.find(({ endings }) => endings.includes(ending));
  return named(byContent) ?? byContent[0] ?? named(importersOf());
}

/** Whether files of this name only ever come with another one. */
export function isCompanion(name: string): boolean {
  const ending = endingOf(name);
  const known = (key: 'beside' | 'endings') => importersOf().some((one) => one[key].includes(ending));
  return known('beside') && !known('endings');
}

/** What a dialog in which files are chosen offers, as the `accept` of an input. */
export function acceptOf(...becomes: readonly Becomes[]): string {
  const all = importersOf(...becomes);
  const endings = all.flatMap(({ endings, beside }) => [...endings, ...beside]).map((ending) => `.${ending}`);
  return [...new Set([...endings, ...all.flatMap(({ mediaTypes }) => mediaTypes)])].join(',');
}

/** The kinds by name, as a sentence lists them: "GLB, glTF or OBJ". */
export function namesOf(...becomes: readonly Becomes[]): string {
  const names = importersOf(...becomes).map(({ name }) => name);
  return names.length < 2 ? names.join() : `${names.slice(0, -1).join(', ')} or ${names.at(-1) ?? ''}`;
}

/** Largest file that is taken of what becomes this, bytes. */
export function mostBytesOf(becomes: Becomes): number {
  return Math.max(...importersOf(becomes).map(({ mostBytes }) => mostBytes));
}

const endingOf = (name: string): string => name.split('.').at(-1)?.toLowerCase() ?? '';
