import type { PixelSize, Tile } from '@arvex/stage';

/** Sides of what is drawn at once, pixels: what all graphics have, and what keeps floats of it small. */
const TILE_PX = 2048;

/** The parts of a picture that are drawn one after another, row by row. @param sidePx largest side of one. */
export function* tilesOf({ width, height }: PixelSize, sidePx = TILE_PX): Generator<Tile> {
  for (let y = 0; y < height; y += sidePx) {
    for (let x = 0; x < width; x += sidePx) {
      yield { x, y, width: Math.min(sidePx, width - x), height: Math.min(sidePx, height - y) };
    }
  }
}
