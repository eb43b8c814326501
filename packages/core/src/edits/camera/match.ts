import type { Camera, CameraPart, Operation, Project } from '../../model';
import { CAMERA_PART_NAMES, existing } from '../../model';
import { equivalentFocalLengthMm } from '../../optics';
import type { Edit } from '../edit';
import { patching } from '../edit';
import type { CameraParts } from './cameras';
import { scaledLensKeys } from './cameras';

/** How a lens is matched: the same focal length, or whatever sees the same angle on the other's film back. */
export type LensMatch = 'focal-length' | 'angle';

/**
 * Gives chosen parts of one camera to others, as one edit. Moves keep their times; a lens that is matched by angle
 * scales the keys of the focal length too.
 */
export function matchCameras(
  project: Project,
  fromId: string,
  toIds: readonly string[],
  parts: readonly CameraPart[],
  lensMatch: LensMatch = 'focal-length',
): Edit {
  const from = existing(project, 'camera', fromId);
  const operations = toIds.flatMap((id): Operation[] => {
    const to = existing(project, 'camera', id);
    // Each part sees what the ones before it have changed.
    const changed = parts.reduce<CameraParts>(
      (sum, part) => ({ ...sum, ...partOf(part, from, { ...to, ...sum }) }),
      {},
    );
    if (!changed.lens || lensMatch === 'focal-length') return [patching(project, 'camera', id, changed)];
    const back = changed.filmBack ?? to.filmBack;
    const focalLengthMm = equivalentFocalLengthMm(from.lens.focalLengthMm, from.filmBack, back);
    const scale = focalLengthMm / to.lens.focalLengthMm;
    const lens = { ...changed.lens, focalLengthMm, lensId: null };
    return [patching(project, 'camera', id, { ...changed, lens }), ...scaledLensKeys(project, id, scale)];
  });
  const what = parts.map((part) => CAMERA_PART_NAMES[part].toLowerCase()).join(', ');
  const whom = toIds.length === 1 ? existing(project, 'camera', toIds[0] ?? '').name : `${toIds.length} cameras`;
  return { name: `Match ${what} of ${whom} to ${from.name}`, operations };
}

/** What of a camera changes when a part of it is matched. */
function partOf(part: CameraPart, from: Camera, to: Camera): CameraParts {
  const own = (group: Camera['own'][number]) => {
    const others = to.own.filter((one) => one !== group);
    return from.own.includes(group) ? [...others, group] : others;
  };
  switch (part) {
    case 'back':
      return { filmBack: from.filmBack };
    case 'lens':
      return { lens: from.lens };
    case 'exposure':
      return { exposure: from.exposure, own: own('exposure'), focus: { ...to.focus, fStop: from.focus.fStop } };
    case 'focus': {
      const { fStop } = to.focus;
      return { focus: { ...from.focus, fStop } };
    }
    case 'framing':
      return { framing: from.framing, own: own('delivery') };
    case 'guides':
      return { guides: from.guides, own: own('guides') };
    case 'look':
      return { lookId: from.lookId, own: own('look') };
    case 'light':
      return { lightMix: from.lightMix, own: own('lightMix') };
    case 'place':
      return { pose: from.pose, aim: from.aim };
  }
}
