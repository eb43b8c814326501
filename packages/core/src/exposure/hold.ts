import * as z from 'zod';

/** The four things that decide how much light a frame gets. */
export const EXPOSURE_PARTS = ['stop', 'shutter', 'iso', 'nd'] as const;

export type ExposurePart = (typeof EXPOSURE_PARTS)[number];

/** Least and greatest ISO Arvex accepts. */
export const ISO_RANGE = { min: 1, max: 1_000_000 } as const;

/** Neutral density, stops, at most. */
export const MOST_ND_STOPS = 20;

/** How a camera is exposed. `absorbers` take up, in their order, what another part changes while EV is held. */
export const exposureSchema = z.object({
  shutterAngleDeg: z.number().min(0.1).max(360),
  iso: z.number().min(ISO_RANGE.min).max(ISO_RANGE.max),
  ndStops: z.number().min(0).max(MOST_ND_STOPS),
  hold: z.boolean(),
  absorbers: z.array(z.enum(EXPOSURE_PARTS)).max(4),
});

export type Exposure = z.infer<typeof exposureSchema>;

/** The parts in their own units: f-number, degrees, ISO, stops. */
export type ExposureValues = Readonly<Record<ExposurePart, number>>;

/** Where each part ends. */
export type ExposureEnds = Readonly<Record<ExposurePart, readonly [number, number]>>;

/** Ends of usual equipment; the stop's come from the lens. */
export const EXPOSURE_ENDS: ExposureEnds = { stop: [1, 22], shutter: [1, 360], iso: [25, 25_600], nd: [0, 10] };

export interface HeldExposure {
  readonly values: ExposureValues;
  /** Which parts took up how many stops of light (positive: more light). */
  readonly absorbed: readonly { readonly part: ExposurePart; readonly stops: number }[];
  /** Stops of light that nobody could add (positive) or take away: the picture is so much too dark. */
  readonly restStops: number;
}

/** Neutral density comes in filters of whole stops: 0.3, 0.6, 0.9 … of density. */
export const ND_FILTERS = [0, 1, 2, 3, 4, 5, 6, 7, 8, 9, 10] as const;

/** Differences below this are none, stops. */
const SAME_STOPS = 1e-9;

/** Light, in stops, that a part's value lets through: more is brighter. */
function lightOf(part: ExposurePart, value: number): number {
  if (part === 'nd') return -value;
  return part === 'stop' ? -2 * Math.log2(value) : Math.log2(value);
}

function valueOf(part: ExposurePart, light: number): number {
  if (part === 'nd') return -light;
  return part === 'stop' ? 2 ** (-light / 2) : 2 ** light;
}

/**
 * Sets one part and lets the absorbers take the change up in their order, each as far as it goes: f/4 to f/8 at ISO 400
 * with ISO absorbing gives ISO 1600. A part never absorbs its own change.
 */
export function setHolding(
  before: ExposureValues,
  part: ExposurePart,
  value: number,
  absorbers: readonly ExposurePart[],
  ends: ExposureEnds = EXPOSURE_ENDS,
): HeldExposure {
  const missing = lightOf(part, before[part]) - lightOf(part, value);
  return absorb(
    { ...before, [part]: value },
    missing,
    absorbers.filter((one) => one !== part),
    ends,
  );
}

/** Changes EV by `stops` (up is darker): the absorbers take it up in their order. */
export function shiftEv(
  before: ExposureValues,
  stops: number,
  absorbers: readonly ExposurePart[],
  ends: ExposureEnds = EXPOSURE_ENDS,
): HeldExposure {
  return absorb(before, -stops, absorbers, ends);
}

/** Sensitivity above which nobody puts neutral density in before it has come down. */
const BASE_ISO = 800;

/**
 * The order in which a crew lets parts take light up: as chosen, but never a high ISO behind neutral density. For more light the
 * filters come out before ISO goes up, for less ISO comes down to its base before they go in.
 */
function asCrewsDo(absorbers: readonly ExposurePart[], stops: number): { part: ExposurePart; noLessThan?: number }[] {
  const chosen: { part: ExposurePart; noLessThan?: number }[] = absorbers.map((part) => ({ part }));
  if (!absorbers.includes('iso') || !absorbers.includes('nd')) return chosen;
  const [iso, nd] = [absorbers.indexOf('iso'), absorbers.indexOf('nd')];
  if (stops > 0 && iso < nd) return chosen.flatMap((one) => (one.part === 'iso' ? [{ part: 'nd' }, one] : [one]));
  if (stops < 0 && nd < iso) {
    return chosen.flatMap((one) => (one.part === 'nd' ? [{ part: 'iso', noLessThan: BASE_ISO }, one] : [one]));
  }
  return chosen;
}

/** Lets parts change the light by so many stops, one after the other. */
function absorb(
  before: ExposureValues,
  stops: number,
  absorbers: readonly ExposurePart[],
  ends: ExposureEnds,
): HeldExposure {
  const values: Record<ExposurePart, number> = { ...before };
  const absorbed: { part: ExposurePart; stops: number }[] = [];
  let rest = stops;
  const inOrder = asCrewsDo(absorbers, stops);
  // What a whole filter is too much or too little is ISO's, before anything that is seen in the picture.
  const afterFilters =
    inOrder.some(({ part }) => part === 'nd') && absorbers.includes('iso') ? [{ part: 'iso' as const }] : [];
  const withRest = inOrder.flatMap((one): typeof inOrder => (one.part === 'nd' ? [one, ...afterFilters] : [one]));
  for (const { part, noLessThan } of withRest) {
    if (Math.abs(rest) < SAME_STOPS) break;
    const from = lightOf(part, values[part]);
    const [one, other] = ends[part];
    const limits = [Math.max(one, noLessThan ?? one), other].map((end) => lightOf(part, end));
    const wanted = from + rest;
    // Filters come in whole stops where ISO can take up the part of a stop that is left.
    const asFilter = part === 'nd' && absorbers.includes('iso') ? Math.round(wanted) : wanted;
    const to = Math.max(Math.min(...limits), Math.min(Math.max(...limits), asFilter));
    // A part that already stands beyond its end is not moved the wrong way.
    if (to === from || Math.sign(to - from) !== Math.sign(rest)) continue;
    // Twelve digits: f/4 to f/8 at ISO 400 is ISO 1600, not a rounding beside it.
    values[part] = Number(valueOf(part, to).toPrecision(12));
    absorbed.push({ part, stops: to - from });
    rest -= to - from;
  }
  return { values, absorbed, restStops: Math.abs(rest) < SAME_STOPS ? 0 : rest };
}
