import { execFileSync } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { InterchangeError } from '../src/error';
import { exrOf, pictureOfExr, readExr, writeExr } from '../src/pictures';

const ABOUT = {
  framesPerSecond: [24_000, 1001],
  timeCode: '01:02:03:04',
  pixelAspectRatio: 2,
  aperture: 2.8,
  expTime: 1 / 48,
  isoSpeed: 800,
  focus: 4.25,
  nominalFocalLength: 35,
  worldToCamera: [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, -1, -2, -3, 1],
  texts: { camera: 'Pier ride', lightMix: '{"outside":[0.5,0.5,0.5]}' },
} as const;

/** A picture of 7 × 33, so that neither its rows nor its chunks are whole: every value another one. */
function sample(values = 7 * 33) {
  const pixels = Float32Array.from({ length: values * 4 }, (_, i) => (i % 4 === 3 ? 1 : i / 64));
  const depth = Float32Array.from({ length: values }, (_, i) => 1.5 + i / 1000);
  const light = ['R', 'G', 'B', 'A'].map((name, first) => ({
    name,
    depth: 'half' as const,
    values: pixels,
    first,
    step: 4,
  }));
  const channels = [
    ...light,
    { name: 'Z', depth: 'float' as const, values: depth },
    { name: 'light-lantern.R', depth: 'half' as const, values: pixels, first: 0, step: 4 },
  ];
  return { pixels, depth, file: writeExr({ widthPx: 7, heightPx: 33, channels, about: ABOUT }) };
}

describe('OpenEXR', () => {
  it('is read by OpenImageIO with its channels, values and all that it says of itself', () => {
    const { file, pixels, depth } = sample();
    const folder = mkdtempSync(join(tmpdir(), 'arvex-exr-'));
    try {
      const path = join(folder, 'frame.exr');
      writeFileSync(path, file);
      const info = execFileSync('oiiotool', ['--info', '-v', path], { encoding: 'utf8' });
      expect(info).toContain('7 x   33, 6 channel');
      for (const line of [
        'channel list: R (half), G (half), B (half), A (half), Z (float), light-lantern.R (half)',
        'FramesPerSecond: 24000/1001',
        'PixelAspectRatio: 2',
        'FNumber: 2.8',
        'isoSpeed: 800',
        'camera: "Pier ride"',
        'compression: "zip"',
      ]) {
        expect(info.toLowerCase(), line).toContain(line.toLowerCase());
      }
      expect(info).toMatch(/timecode: 01:02:03:04/i);
      expect(info).toMatch(/worldtocamera/i);
      const at = execFileSync('oiiotool', [path, '--cut', '1x1+3+20', '--printstats', '-o', join(folder, 'one.exr')], {
        encoding: 'utf8',
      });
      const min = /Stats Min: ([^\n]*)\(float\)/.exec(at)?.[1]?.trim().split(/\s+/).map(Number) ?? [];
      const place = 20 * 7 + 3;
      [pixels[place * 4], pixels[place * 4 + 1], pixels[place * 4 + 2], 1, depth[place], pixels[place * 4]].forEach(
        (value, i) => expect(min[i]! / value!).toBeCloseTo(1, 2),
      );
    } finally {
      rmSync(folder, { recursive: true });
    }
  });

  it('comes back as it was, halves to their own precision, whatever the size', () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 40 }), fc.integer({ min: 1, max: 40 }), fc.boolean(), (w, h, half) => {
        const pixels = Float32Array.from({ length: w * h * 4 }, (_, i) => ((i * 7919) % 1024) / 256);
        const back = pictureOfExr(
          exrOf({ widthPx: w, heightPx: h, pixels }, half ? 'half' : 'float').buffer as ArrayBuffer,
        );
        expect([back.widthPx, back.heightPx]).toEqual([w, h]);
        expect(back.pixels).toEqual(pixels); // quarters of a 256th are halves
      }),
      { numRuns: 60 },
    );
    const { file, depth } = sample();
    expect(readExr(file).channels.get('Z')).toEqual(depth);
    expect(pictureOfExr(file.buffer as ArrayBuffer, 'light-lantern').pixels[4]).toBeCloseTo(4 / 64, 4);
  });

  it('that is cut off, or is something else, says so', () => {
    const { file } = sample();
    for (const length of [0, 7, 40, 300, file.length - 9]) {
      expect(() => readExr(file.subarray(0, length)), String(length)).toThrow(InterchangeError);
    }
    expect(() => readExr(new TextEncoder().encode('<html>no picture at all</html>'))).toThrow(
      'This is no OpenEXR file.',
    );
    expect(() => pictureOfExr(file.buffer as ArrayBuffer, 'light-room')).toThrow('no layer "light-room"');
  });
});
