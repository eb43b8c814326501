import type { PixelSize, Tile } from '@arvex/stage';

/** Sides of what is drawn at once, pixels: what all graphics have, and what keeps floats of it small. */
const TILE_PX = 2048;

/**
 * The parts of a picture that are drawn one after another, row by row: between two of them there is time for others, so that who draws
 * can say meanwhile that it lives.
 * @param sidePx largest side of one.
 */
export async function* tilesOf({ width, height }: PixelSize, sidePx = TILE_PX): AsyncGenerator<Tile> {
  for (let y = 0; y < height; y += sidePx) {
    for (let x = 0; x < width; x += sidePx) {
      if (x + y > 0) await new Promise((resolve) => setTimeout(resolve));
      yield { x, y, width: Math.min(sidePx, width - x), height: Math.min(sidePx, height - y) };
    }
  }
}
