import * as z from 'zod';

const share = z.number().min(0).max(1);

/** A point of a response curve: what the neutral response shows (sRGB, 0 to 1), and what is shown instead. */
const pointSchema = z.object({ x: share, y: share });

export type ResponsePoint = z.infer<typeof pointSchema>;

export const MOST_POINTS = 16;
/** Points of a curve stand so far apart at least. */
export const LEAST_APART = 0.005;

const pointsSchema = z
  .array(pointSchema)
  .min(2)
  .max(MOST_POINTS)
  .refine((points) => points.every((point, i) => i === 0 || point.x - (points[i - 1]?.x ?? 0) >= LEAST_APART / 2), {
    message: 'Points of a curve go from left to right, each a little beside the one before.',
  })
  .readonly();

const weight = z.number().min(-2).max(2);

/**
 * How light becomes a picture. `all` bends the three colours alike, then each of the others its own; null leaves it straight.
 * `grey` makes it black and white: how much of red, green and blue there is in it, of their sum.
 */
export const responseSchema = z.object({
  name: z.string().trim().min(1).max(120),
  all: pointsSchema,
  red: pointsSchema.nullable(),
  green: pointsSchema.nullable(),
  blue: pointsSchema.nullable(),
  grey: z.tuple([weight, weight, weight]).readonly().nullable(),
});

export type Response = z.infer<typeof responseSchema>;

const STRAIGHT: readonly ResponsePoint[] = [
  { x: 0, y: 0 },
  { x: 1, y: 1 },
];

const points = (...xy: readonly (readonly [number, number])[]): readonly ResponsePoint[] =>
  xy.map(([x, y]) => ({ x, y }));

const response = (name: string, all: readonly ResponsePoint[], parts: Partial<Response> = {}): Response => ({
  name,
  all,
  red: null,
  green: null,
  blue: null,
  grey: null,
  ...parts,
});

/** Responses by what they do, to begin from. */
export const RESPONSES: readonly Response[] = [
  response('Neutral', STRAIGHT),
  response('Soft shoulder', points([0, 0], [0.3, 0.32], [0.6, 0.61], [0.85, 0.79], [1, 0.93])),
  response('Hard print', points([0, 0], [0.12, 0.05], [0.35, 0.33], [0.65, 0.74], [0.9, 0.98], [1, 1])),
  response('Deep blacks', points([0, 0], [0.15, 0.06], [0.35, 0.31], [0.6, 0.6], [1, 1])),
  response('Open shadows', points([0, 0], [0.12, 0.2], [0.35, 0.44], [0.7, 0.74], [1, 1])),
  response('Faded', points([0, 0.09], [0.2, 0.24], [0.5, 0.51], [0.8, 0.76], [1, 0.9]), {
    blue: points([0, 0.03], [0.5, 0.5], [1, 0.95]),
  }),
  response('Cold night', points([0, 0], [0.25, 0.17], [0.5, 0.42], [0.8, 0.76], [1, 0.95]), {
    red: points([0, 0], [0.4, 0.34], [1, 0.96]),
    blue: points([0, 0.03], [0.4, 0.46], [1, 1]),
  }),
  response('Warm evening', points([0, 0], [0.25, 0.22], [0.6, 0.63], [1, 0.98]), {
    red: points([0, 0.01], [0.5, 0.54], [1, 1]),
    blue: points([0, 0.02], [0.5, 0.45], [1, 0.92]),
  }),
  response('Bleached', points([0, 0], [0.2, 0.13], [0.5, 0.52], [0.75, 0.84], [1, 1]), {
    red: points([0, 0], [0.5, 0.49], [1, 0.99]),
    blue: points([0, 0.01], [0.5, 0.49], [1, 0.97]),
  }),
  response('Crossed', points([0, 0], [0.25, 0.22], [0.7, 0.75], [1, 1]), {
    red: points([0, 0], [0.3, 0.24], [0.7, 0.76], [1, 1]),
    green: points([0, 0], [0.3, 0.29], [0.7, 0.74], [1, 1]),
    blue: points([0, 0.1], [0.5, 0.5], [1, 0.88]),
  }),
  response('Silver', points([0, 0.01], [0.2, 0.15], [0.5, 0.51], [0.8, 0.83], [1, 0.98]), { grey: [0.3, 0.55, 0.15] }),
  response('Dark sky silver', points([0, 0], [0.2, 0.13], [0.5, 0.5], [0.8, 0.86], [1, 1]), {
    grey: [0.75, 0.35, -0.1],
  }),
];

export const NEUTRAL_RESPONSE = RESPONSES[0] as Response;

/** Entries of a response's table; between them it is straight. */
export const RESPONSE_STEPS = 1024;

/** What red, green and blue come to at each step of what the neutral response shows, side by side: red, green, blue, red … */
export type ResponseTable = Float32Array;

const tables = new WeakMap<Response, ResponseTable>();

/** The table of a response, made once; `undefined` of one that leaves everything as it is. */
export function responseTable(of: Response): ResponseTable | undefined {
  const curves = [of.red, of.green, of.blue];
  if (isStraight(of.all) && curves.every((curve) => curve === null || isStraight(curve))) return undefined;
  let table = tables.get(of);
  if (!table) {
    table = new Float32Array(RESPONSE_STEPS * 3);
    const all = bentBy(of.all);
    const own = curves.map((curve) => (curve === null ? undefined : bentBy(curve)));
    for (let step = 0; step < RESPONSE_STEPS; step++) {
      const value = all(step / (RESPONSE_STEPS - 1));
      for (let c = 0; c < 3; c++) table[step * 3 + c] = own[c]?.(value) ?? value;
    }
    tables.set(of, table);
  }
  return table;
}

/** What a table has for one part of a colour, 0 to 1. */
export function throughTable(table: ResponseTable, value: number, part: 0 | 1 | 2): number {
  const at = Math.min(1, Math.max(0, value)) * (RESPONSE_STEPS - 1);
  const step = Math.min(RESPONSE_STEPS - 2, Math.floor(at));
  const [low, high] = [table[step * 3 + part] ?? 0, table[step * 3 + 3 + part] ?? 0];
  return low + (high - low) * (at - step);
}

const isStraight = (curve: readonly ResponsePoint[]): boolean =>
  curve[0]?.x === 0 && curve.at(-1)?.x === 1 && curve.every(({ x, y }) => x === y);

/**
 * The curve through points: cubic, without overshoot (Fritsch and Butland, 1984), level beyond its ends. Where points fall it falls.
 * @param through points from left to right, two at least.
 */
export function bentBy(through: readonly ResponsePoint[]): (x: number) => number {
  const slopes = through.map((_, i) => slopeAt(through, i));
  return (x) => {
    const after = through.findIndex((point) => point.x >= x);
    if (after === 0) return through[0]?.y ?? 0;
    if (after < 0) return through.at(-1)?.y ?? 1;
    const [from, to] = [through[after - 1] as ResponsePoint, through[after] as ResponsePoint];
    const width = to.x - from.x;
    const t = (x - from.x) / width;
    const [t2, t3] = [t * t, t * t * t];
    return (
      (2 * t3 - 3 * t2 + 1) * from.y +
      (t3 - 2 * t2 + t) * width * (slopes[after - 1] ?? 0) +
      (3 * t2 - 2 * t3) * to.y +
      (t3 - t2) * width * (slopes[after] ?? 0)
    );
  };
}

function slopeAt(through: readonly ResponsePoint[], i: number): number {
  const rise = (a: ResponsePoint, b: ResponsePoint) => (b.y - a.y) / (b.x - a.x);
  const [before, here, after] = [through[i - 1], through[i] as ResponsePoint, through[i + 1]];
  if (!before || !after) return before ? rise(before, here) : after ? rise(here, after) : 0;
  const [left, right] = [rise(before, here), rise(here, after)];
  if (left * right <= 0) return 0;
  const [spanBefore, spanAfter] = [here.x - before.x, after.x - here.x];
  const [weightBefore, weightAfter] = [2 * spanAfter + spanBefore, spanAfter + 2 * spanBefore];
  return (weightBefore + weightAfter) / (weightBefore / left + weightAfter / right);
}
