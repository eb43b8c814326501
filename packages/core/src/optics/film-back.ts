import * as z from 'zod';

/** The light-sensitive rectangle behind the lens. Millimetres; `squeeze` is 1 for spherical lenses. */
export const filmBackSchema = z.object({
  widthMm: z.number().min(1).max(200),
  heightMm: z.number().min(1).max(200),
  squeeze: z.number().min(0.5).max(4).default(1),
});

export type FilmBack = z.infer<typeof filmBackSchema>;

export interface FilmFormat extends FilmBack {
  /** Stable name in files and addresses. */
  readonly id: string;
  readonly name: string;
}

/** Formats by dimension and trade term, widest first within their family. */
export const FILM_FORMATS: readonly FilmFormat[] = [
  { id: '65-5p', name: '65 mm five-perf', widthMm: 52.48, heightMm: 23.01, squeeze: 1 },
  { id: 'full-frame', name: 'Full frame', widthMm: 36, heightMm: 24, squeeze: 1 },
  { id: 's35-4p', name: 'Super 35 four-perf', widthMm: 24.89, heightMm: 18.66, squeeze: 1 },
  { id: 's35-3p', name: 'Super 35 three-perf', widthMm: 24.89, heightMm: 13.87, squeeze: 1 },
  { id: 'academy', name: 'Academy 35', widthMm: 21.95, heightMm: 16, squeeze: 1 },
  { id: 'anamorphic', name: 'Anamorphic 35', widthMm: 21.95, heightMm: 18.6, squeeze: 2 },
  { id: 'aps-c', name: 'APS-C', widthMm: 23.6, heightMm: 15.7, squeeze: 1 },
  { id: 'four-thirds', name: 'Four Thirds', widthMm: 17.3, heightMm: 13, squeeze: 1 },
  { id: 's16', name: 'Super 16', widthMm: 12.52, heightMm: 7.41, squeeze: 1 },
  { id: 'one-inch', name: 'One-inch', widthMm: 13.2, heightMm: 8.8, squeeze: 1 },
  { id: 'two-thirds', name: '2/3-inch', widthMm: 9.6, heightMm: 5.4, squeeze: 1 },
];

/** The shipped format with these dimensions and this squeeze, if there is one. */
export function formatOf(back: FilmBack): FilmFormat | undefined {
  return FILM_FORMATS.find(
    (f) => f.widthMm === back.widthMm && f.heightMm === back.heightMm && f.squeeze === back.squeeze,
  );
}

/** `Super 35 three-perf`, or the dimensions of a custom back: `30 × 20 mm`. */
export function filmBackName(back: FilmBack): string {
  const squeeze = back.squeeze === 1 ? '' : ` squeeze ${back.squeeze}`;
  return formatOf(back)?.name ?? `${back.widthMm} × ${back.heightMm} mm${squeeze}`;
}

/** Width of the film back once the squeeze is undone, mm. */
export function unsqueezedWidthMm(back: FilmBack): number {
  return back.widthMm * back.squeeze;
}
