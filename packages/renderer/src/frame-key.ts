import type { Project, RenderJob } from '@arvex/core';
import { appearanceAt, burnInTexts, fingerprintOf, frameFiles, outputSize, partFrame } from '@arvex/core';
import type { StageView } from '@arvex/stage';
import { partView } from '@arvex/stage/view';

/**
 * A text that two frames, of whichever orders, share only where their files are the same: what is seen, how the set looks while the
 * shutter is open, how it is drawn, what is written over it. Nothing for slates, and where drawings of the work lie over the picture.
 * @param project as the order shows it: see `orderedProject`.
 * @param drawnBy what draws: the code, and the graphics.
 */
export function frameKey(
  project: Project,
  job: RenderJob,
  index: number,
  drawnBy: readonly string[],
): string | undefined {
  const { order, part } = job;
  const { cameras, rigs, paths, grid, guides, references } = order.visible;
  const frame = partFrame(part, index);
  if (frame.kind === 'slate' || cameras || rigs || paths || grid || guides || references) return undefined;
  const view = partView(project, order, part, frame.source);
  const textOf = burnInTexts(project, part, job, index);
  const { samples, stereo, panorama, burnIns, background, formats } = order;
  const logo = project.assets[burnIns?.logoAssetId ?? '']?.file.hash;
  return fingerprintOf([
    drawnBy,
    view,
    timesOf(view).map((flicks) => appearanceAt(project, flicks)),
    outputSize(order, part),
    [samples, stereo, panorama, background, formats.pictures],
    frameFiles(project, order).map(({ role }) => role),
    burnIns && [burnIns.size, burnIns.outside, logo, burnIns.items.map((item) => [item, textOf(item)])],
  ]);
}

/** Scene times at which a picture shows the set. */
function timesOf(view: StageView): number[] {
  const own = [view.atFlicks, ...view.shutter.map(({ atFlicks }) => atFlicks)];
  return [...own, ...(view.mix?.others ?? []).flatMap((other) => timesOf(other.view))];
}
