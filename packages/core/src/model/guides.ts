import * as z from 'zod';

/** Aspects offered as guides beside one's own. */
export const GUIDE_ASPECTS = [2.39, 2.2, 1.85, 1.78, 1.66, 1.33, 1, 0.8, 0.5625] as const;

/** Safe areas: SMPTE ST 2046-1 (93 % and 90 %), or the older ones (90 % and 80 %). */
export const SAFE_AREAS = { none: [], '2046': [0.93, 0.9], older: [0.9, 0.8] } as const;

export type SafeArea = keyof typeof SAFE_AREAS;

/** Lines that divide the frame, each at shares of its width and height. */
export const DIVISIONS = {
  thirds: [1 / 3, 2 / 3],
  halves: [1 / 2],
  // The golden section: 1 / φ² and 1 / φ.
  golden: [0.381966, 0.618034],
} as const;

export type Division = keyof typeof DIVISIONS;

/** What is drawn over the picture to frame by. */
export const guidesSchema = z.object({
  /** The mask round the delivered frame: strength 0 to 1 and colour. */
  mask: z.object({ opacity: z.number().min(0).max(1), colour: z.string().regex(/^#[0-9a-f]{6}$/i) }),
  aspects: z.array(z.object({ aspect: z.number().min(0.1).max(10), style: z.enum(['line', 'mask']) })).max(12),
  divisions: z.array(z.enum(Object.keys(DIVISIONS) as [Division, ...Division[]])),
  diagonals: z.boolean(),
  cross: z.boolean(),
  level: z.boolean(),
  safe: z.enum(Object.keys(SAFE_AREAS) as [SafeArea, ...SafeArea[]]),
  /** Lines of one's own at a per cent of the frame from its left or top. */
  lines: z.array(z.object({ axis: z.enum(['upright', 'across']), percent: z.number().min(0).max(100) })).max(20),
  readOuts: z.boolean(),
});

export type Guides = z.infer<typeof guidesSchema>;

export const GUIDE_DEFAULTS: Guides = {
  mask: { opacity: 0.75, colour: '#0b0b0c' },
  aspects: [],
  divisions: [],
  diagonals: false,
  cross: false,
  level: false,
  safe: 'none',
  lines: [],
  readOuts: true,
};

/** The largest frame of an aspect within a frame of another, as shares of it: left, top, width, height. */
export function aspectWithin(aspect: number, frameAspect: number) {
  const [width, height] = aspect > frameAspect ? [1, frameAspect / aspect] : [aspect / frameAspect, 1];
  return { x: (1 - width) / 2, y: (1 - height) / 2, width, height };
}
