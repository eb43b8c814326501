import type { Piece, PieceKind } from '@arvex/core';

/** A number of a piece as the bench shows it. */
export interface PieceField {
  readonly key: string;
  readonly label: string;
  readonly unit: 'length' | 'lm' | 'K' | '°' | 'steps' | '%';
  readonly min: number;
  readonly max: number;
}

const length = (key: string, label: string, min = 0.01, max = 10_000): PieceField => ({
  key,
  label,
  unit: 'length',
  min,
  max,
});
const SIZE = [length('widthM', 'Width'), length('heightM', 'Height'), length('depthM', 'Depth')];

/** The numbers of each kind of piece, in the order in which they are shown. */
const FIELDS: Readonly<Partial<Record<PieceKind, readonly PieceField[]>>> = {
  ground: [length('widthM', 'Width'), length('depthM', 'Depth')],
  box: SIZE,
  wall: [length('widthM', 'Length'), length('heightM', 'Height'), length('depthM', 'Thickness')],
  steps: [
    length('widthM', 'Width'),
    length('riseM', 'Rise'),
    length('goingM', 'Going'),
    { key: 'count', label: 'Steps', unit: 'steps', min: 1, max: 200 },
  ],
  ramp: SIZE,
  cylinder: [length('radiusM', 'Radius'), length('heightM', 'Height')],
  column: [length('radiusM', 'Radius'), length('heightM', 'Height')],
  card: [length('widthM', 'Width'), length('heightM', 'Height')],
  figure: [length('heightM', 'Stature', 0.3, 3)],
  animal: [length('shoulderM', 'At the shoulder', 0.1, 5)],
  vehicle: SIZE,
};

const PRACTICAL: readonly PieceField[] = [
  { key: 'lumen', label: 'Flux', unit: 'lm', min: 0, max: 10_000_000 },
  { key: 'kelvin', label: 'Colour', unit: 'K', min: 1000, max: 20_000 },
];
const SPOT: readonly PieceField[] = [
  { key: 'coneDeg', label: 'Cone', unit: '°', min: 1, max: 175 },
  { key: 'softness', label: 'Soft edge', unit: '%', min: 0, max: 1 },
];

/** The numbers of a piece. */
export function fieldsOf(piece: Piece): readonly PieceField[] {
  if (piece.kind !== 'practical') return FIELDS[piece.kind] ?? [];
  if (piece.lamp === 'spot') return [...PRACTICAL, ...SPOT];
  if (piece.lamp === 'area') return [...PRACTICAL, length('widthM', 'Width'), length('heightM', 'Height')];
  return PRACTICAL;
}

const ICONS: Readonly<Record<PieceKind, string>> = {
  geometry: 'deployed_code',
  group: 'folder',
  ground: 'landscape',
  box: 'check_box_outline_blank',
  wall: 'door_open',
  steps: 'stairs',
  ramp: 'change_history',
  cylinder: 'database',
  column: 'account_balance',
  card: 'image',
  figure: 'accessibility_new',
  animal: 'pets',
  vehicle: 'directions_car',
  practical: 'lightbulb',
};

export function iconOf(piece: Piece): string {
  return piece.kind === 'geometry' && piece.eyesM !== null ? 'accessibility_new' : ICONS[piece.kind];
}

/** What a piece is, in words. */
export function kindText(piece: Piece): string {
  if (piece.kind === 'geometry') return piece.eyesM === null ? 'imported' : 'stand-in, imported';
  if (piece.kind === 'figure') return `stand-in, ${piece.pose}`;
  if (piece.kind === 'practical')
    return `practical, ${{ point: 'bare bulb', spot: 'spot', area: 'panel' }[piece.lamp]}`;
  return piece.kind === 'animal' || piece.kind === 'vehicle' ? `stand-in, ${piece.kind}` : piece.kind;
}
