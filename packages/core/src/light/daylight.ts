import * as z from 'zod';
import { sunPosition } from './sun-position';

/** Sun and sky: illuminance on a surface that faces the light, lux, and colours in kelvin. */
export const sunSchema = z.object({
  elevationDeg: z.number().min(-90).max(90),
  /** Clockwise from −Z (north). */
  azimuthDeg: z.number(),
  illuminanceLx: z.number().min(0).max(200_000),
  kelvin: z.number().min(1000).max(20_000),
});

export type Sun = z.infer<typeof sunSchema>;

export const skySchema = z.object({
  illuminanceLx: z.number().min(0).max(50_000),
  zenithKelvin: z.number().min(1000).max(40_000),
  horizonKelvin: z.number().min(1000).max(40_000),
});

export type Sky = z.infer<typeof skySchema>;

/** A place on earth and a local time, from which the sun's place follows. */
export const sunPlaceSchema = z.object({
  latitudeDeg: z.number().min(-90).max(90),
  longitudeDeg: z.number().min(-180).max(180),
  /** `2026-10-14T18:05`, local. */
  localTime: z.string().regex(/^\d{4}-\d\d-\d\dT\d\d:\d\d$/, 'Write the time as year-month-dayThour:minute.'),
  /** Hours that local time is ahead of UTC. */
  utcOffsetHours: z.number().min(-14).max(14),
});

export type SunPlace = z.infer<typeof sunPlaceSchema>;

/** What a set says about its daylight. */
export interface DaylightSettings {
  readonly sun: Sun;
  readonly sky: Sky;
  /** Whether the sun's angles are typed or follow from the place. */
  readonly sunFrom: 'typed' | 'place';
  readonly sunPlace: SunPlace;
  /** Whether amounts and colours are typed or follow the sun's elevation. */
  readonly amounts: 'typed' | 'follow';
}

type Knot = readonly [elevationDeg: number, value: number];

/** Direct sunlight on a surface facing the sun, lux, under a clear sky; noon and 10° as in IES tables for clear days. */
const SUN_LX: readonly Knot[] = [
  ...([
    [-0.83, 0.01],
    [0, 180],
    [2, 3000],
    [5, 11_000],
    [10, 25_000],
    [20, 55_000],
  ] as const),
  ...([
    [35, 82_000],
    [60, 100_000],
    [90, 106_000],
  ] as const),
];

/** Light of the clear sky on the ground, lux: sunset 400, end of civil dusk 3.4, then to starlight. */
const SKY_LX: readonly Knot[] = [
  ...([
    [-18, 0.0008],
    [-12, 0.008],
    [-6, 3.4],
    [-3, 60],
    [0, 400],
    [5, 3400],
  ] as const),
  ...([
    [10, 7000],
    [20, 9500],
    [35, 12_500],
    [60, 15_000],
    [90, 16_000],
  ] as const),
];

const SUN_KELVIN: readonly Knot[] = [
  [0, 2000],
  [5, 2900],
  [10, 3500],
  [20, 4400],
  [40, 5200],
  [60, 5500],
];

const ZENITH_KELVIN: readonly Knot[] = [
  [-6, 16_000],
  [0, 20_000],
  [10, 14_000],
  [30, 11_000],
];

const HORIZON_KELVIN: readonly Knot[] = [
  [-8, 12_000],
  [-4, 5500],
  [0, 3600],
  [8, 4800],
  [25, 6800],
];

/** Days of a month of a year, as the calendar has them. */
const daysOf = (year: number, month: number) => new Date(Date.UTC(year, month, 0)).getUTCDate();

/** The nearest local time that there is: the 30th of February is its last day, the 13th month December. */
export function possibleTime(localTime: string): string {
  const [year = 2000, month = 1, day = 1, hour = 0, minute = 0] = localTime.split(/[-T:]/).map(Number);
  const within = (value: number, most: number, least = 0) => Math.max(least, Math.min(most, value || least));
  const [m, two] = [within(month, 12, 1), (value: number) => String(value).padStart(2, '0')];
  const date = `${String(year).padStart(4, '0')}-${two(m)}-${two(within(day, daysOf(year, m), 1))}`;
  return `${date}T${two(within(hour, 23))}:${two(within(minute, 59))}`;
}

/** Milliseconds since 1970 UTC of a local time; an impossible one counts as the nearest that there is. */
function unixMsOf({ localTime, utcOffsetHours }: SunPlace): number {
  return Date.parse(`${possibleTime(localTime)}:00Z`) - utcOffsetHours * 3_600_000;
}

/** Amounts and colours of sun and sky that belong to an elevation of the sun in clear weather. */
export function clearDaylight(elevationDeg: number): { sun: Omit<Sun, 'elevationDeg' | 'azimuthDeg'>; sky: Sky } {
  const below = elevationDeg <= (SUN_LX[0] as Knot)[0];
  return {
    sun: {
      illuminanceLx: below ? 0 : between(SUN_LX, elevationDeg, Math.log, Math.exp),
      kelvin: between(SUN_KELVIN, elevationDeg),
    },
    sky: {
      illuminanceLx: between(SKY_LX, elevationDeg, Math.log, Math.exp),
      zenithKelvin: between(ZENITH_KELVIN, elevationDeg),
      horizonKelvin: between(HORIZON_KELVIN, elevationDeg),
    },
  };
}

/** Sun and sky as they are, with what follows from place and elevation worked out. */
export function daylightOf(set: DaylightSettings): { readonly sun: Sun; readonly sky: Sky } {
  const placed =
    set.sunFrom === 'place'
      ? sunPosition(unixMsOf(set.sunPlace), set.sunPlace.latitudeDeg, set.sunPlace.longitudeDeg)
      : { elevationDeg: set.sun.elevationDeg, azimuthDeg: set.sun.azimuthDeg };
  if (set.amounts === 'typed') return { sun: { ...set.sun, ...placed }, sky: set.sky };
  const { sun, sky } = clearDaylight(placed.elevationDeg);
  return { sun: { ...sun, ...placed }, sky };
}

/** Straight between knots, on the scale that `to` and `from` make; the end values hold beyond the ends. */
function between(
  knots: readonly Knot[],
  at: number,
  to: (value: number) => number = (value) => value,
  from: (value: number) => number = (value) => value,
): number {
  const next = knots.findIndex(([elevation]) => elevation >= at);
  const high = knots[next === -1 ? knots.length - 1 : next] as Knot;
  const low = knots[next <= 0 ? (next === 0 ? 0 : knots.length - 1) : next - 1] as Knot;
  if (high[0] === low[0]) return high[1];
  const share = (at - low[0]) / (high[0] - low[0]);
  return from(to(low[1]) + (to(high[1]) - to(low[1])) * share);
}
