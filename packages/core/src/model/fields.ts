import * as z from 'zod';

/** Farthest coordinate from the origin, metres: beyond it single-precision drawing shakes. */
export const WORLD_EXTENT_M = 100_000;

/** The latest time, flicks: some 4 months. */
export const MAX_FLICKS = Number.MAX_SAFE_INTEGER;

/** Id of an entity: made where it is made, never again given to another. */
export const id = z.uuid();

/** The id of the change that last wrote an entity; the project's own before any change. */
/** Ids of changes, and the word that stands before the first: plain characters, as the database compares them. */
export const revision = z.string().regex(/^[\x21-\x7e]{1,64}$/);

export const name = z.string().trim().min(1, 'Give it a name.').max(120);

/** A coordinate, metres. */
export const metres = z.number().min(-WORLD_EXTENT_M).max(WORLD_EXTENT_M);

/** A time, flicks. */
export const flicks = z.number().int().min(0).max(MAX_FLICKS);

/** A scene time that may lie before the scene's beginning, flicks. */
export const sceneFlicks = z.number().int().min(-MAX_FLICKS).max(MAX_FLICKS);

/** A place or a way in the world, metres. */
export const vectorSchema = z.tuple([metres, metres, metres]).readonly();

export const scaleFactor = z.number().min(1e-6).max(1e6);

export const anglesShape = {
  panDeg: z.number(),
  tiltDeg: z.number().min(-3600).max(3600),
  rollDeg: z.number().min(-3600).max(3600),
};

/** What every entity has. */
export const base = { id, revision };

/** A place in an order: text that sorts there. */
export const order = z
  .string()
  .regex(/^[0-9A-Za-z]+$/)
  .max(120);

/** Revision of entities that no change has written yet. */
export const FIRST_REVISION = 'first';

/** Half of a character that takes two places, without its other half. */
const HALF = /\p{Surrogate}/gu;

/** A text of at most so many places, ending at a whole character; what is half a character becomes a mark. */
export function shortened(text: string, most: number): string {
  const whole = text.replace(HALF, '\ufffd');
  return whole.slice(0, most).replace(HALF, '');
}
