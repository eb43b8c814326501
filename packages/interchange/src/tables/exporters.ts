/** What a file is made of. Pictures and movies leave by orders, and have a table of their own (`FORMATS` of the core). */
type MadeOf = 'look' | 'shots';

/** A kind of file that Arvex writes. */
export interface Exporter {
  readonly id: string;
  /** As it is called where it is chosen. */
  readonly name: string;
  /** For the search: other words of the trade. */
  readonly words: string;
  /** With what stands before its last dot, where that belongs to the kind. */
  readonly ending: string;
  readonly mediaType: string;
  readonly madeOf: MadeOf;
  /** What of a look it carries: its colour decision, all that it does to colours, or everything; nothing where it is made of something else. */
  readonly carries?: 'cdl' | 'lut' | 'all';
}

const xml = { mediaType: 'application/xml', madeOf: 'look', carries: 'cdl' } as const;
const table = { ending: 'cube', mediaType: 'text/plain', madeOf: 'look', carries: 'lut' } as const;

/** Every kind of file that Arvex writes beside pictures and movies. */
const EXPORTERS = [
  { ...table, id: 'cube-picture', name: '.cube, for pictures without their look', words: '3d lut table srgb grade' },
  { ...table, id: 'cube-log', name: '.cube, for light as log2', words: '3d lut table linear exr grade' },
  { ...xml, id: 'cdl', name: 'Colour decision list, .cdl', words: 'asc grade slope offset power', ending: 'cdl' },
  { ...xml, id: 'ccc', name: 'Collection of corrections, .ccc', words: 'asc cdl grade', ending: 'ccc' },
  { ...xml, id: 'cc', name: 'Colour correction, .cc', words: 'asc cdl grade', ending: 'cc' },
  {
    id: 'look',
    name: 'All of the look, .look.json',
    words: 'grade share',
    ending: 'look.json',
    mediaType: 'application/json',
    madeOf: 'look',
    carries: 'all',
  },
  {
    id: 'shot-list',
    name: 'Shot list, .csv',
    words: 'table spreadsheet breakdown',
    ending: 'csv',
    mediaType: 'text/csv',
    madeOf: 'shots',
  },
] as const satisfies readonly Exporter[];

export type ExporterId = (typeof EXPORTERS)[number]['id'];
/** Kinds that are made of a look. */
export type LookExporter = Extract<(typeof EXPORTERS)[number], { readonly madeOf: 'look' }>;
export const LOOK_EXPORTERS: readonly LookExporter[] = EXPORTERS.filter((one) => one.madeOf === 'look');

/** The kind of that name. */
export function exporterOf(id: ExporterId): Exporter {
  const found = EXPORTERS.find((one) => one.id === id);
  if (!found) throw new Error(`There is no file of the kind ${id}.`);
  return found;
}
