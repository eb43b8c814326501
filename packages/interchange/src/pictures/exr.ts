import { DataTexture, FloatType, HalfFloatType, RGBAFormat } from 'three';
import { EXRExporter, ZIP_COMPRESSION } from 'three/examples/jsm/exporters/EXRExporter.js';
import { EXRLoader } from 'three/examples/jsm/loaders/EXRLoader.js';

/** Linear pixels: RGBA, rows from the top. */
export interface LinearPicture {
  readonly widthPx: number;
  readonly heightPx: number;
  readonly pixels: Float32Array;
}

/** The largest number that half floats hold. */
const MOST_HALF = 65_504;

/** A picture as OpenEXR: one part, four channels, packed by ZIP, 16 bits each or 32. Half floats end at 65 504: what is brighter is that bright. */
export async function exrOf(
  { widthPx, heightPx, pixels }: LinearPicture,
  depth: 'half' | 'float',
): Promise<Uint8Array> {
  // The exporter takes rows from the bottom, as textures have them.
  const row = widthPx * 4;
  const turned = new Float32Array(pixels.length);
  for (let y = 0; y < heightPx; y++) turned.set(pixels.subarray(y * row, (y + 1) * row), (heightPx - 1 - y) * row);
  if (depth === 'half') {
    turned.forEach((value, i) => {
      if (Math.abs(value) > MOST_HALF) turned[i] = Math.sign(value) * MOST_HALF;
    });
  }
  const texture = new DataTexture(turned, widthPx, heightPx, RGBAFormat, FloatType);
  const type = depth === 'half' ? HalfFloatType : FloatType;
  return new EXRExporter().parse(texture, { type, compression: ZIP_COMPRESSION });
}

/** A picture of OpenEXR as floats. @throws Error where it cannot be read. */
export function pictureOfExr(bytes: ArrayBuffer): LinearPicture {
  const read = new EXRLoader().setDataType(FloatType).parse(bytes);
  const { width, height, data } = read as { width: number; height: number; data: Float32Array };
  const channels = data.length / (width * height);
  const row = width * channels;
  const pixels = new Float32Array(width * height * 4).fill(1);
  for (let y = 0; y < height; y++) {
    const from = (height - 1 - y) * row;
    for (let x = 0; x < width; x++) {
      for (let c = 0; c < 4; c++) {
        const value = channels >= 3 ? data[from + x * channels + c] : data[from + x * channels];
        if (value !== undefined && (c < channels || channels < 3)) pixels[(y * width + x) * 4 + c] = value;
      }
    }
  }
  return { widthPx: width, heightPx: height, pixels };
}
