import { expose } from 'comlink';

/** Samples a second that a waveform is made from, and how many of its strokes a second has. */
const RATE = 8000;
const STROKES_PER_S = 50;
const A_STROKE = RATE / STROKES_PER_S;
const KEPT = 'arvex-waveforms-2';

/** Draws sounds: the least and the greatest value of each fiftieth of a second, as bytes, side by side. */
export class WaveformWorker {
  /** @throws Error when the server does not answer. */
  async waveform(hash: string, durationS: number): Promise<Int8Array> {
    const address = `/api/sounds/${hash}/samples?count=${Math.ceil(durationS * RATE)}&rate=${RATE}&channels=1`;
    const kept = await this.kept();
    const known = await kept?.match(address);
    if (known) return new Int8Array(await known.arrayBuffer());
    const answer = await fetch(address);
    if (!answer.ok || !answer.body) throw new Error(`The sound cannot be read: ${answer.status}.`);
    const strokes = await drawn(answer.body, Math.ceil(durationS * STROKES_PER_S));
    await kept?.put(address, new Response(strokes.slice().buffer));
    return strokes;
  }

  /** Where waveforms are kept; a browser that keeps nothing draws them anew. */
  private async kept(): Promise<Cache | undefined> {
    return 'caches' in globalThis ? caches.open(KEPT).catch(() => undefined) : undefined;
  }
}

/** Reads samples as they come. */
async function drawn(body: ReadableStream<Uint8Array>, count: number): Promise<Int8Array> {
  const strokes = new Int8Array(count * 2);
  const reader = body.getReader();
  let [index, low, high, odd] = [0, 0, 0, -1];
  const take = (value: number) => {
    const sample = value > 127 ? value - 256 : value; // the upper of two bytes
    low = Math.min(low, sample);
    high = Math.max(high, sample);
    index += 1;
    if (index % A_STROKE !== 0) return;
    const stroke = index / A_STROKE - 1;
    if (stroke < count) strokes.set([low, high], stroke * 2);
    [low, high] = [0, 0];
  };
  for (;;) {
    const { done, value } = await reader.read();
    if (done) return strokes;
    let i = 0;
    if (odd >= 0) {
      take(value[0] ?? 0);
      i = 1;
      odd = -1;
    }
    for (; i + 1 < value.length; i += 2) take(value[i + 1] ?? 0);
    if (i < value.length) odd = value[i] ?? 0;
  }
}

expose(new WaveformWorker());
