import { CoreError } from '../error';
import * as z from 'zod';

const id = z.uuid();

/** Another variation of the camera than the one that the shot shows, or that is worn. */
const variation = {
  variationId: z
    .union([id, z.literal('')])
    .nullable()
    .default(null),
};

/** What a part of an order shows. */
const partSubjectSchema = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('cut'), sequenceId: id }),
  z.object({ kind: z.literal('shot'), sequenceId: id, shotId: id, ...variation }),
  z.object({ kind: z.literal('camera'), cameraId: id, ...variation }),
]);

/** Frames of a part one after another: a slate, or pictures of its subject. */
const partRunSchema = z.discriminatedUnion('kind', [
  z.object({
    kind: z.literal('slate'),
    count: z.number().int().positive(),
    shotId: id.nullable(),
    cameraId: id.nullable(),
  }),
  z.object({
    kind: z.literal('pictures'),
    count: z.number().int().positive(),
    /** Of the first: in the cut from 0, in a shot from 0 at its start (before it in its handle), of a camera in scene time from 0. */
    from: z.number().int(),
    step: z.number().int().positive(),
    /** Number that the first is shown and named with. */
    number: z.number().int(),
  }),
]);
export type PartRun = z.infer<typeof partRunSchema>;

/** One run of frames of an order: what it shows, when, and how large. */
export const orderPartSchema = z.object({
  subject: partSubjectSchema,
  /** Name of the sequence, shot or camera. */
  title: z.string(),
  runs: z.array(partRunSchema).max(4100),
  /** Of the delivered frame, before bars, eyes or faces make it larger. */
  frameWidthPx: z.number().int().positive(),
  frameHeightPx: z.number().int().positive(),
});
export type OrderPart = z.infer<typeof orderPartSchema>;

/** One frame of a part: of a slate, counted from 1 over all slates of the part, or a picture of its subject. */
export type PartFrame =
  | { readonly kind: 'slate'; readonly shotId: string | null; readonly cameraId: string | null; readonly place: number }
  | { readonly kind: 'picture'; readonly source: number; readonly number: number };

/** How many frames a part has. */
export function framesOfPart({ runs }: Pick<OrderPart, 'runs'>): number {
  return runs.reduce((sum, { count }) => sum + count, 0);
}

/** A frame of a part, counted from 0. @throws CoreError `out-of-range` where it has no such frame. */
export function partFrame({ runs }: Pick<OrderPart, 'runs'>, index: number): PartFrame {
  let [left, slates] = [index, 0];
  for (const run of runs) {
    if (left < run.count && left >= 0) {
      if (run.kind === 'slate')
        return { kind: 'slate', shotId: run.shotId, cameraId: run.cameraId, place: slates + left + 1 };
      return { kind: 'picture', source: run.from + left * run.step, number: run.number + left * run.step };
    }
    left -= run.count;
    if (run.kind === 'slate') slates += run.count;
  }
  throw new CoreError('out-of-range', `There is no frame ${index + 1} in this part.`, 'index');
}
