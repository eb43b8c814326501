import type { CameraLayer, PictureLayer } from '@arvex/core';
import { LOOK_DEFAULTS } from '@arvex/core';
import type { MixedColour, StageView } from './view';

/**
 * The layers of a frame of the cut as one view: that of the shot whose frame it is, with what is mixed into it.
 * @param ofLayer what a camera sees; nothing where it is not there any more.
 */
export function mixedView(
  layers: readonly PictureLayer[],
  shotId: string | undefined,
  ofLayer: (layer: CameraLayer) => StageView | undefined,
): StageView {
  const seen = layers.flatMap((layer) => {
    const view = layer.kind === 'camera' ? ofLayer(layer) : undefined;
    return layer.kind === 'camera' && view ? [{ layer, view, weight: layer.weight }] : [];
  });
  const own = seen.find(({ layer }) => layer.shot.id === shotId) ?? seen[0];
  const colour = mixedColour(layers, 1 - seen.reduce((sum, { weight }) => sum + weight, 0));
  if (!own) return { ...BLANK, mix: { weight: 0, others: [], colour } };
  if (layers.length === 1) return own.view;
  const others = seen.filter((one) => one !== own).map(({ view, weight }) => ({ view, weight }));
  return { ...own.view, mix: { weight: own.weight, others, colour } };
}

/** The pictures that a view is made of, with their weights: itself, and what is mixed into it. */
export function layersOf(view: StageView): readonly { readonly view: StageView; readonly weight: number }[] {
  return [{ view, weight: view.mix?.weight ?? 1 }, ...(view.mix?.others ?? [])];
}

/** The colour that is mixed in; two of them meet only for a few frames, where the one that has more weight is taken. */
function mixedColour(layers: readonly PictureLayer[], weight: number): MixedColour | undefined {
  let most: MixedColour | undefined;
  for (const layer of layers) {
    if (layer.kind === 'colour' && layer.weight > (most?.weight ?? 0))
      most = { hex: layer.colour, weight: layer.weight };
  }
  return most && { ...most, weight };
}

/** A view of nothing, to have a colour put over it. */
const BLANK: StageView = {
  pose: { positionM: [0, 0, 0], quaternion: [0, 0, 0, 1] },
  lens: {
    focalLengthMm: 35,
    squeeze: 1,
    shiftXMm: 0,
    shiftYMm: 0,
    k1: 0,
    nearM: 0.1,
    farM: 1000,
    parallelMPerMm: null,
  },
  window: { leftMm: -12, rightMm: 12, bottomMm: -7, topMm: 7 },
  ev: 0,
  atFlicks: 0,
  lightMix: {},
  look: LOOK_DEFAULTS,
  frame: { leftMm: -12, rightMm: 12, bottomMm: -7, topMm: 7 },
  sky: false,
  aperture: undefined,
  edge: { stops: 0, cornerMm: 1 },
  display: { kind: 'picture' },
  sharp: undefined,
  bars: undefined,
  shutter: [],
};
