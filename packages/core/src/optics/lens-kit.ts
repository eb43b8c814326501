import * as z from 'zod';

/** A lens as it lies in its case. A prime has the same shortest and longest focal length. */
export const kitLensSchema = z.object({
  id: z.string().min(1).max(64),
  name: z.string().trim().min(1).max(80),
  minMm: z.number().min(1).max(2000),
  maxMm: z.number().min(1).max(2000),
  /** Smallest f-number. */
  widestStop: z.number().min(0.5).max(64),
  /** T-number at the widest f-stop; null when the glass is taken as clear. */
  tStop: z.number().min(0.5).max(64).nullable(),
  /** Closest distance it focuses at, metres from the entrance pupil. */
  closestM: z.number().min(0.01).max(100),
  /** Blades of the iris; 0 is a circle. */
  blades: z.number().int().min(0).max(24),
  /** 0 for straight blades, 1 for a round opening. */
  roundness: z.number().min(0).max(1),
  /** Diameter of the picture the lens throws on the film plane, mm. */
  imageCircleMm: z.number().min(5).max(300),
  /** How far before the film plane its entrance pupil lies, mm; null when it is not known. Crews measure from the film plane. */
  pupilMm: z.number().min(0).max(2000).nullable().default(null),
});

export type KitLens = z.infer<typeof kitLensSchema>;

/** Shape of the opening of an iris. */
export interface Iris {
  readonly blades: number;
  readonly roundness: number;
  readonly rotationDeg: number;
}

const prime = (mm: number, widestStop: number, tStop: number, closestM: number): KitLens => ({
  id: `standard-${mm}`,
  name: `${mm} mm`,
  minMm: mm,
  maxMm: mm,
  widestStop,
  tStop,
  closestM,
  blades: 9,
  roundness: 0.6,
  imageCircleMm: 46,
  // Made up, as the kit is: longer lenses have their pupil farther forward.
  pupilMm: Math.round(55 + mm * 0.4),
});

const zoom = (minMm: number, maxMm: number, widestStop: number, tStop: number, closestM: number): KitLens => ({
  id: `standard-${minMm}-${maxMm}`,
  name: `${minMm}–${maxMm} mm`,
  minMm,
  maxMm,
  widestStop,
  tStop,
  closestM,
  blades: 8,
  roundness: 0.4,
  imageCircleMm: 34,
  pupilMm: Math.round(90 + maxMm * 0.5),
});

/** The kit every project has: primes and two zooms of usual kind. */
export const STANDARD_LENSES: readonly KitLens[] = [
  prime(18, 1.4, 1.5, 0.25),
  prime(24, 1.4, 1.5, 0.25),
  prime(28, 1.4, 1.5, 0.28),
  prime(32, 1.4, 1.5, 0.3),
  prime(35, 1.4, 1.5, 0.3),
  prime(50, 1.4, 1.5, 0.45),
  prime(75, 1.4, 1.5, 0.7),
  prime(100, 1.4, 1.6, 0.9),
  prime(135, 1.8, 2, 1.2),
  zoom(21, 85, 2.8, 2.9, 0.6),
  zoom(70, 200, 2.8, 3, 1.4),
];

/** Full f-stops in thirds as they are marked on lenses. */
export const MARKED_STOPS: readonly number[] = [
  1, 1.1, 1.2, 1.4, 1.6, 1.8, 2, 2.2, 2.5, 2.8, 3.2, 3.5, 4, 4.5, 5, 5.6, 6.3, 7.1, 8, 9, 10, 11, 13, 14, 16, 18, 20,
  22,
];

/** Shortest and longest focal length Arvex accepts, mm. */
export const FOCAL_LENGTH_RANGE_MM = { min: 1, max: 2000 } as const;

/** f-numbers a lens closes to at most. */
export const SMALLEST_STOP = 22;

/** T-number of a lens at an f-stop: its loss of light is the same at every stop. `null` when none is known. */
export function tStopOf(lens: KitLens | undefined, fStop: number): number | null {
  return lens?.tStop == null ? null : (fStop * lens.tStop) / lens.widestStop;
}

/** The nearest marked stop that lets in no more light than `fStop`: 13.16 gives 14. */
export function markedStopAtLeast(fStop: number): number {
  return MARKED_STOPS.find((stop) => stop >= fStop - 1e-9) ?? fStop;
}

/** Something asked of a lens that it has not, and what it has instead. */
export interface LensExcess {
  readonly what: 'focal-length' | 'stop' | 'focus' | 'image-circle';
  readonly message: string;
  /** The nearest value the lens has; nothing for a picture that is larger than its circle. */
  readonly mend: number | undefined;
}

/** What is asked of a lens. Distances in metres, lengths in mm; `cornerMm` is the farthest used point from the axis. */
export interface LensDemand {
  readonly focalLengthMm: number;
  readonly fStop: number;
  readonly focusM: number;
  readonly cornerMm: number;
}

/** Everything that is asked of a lens beyond what it has. */
export function lensExcesses(lens: KitLens, { focalLengthMm, fStop, focusM, cornerMm }: LensDemand): LensExcess[] {
  const found: LensExcess[] = [];
  const [min, max] = [lens.minMm, lens.maxMm];
  if (focalLengthMm < min - 1e-6 || focalLengthMm > max + 1e-6) {
    const reach = min === max ? `is ${min} mm` : `goes from ${min} to ${max} mm`;
    const mend = Math.max(min, Math.min(max, focalLengthMm));
    found.push({ what: 'focal-length', message: `The lens ${reach}`, mend });
  }
  if (fStop < lens.widestStop - 1e-6) {
    found.push({ what: 'stop', message: `The lens opens to ƒ${lens.widestStop}`, mend: lens.widestStop });
  }
  if (fStop > Math.max(SMALLEST_STOP, lens.widestStop) + 1e-6) {
    found.push({ what: 'stop', message: `The lens closes to ƒ${SMALLEST_STOP}`, mend: SMALLEST_STOP });
  }
  if (focusM < lens.closestM - 1e-6) {
    found.push({ what: 'focus', message: `The lens focuses from ${lens.closestM} m`, mend: lens.closestM });
  }
  if (cornerMm > lens.imageCircleMm / 2 + 1e-6) {
    const over = (2 * cornerMm - lens.imageCircleMm).toFixed(1);
    const message = `The frame reaches ${over} mm beyond the lens’s circle of ${lens.imageCircleMm} mm`;
    found.push({ what: 'image-circle', message, mend: undefined });
  }
  return found;
}
