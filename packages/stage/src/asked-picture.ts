import type { PanoramaLayout, Stereo } from '@arvex/core';
import type { PixelSize } from './painter';
import type { StageView } from './view';

/** A part of a picture, pixels from its top left. */
export interface Tile extends PixelSize {
  readonly x: number;
  readonly y: number;
}

/** A panorama in the place of a flat picture, and which eye's it is. */
export interface RoundPicture {
  readonly layout: PanoramaLayout;
  readonly stereo: Stereo | undefined;
  readonly eye: 'left' | 'right' | undefined;
}

/** A picture that is asked for: its view, its whole size, and how many samples it has. */
export interface AskedPicture {
  readonly view: StageView;
  readonly size: PixelSize;
  readonly samples: number;
  readonly round?: RoundPicture | undefined;
}
