/** Samples a second, and loudest value of 16 bits. */
const [RATE, LOUDEST] = [24_000, 32_767];
const HEADER_BYTES = 44;

/** A stroke of a bell: partials of a bell by their pitch, loudness and how fast they die away (Rossing, The Physics of Bells). */
const PARTIALS: readonly (readonly [pitch: number, loudness: number, perSecond: number])[] = [
  [0.5, 0.5, 0.5],
  [1, 0.7, 0.9],
  [1.2, 0.5, 1.3],
  [1.5, 0.35, 1.8],
  [2, 0.6, 1.6],
  [2.67, 0.25, 2.6],
  [3.01, 0.2, 3.2],
];
const BELL_HZ = 330;

/** Evenly spread whole numbers from a seed, alike on every machine (Numerical Recipes' linear congruence). */
function* noise(seed: number): Generator<number> {
  let state = seed >>> 0;
  for (;;) {
    state = (Math.imul(state, 1_664_525) + 1_013_904_223) >>> 0;
    yield state / 2 ** 31 - 1;
  }
}

/** The scratch sound of the demo: wind that swells, and a bell at some times, as WAV (RIFF, 16 bits, one channel). */
export function windAndBell(seconds: number, bellsS: readonly number[]): Uint8Array {
  const count = Math.round(seconds * RATE);
  const bytes = new Uint8Array(HEADER_BYTES + count * 2);
  const view = new DataView(bytes.buffer);
  const text = (at: number, word: string) =>
    [...word].forEach((letter, i) => view.setUint8(at + i, letter.charCodeAt(0)));
  text(0, 'RIFF');
  view.setUint32(4, bytes.length - 8, true);
  text(8, 'WAVEfmt ');
  view.setUint32(16, 16, true);
  view.setUint16(20, 1, true);
  view.setUint16(22, 1, true);
  view.setUint32(24, RATE, true);
  view.setUint32(28, RATE * 2, true);
  view.setUint16(32, 2, true);
  view.setUint16(34, 16, true);
  text(36, 'data');
  view.setUint32(40, count * 2, true);
  const white = noise(1901);
  let [low, lower] = [0, 0];
  for (let i = 0; i < count; i++) {
    const at = i / RATE;
    const gust = 0.55 + 0.3 * Math.sin(at * 0.42) + 0.15 * Math.sin(at * 1.13 + 1);
    low += (Number(white.next().value) - low) * 0.06;
    lower += (low - lower) * 0.25;
    const wind = lower * gust * 1.1;
    const bell = bellsS.reduce((sum, from) => sum + (at < from ? 0 : stroke(at - from)), 0);
    const value = Math.max(-1, Math.min(1, wind + bell * 0.16));
    view.setInt16(HEADER_BYTES + i * 2, Math.round(value * LOUDEST), true);
  }
  return bytes;
}

function stroke(at: number): number {
  return PARTIALS.reduce(
    (sum, [pitch, loudness, perSecond]) =>
      sum + loudness * Math.exp(-at * perSecond) * Math.sin(2 * Math.PI * BELL_HZ * pitch * at),
    0,
  );
}
