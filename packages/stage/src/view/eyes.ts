import type { ProjectedPose, Stereo, Vector } from '@arvex/core';
import { eyeOffsetM } from '@arvex/core';
import type { StageView } from './view';
import { throughAperture } from './view';

/**
 * What one eye of a pair sees of a view: from beside it, both looking straight ahead, the windows shifted so that what lies at the
 * convergence meets in the plane of the screen.
 */
export function eyeView(view: StageView, stereo: Stereo, eye: 'left' | 'right'): StageView {
  const offset = eyeOffsetM(stereo, eye);
  const seen = throughAperture(view, stereo.convergenceM, offset, 0);
  const shutter = view.shutter.map((moment) => ({ ...moment, pose: besides(moment.pose, offset) }));
  const { mix } = view;
  if (!mix) return { ...seen, shutter };
  const others = mix.others.map(({ view: other, weight }) => ({ view: eyeView(other, stereo, eye), weight }));
  return { ...seen, shutter, mix: { ...mix, others } };
}

/** A pose so many metres to its own right. */
function besides(pose: ProjectedPose, metres: number): ProjectedPose {
  const [x, y, z, w] = pose.quaternion;
  const right = [1 - 2 * (y * y + z * z), 2 * (x * y + z * w), 2 * (x * z - y * w)] as const;
  const positionM = pose.positionM.map((value, i) => value + metres * (right[i] ?? 0)) as unknown as Vector;
  return { ...pose, positionM };
}
