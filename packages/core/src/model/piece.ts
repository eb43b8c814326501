import * as z from 'zod';

const length = z.number().min(0.01).max(10_000);

const colourHex = z.string().regex(/^#[0-9a-f]{6}$/i);

/** A hole in a wall, metres: how far from the wall's left end, how wide, how high its sill is, how tall it is. */
const openingSchema = z.object({
  atM: z.number().min(0).max(10_000),
  widthM: length,
  sillM: z.number().min(0).max(10_000),
  heightM: length,
});

export type Opening = z.infer<typeof openingSchema>;

export const FIGURE_POSES = ['standing', 'sitting', 'reaching'] as const;

const LAMPS = ['point', 'spot', 'area'] as const;

/**
 * What a placement is. Every piece stands on the middle of its foot, faces −Z and is given in metres; a practical hangs
 * in its own middle and shines along −Z. `geometry` is an imported file, `group` only holds others together.
 */
export const pieceSchema = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('geometry'), eyesM: z.number().positive().max(1000).nullable() }),
  z.object({ kind: z.literal('group') }),
  z.object({ kind: z.literal('ground'), widthM: length, depthM: length }),
  z.object({ kind: z.literal('box'), widthM: length, heightM: length, depthM: length }),
  z.object({
    kind: z.literal('wall'),
    widthM: length,
    heightM: length,
    depthM: length,
    openings: z.array(openingSchema).max(64),
  }),
  z.object({
    kind: z.literal('steps'),
    widthM: length,
    riseM: length,
    goingM: length,
    count: z.number().int().min(1).max(200),
  }),
  z.object({ kind: z.literal('ramp'), widthM: length, heightM: length, depthM: length }),
  z.object({ kind: z.literal('cylinder'), radiusM: length, heightM: length }),
  z.object({ kind: z.literal('column'), radiusM: length, heightM: length }),
  z.object({ kind: z.literal('card'), widthM: length, heightM: length, lit: z.boolean() }),
  z.object({ kind: z.literal('figure'), heightM: z.number().min(0.3).max(3), pose: z.enum(FIGURE_POSES) }),
  z.object({ kind: z.literal('animal'), shoulderM: z.number().min(0.1).max(5) }),
  z.object({ kind: z.literal('vehicle'), widthM: length, heightM: length, depthM: length }),
  z.object({
    kind: z.literal('practical'),
    lamp: z.enum(LAMPS),
    lumen: z.number().min(0).max(10_000_000),
    kelvin: z.number().min(1000).max(20_000),
    /** Full angle of a spot's cone, degrees. */
    coneDeg: z.number().min(1).max(175),
    /** Share of the cone that fades toward its edge. */
    softness: z.number().min(0).max(1),
    /** Size of an area lamp, metres. */
    widthM: length,
    heightM: length,
    shadow: z.boolean(),
  }),
]);

export type Piece = z.infer<typeof pieceSchema>;

export type PieceKind = Piece['kind'];

export type PieceOf<K extends PieceKind> = Extract<Piece, { kind: K }>;

/** A surface of one colour, for what has no texture, and what it shines with by itself, cd/m²; null leaves what the file says. */
const colouredSchema = z.object({
  kind: z.literal('colour'),
  colour: colourHex.nullable(),
  luminanceCdM2: z.number().min(0).max(1e9).nullable(),
  /** 0 mirrors the sky sharply, 1 is matt; without one a piece is matt, and a file as it says itself. */
  roughness: z.number().min(0).max(1).nullable().default(null),
});

/** What the outside of a thing is like, by its kind. */
export const surfaceSchema = z.discriminatedUnion('kind', [colouredSchema]);

/** A kind of piece that can be put in a set, with the size it has at first. */
export interface PieceOffer {
  readonly name: string;
  readonly piece: Piece;
  readonly colour: string | null;
  /** Whether cameras are judged by it: focus, shot size, headroom. */
  readonly subject: boolean;
}

const MATT = '#8b8680';

const CLOTH = '#5d6a7d';

const LAMP_DEFAULTS = {
  lumen: 800,
  kelvin: 2700,
  coneDeg: 50,
  softness: 0.4,
  widthM: 0.6,
  heightM: 0.6,
  shadow: false,
};

/** Everything that can be put in a set, in the order in which it is offered. */
export const PIECE_OFFERS: readonly PieceOffer[] = [
  {
    name: 'Figure, standing',
    colour: CLOTH,
    subject: true,
    piece: { kind: 'figure', heightM: 1.75, pose: 'standing' },
  },
  {
    name: 'Figure, sitting',
    colour: CLOTH,
    subject: true,
    piece: { kind: 'figure', heightM: 1.75, pose: 'sitting' },
  },
  {
    name: 'Figure, reaching',
    colour: CLOTH,
    subject: true,
    piece: { kind: 'figure', heightM: 1.75, pose: 'reaching' },
  },
  { name: 'Box', colour: MATT, subject: false, piece: { kind: 'box', widthM: 1, heightM: 1, depthM: 1 } },
  {
    name: 'Wall',
    colour: '#a39d94',
    subject: false,
    piece: { kind: 'wall', widthM: 4, heightM: 2.6, depthM: 0.15, openings: [] },
  },
  {
    name: 'Wall with a doorway',
    colour: '#a39d94',
    subject: false,
    piece: {
      kind: 'wall',
      widthM: 4,
      heightM: 2.6,
      depthM: 0.15,
      openings: [{ atM: 1.55, widthM: 0.9, sillM: 0, heightM: 2.05 }],
    },
  },
  {
    name: 'Wall with a window',
    colour: '#a39d94',
    subject: false,
    piece: {
      kind: 'wall',
      widthM: 4,
      heightM: 2.6,
      depthM: 0.15,
      openings: [{ atM: 1.4, widthM: 1.2, sillM: 0.9, heightM: 1.2 }],
    },
  },
  {
    name: 'Steps',
    colour: MATT,
    subject: false,
    piece: { kind: 'steps', widthM: 1.2, riseM: 0.17, goingM: 0.28, count: 8 },
  },
  { name: 'Ramp', colour: MATT, subject: false, piece: { kind: 'ramp', widthM: 1.2, heightM: 0.6, depthM: 3.6 } },
  { name: 'Cylinder', colour: MATT, subject: false, piece: { kind: 'cylinder', radiusM: 0.5, heightM: 1 } },
  { name: 'Column', colour: '#a39d94', subject: false, piece: { kind: 'column', radiusM: 0.25, heightM: 3 } },
  { name: 'Ground', colour: '#77716a', subject: false, piece: { kind: 'ground', widthM: 30, depthM: 30 } },
  { name: 'Card', colour: '#c9c4bc', subject: false, piece: { kind: 'card', widthM: 3.2, heightM: 1.8, lit: true } },
  { name: 'Animal', colour: '#7c6f60', subject: true, piece: { kind: 'animal', shoulderM: 0.6 } },
  {
    name: 'Vehicle',
    colour: '#6d7680',
    subject: true,
    piece: { kind: 'vehicle', widthM: 1.8, heightM: 1.5, depthM: 4.4 },
  },
  {
    name: 'Practical, bare bulb',
    colour: null,
    subject: false,
    piece: { kind: 'practical', lamp: 'point', ...LAMP_DEFAULTS },
  },
  {
    name: 'Practical, spot',
    colour: null,
    subject: false,
    piece: { kind: 'practical', lamp: 'spot', ...LAMP_DEFAULTS, lumen: 3000, kelvin: 3200 },
  },
  {
    name: 'Practical, panel',
    colour: null,
    subject: false,
    piece: { kind: 'practical', lamp: 'area', ...LAMP_DEFAULTS, lumen: 4000, kelvin: 5600 },
  },
];
