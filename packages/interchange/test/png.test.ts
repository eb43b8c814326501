import { decode } from 'fast-png';
import { describe, expect, it } from 'vitest';
import { pngOf, tellPng } from '../src/pictures';

const PICTURE = { widthPx: 2, heightPx: 1, channels: 3 as const, data: new Uint8Array([255, 0, 0, 0, 128, 255]) };

/** Names of all chunks, in their order. */
function chunks(png: Uint8Array): string[] {
  const view = new DataView(png.buffer, png.byteOffset);
  const names: string[] = [];
  for (let at = 8; at < png.length; at += 12 + view.getUint32(at)) {
    names.push(String.fromCharCode(...png.subarray(at + 4, at + 8)));
  }
  return names;
}

describe('a PNG', () => {
  it('says that it is sRGB, in eight bits and in sixteen, and is read as before', () => {
    for (const data of [PICTURE.data, new Uint16Array([65_535, 0, 1, 2, 3, 4])]) {
      const png = pngOf({ ...PICTURE, data });
      expect(chunks(png)).toEqual(['IHDR', 'sRGB', 'IDAT', 'IEND']);
      expect([...decode(png, { checkCrc: true }).data]).toEqual([...data]);
    }
  });

  it('says how wide its pixels are where they are not square', () => {
    const png = pngOf(PICTURE, 1.5);
    expect(chunks(png)).toEqual(['IHDR', 'sRGB', 'pHYs', 'IDAT', 'IEND']);
    const { resolution } = decode(png, { checkCrc: true });
    expect((resolution?.y ?? 0) / (resolution?.x ?? 1)).toBe(1.5);
  });

  it('keeps what it says already, and is told once', () => {
    const png = pngOf(PICTURE, 2);
    expect(tellPng(png, 3)).toEqual(png);
  });
});
