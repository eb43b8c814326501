import { chromaOf, luminanceOf } from '@arvex/core';

/** Histogram and waveform of a picture's values, counted from linear light. */
export interface Scopes {
  /** How many pixels have a value in each of 256 steps from black to clipping, for red, green, blue and luminance. */
  readonly histogram: {
    readonly r: Uint32Array;
    readonly g: Uint32Array;
    readonly b: Uint32Array;
    readonly y: Uint32Array;
  };
  /** For each column from the left, how many pixels lie at each of 128 steps from black (first) to clipping. */
  readonly waveform: { readonly columns: number; readonly steps: number; readonly counts: Uint16Array };
  /**
   * How many pixels have a colour: a square of so many cells along each side, rows from the top. Across goes how much bluer than grey,
   * upward how much redder (Cb and Cr of ITU-R BT.709-6, item 3.3), each from −1/2 to 1/2.
   */
  readonly vectors: { readonly cells: number; readonly counts: Uint16Array };
  /** Share of pixels in which a colour clips, and in which all are black. */
  readonly clipped: number;
  readonly black: number;
}

const STEPS = 256;

const WAVE_STEPS = 128;

const BLACK = 1 / 512;
const VECTOR_CELLS = 96;
/** What is left of clipping after rounding. */
const ALMOST = 0.9999;

/** Counts a picture. @param pixels linear RGBA, rows from the top; @param clippingCdM2 luminance that is white. */
export function scopesOf(pixels: Float32Array, width: number, height: number, clippingCdM2: number): Scopes {
  const histogram = { r: bins(), g: bins(), b: bins(), y: bins() };
  const counts = new Uint16Array(width * WAVE_STEPS);
  const vectors = new Uint16Array(VECTOR_CELLS ** 2);
  let [clipped, black] = [0, 0];
  for (let i = 0; i < width * height; i++) {
    const [r, g, b] = [0, 1, 2].map((part) => (pixels[i * 4 + part] ?? 0) / clippingCdM2) as [number, number, number];
    const shown = [r, g, b].map(encoded) as [number, number, number];
    const y = encoded(luminanceOf([r, g, b]));
    count(histogram.r, shown[0]);
    count(histogram.g, shown[1]);
    count(histogram.b, shown[2]);
    count(histogram.y, y);
    const column = i % width;
    const step = Math.min(WAVE_STEPS - 1, Math.floor(y * WAVE_STEPS));
    counts[column * WAVE_STEPS + step] = (counts[column * WAVE_STEPS + step] ?? 0) + 1;
    const [bluer, redder] = chromaOf(shown);
    const across = cellAt(bluer);
    const down = VECTOR_CELLS - 1 - cellAt(redder);
    vectors[down * VECTOR_CELLS + across] = (vectors[down * VECTOR_CELLS + across] ?? 0) + 1;
    if (Math.max(r, g, b) >= ALMOST) clipped += 1;
    if (Math.max(r, g, b) < BLACK) black += 1;
  }
  const all = width * height;
  return {
    histogram,
    waveform: { columns: width, steps: WAVE_STEPS, counts },
    vectors: { cells: VECTOR_CELLS, counts: vectors },
    clipped: clipped / all,
    black: black / all,
  };
}

/** A cell of the vectors' square at −1/2 to 1/2. */
const cellAt = (value: number): number =>
  Math.min(VECTOR_CELLS - 1, Math.max(0, Math.floor((value + 0.5) * VECTOR_CELLS)));

const bins = () => new Uint32Array(STEPS);

function count(into: Uint32Array, value: number): void {
  const step = Math.min(STEPS - 1, Math.floor(value * STEPS));
  into[step] = (into[step] ?? 0) + 1;
}

/** A picture value as it is shown, sRGB, 0 to 1 (IEC 61966-2-1). */
function encoded(value: number): number {
  const v = Math.min(1, Math.max(0, value));
  return v <= 0.0031308 ? 12.92 * v : 1.055 * v ** (1 / 2.4) - 0.055;
}
