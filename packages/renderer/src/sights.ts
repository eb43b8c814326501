import type { CubeFaceName, FrameView, OrderPart, RenderOrder } from '@arvex/core';
import { eyeSize, layoutOf } from '@arvex/core';
import type { AskedPicture, StageView } from '@arvex/stage';
import { eyeView } from '@arvex/stage/view';

export type Eye = 'left' | 'right';

/** One picture of a frame: which eye's, and which face of a cube in six files. */
interface Sight {
  readonly eye: Eye | undefined;
  readonly face: CubeFaceName | undefined;
}

export function sightOf(name: FrameView): Sight {
  const eye = name.startsWith('left') ? 'left' : name.startsWith('right') ? 'right' : undefined;
  const face = /face-(\w+)$/.exec(name)?.[1] as CubeFaceName | undefined;
  return { eye, face };
}

/** The eyes that one file shows, in its order. @param own whose file it is; nothing where both lie in one. */
export function eyesOf({ stereo }: RenderOrder, own: Eye | undefined): readonly (Eye | undefined)[] {
  if (!stereo) return [undefined];
  return own ? [own] : ['left', 'right'];
}

/** What is asked of the stage for one eye of a picture. */
export function askedPicture(order: RenderOrder, part: OrderPart, view: StageView, { eye, face }: Sight): AskedPicture {
  const { widthPx: width, heightPx: height } = eyeSize(order, part);
  const shared = { size: { width, height }, samples: order.samples };
  const { panorama, stereo } = order;
  if (panorama)
    return { ...shared, view, round: { layout: layoutOf(panorama, face), stereo: stereo ?? undefined, eye } };
  return { ...shared, view: stereo && eye ? ofEye(view, stereo, eye) : view };
}

/** What an eye sees is one view for all tiles of a picture: what is kept of a view, as the light that glows in it, is made once. */
const eyes = new WeakMap<StageView, Map<Eye, StageView>>();

function ofEye(view: StageView, stereo: NonNullable<RenderOrder['stereo']>, eye: Eye): StageView {
  let known = eyes.get(view);
  if (!known) eyes.set(view, (known = new Map<Eye, StageView>()));
  let seen = known.get(eye);
  if (!seen) known.set(eye, (seen = eyeView(view, stereo, eye)));
  return seen;
}
