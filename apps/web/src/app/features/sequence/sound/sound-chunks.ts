import { Injectable } from '@angular/core';
import { SOUND_RATE } from '@arvex/core';

/** Sound is fetched in chunks of so many samples, and so many chunks are kept. */
export const CHUNK = 5 * SOUND_RATE;
const MOST_KEPT = 40;
const CHANNELS = 2;
const SAMPLE_BYTES = 2;
const FULL_SCALE = 32_768;

/** Samples of files of sound, fetched as they are wanted. */
@Injectable({ providedIn: 'root' })
export class SoundChunks {
  private readonly kept = new Map<string, Promise<AudioBuffer>>();

  /** Chunk `index` of a file; shorter at the file's end. @throws Error when the server does not answer. */
  of(context: BaseAudioContext, hash: string, index: number): Promise<AudioBuffer> {
    const key = `${hash} ${index}`;
    const known = this.kept.get(key);
    this.kept.delete(key);
    const chunk = known ?? this.fetched(context, hash, index);
    this.kept.set(key, chunk);
    if (!known) chunk.catch(() => this.kept.delete(key)); // asked for anew by the next
    const [oldest] = this.kept.keys();
    if (this.kept.size > MOST_KEPT && oldest !== undefined) this.kept.delete(oldest);
    return chunk;
  }

  private async fetched(context: BaseAudioContext, hash: string, index: number): Promise<AudioBuffer> {
    const part = `from=${index * CHUNK}&count=${CHUNK}&rate=${SOUND_RATE}&channels=${CHANNELS}`;
    const answer = await fetch(`/api/sounds/${hash}/samples?${part}`);
    if (!answer.ok) throw new Error(`The sound cannot be read: ${answer.status}.`);
    const bytes = await answer.arrayBuffer();
    const samples = new Int16Array(bytes, 0, Math.floor(bytes.byteLength / (SAMPLE_BYTES * CHANNELS)) * CHANNELS);
    const count = Math.max(1, samples.length / CHANNELS);
    const buffer = context.createBuffer(CHANNELS, count, SOUND_RATE);
    for (let channel = 0; channel < CHANNELS; channel++) {
      const data = buffer.getChannelData(channel);
      for (let i = 0; i < samples.length / CHANNELS; i++) data[i] = (samples[i * CHANNELS + channel] ?? 0) / FULL_SCALE;
    }
    return buffer;
  }
}
