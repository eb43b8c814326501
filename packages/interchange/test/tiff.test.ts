import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { decode } from 'fast-png';
import { afterAll, describe, expect, it } from 'vitest';
import { tiffOf } from '../src/pictures';

const folder = mkdtempSync(join(tmpdir(), 'arvex-tiff-'));
afterAll(() => rmSync(folder, { recursive: true }));
const tool = (...given: string[]) => execFileSync('oiiotool', given, { cwd: folder, encoding: 'utf8' });

const bytesOf = ({ buffer, byteOffset, byteLength }: ArrayBufferView) => Buffer.from(buffer, byteOffset, byteLength);

/** A picture of several strips, in which no two pixels of a row are alike. */
function picture(channels: 3 | 4, bits: 8 | 16) {
  const [widthPx, heightPx] = [211, 700];
  const count = widthPx * heightPx * channels;
  const value = (i: number) => (i * 7919) % 2 ** bits;
  const data =
    bits === 16
      ? Uint16Array.from({ length: count }, (_, i) => value(i))
      : Uint8Array.from({ length: count }, (_, i) => value(i));
  return { widthPx, heightPx, channels, data };
}

describe('TIFF', () => {
  for (const channels of [3, 4] as const) {
    for (const bits of [8, 16] as const) {
      it(`of ${channels} channels and ${bits} bits is read by OpenImageIO, pixel by pixel`, () => {
        const made = picture(channels, bits);
        writeFileSync(join(folder, 'frame.tif'), tiffOf(made, { pixelAspect: 2, alpha: 'straight' }));
        const info = tool('--info', '-v', 'frame.tif');
        expect(info).toContain(`211 x  700, ${channels} channel, uint${bits} tiff`);
        expect(info).toMatch(/PixelAspectRatio: 2/);
        if (channels === 4) expect(info).toMatch(/UnassociatedAlpha: 1/i);
        // Colours stay as they lie: not multiplied with their alpha.
        tool('--iconfig', 'oiio:UnassociatedAlpha', '1', 'frame.tif', '-o', 'frame.png');
        const read = decode(readFileSync(join(folder, 'frame.png')));
        expect([read.width, read.height, read.channels, read.depth]).toEqual([211, 700, channels, bits]);
        expect(Buffer.compare(bytesOf(read.data), bytesOf(made.data))).toBe(0);
      });
    }
  }
});
