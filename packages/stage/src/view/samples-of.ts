import type { LightMix } from '@arvex/core';
import { dequal } from 'dequal/lite';
import { layersOf } from './mixed-view';
import type { StageView } from './view';

/**
 * What of a view its samples depend on, of each picture in it. All else is done when their sum is shown: exposure too, as samples are in
 * cd/m², unless something in the set is to be shown as bright as its file whatever the exposure.
 */
function sampledOf(view: StageView, hasAsFiled: boolean) {
  return layersOf(view).map(({ view: part, weight }) => {
    const {
      look: _look,
      display: _display,
      sharp: _sharp,
      edge: _edge,
      bars: _bars,
      mix: _mix,
      frame: _frame,
      ...own
    } = part;
    return { ...own, ev: hasAsFiled || own.rendering ? own.ev : 0, isSeen: weight > 0 };
  });
}

/** Whether the samples of one view are the samples of the other, so that only showing them differs. */
export function sameSamples(a: StageView, b: StageView, hasAsFiled = true): boolean {
  return dequal(sampledOf(a, hasAsFiled), sampledOf(b, hasAsFiled));
}

const NO_MIX: LightMix = {};

/** The same but for how strongly light groups burn; one picture alone. */
export function sameButLightMix(a: StageView, b: StageView, hasAsFiled = true): boolean {
  return !a.mix && !b.mix && sameSamples({ ...a, lightMix: NO_MIX }, { ...b, lightMix: NO_MIX }, hasAsFiled);
}
