import { markChannels, restingParts } from '../../camera';
import type { Channel, ChannelValues, Project } from '../../model';
import { existing, moveOf } from '../../model';
import type { Edit } from '../edit';
import { patching } from '../edit';
import { keyChannels } from './curves';

/** What becomes of values that are set on a camera. */
export interface ValuesSet {
  /** What is kept at once, or keyed. */
  readonly edit: Edit;
  /** What is only tried: kept when it is marked. */
  readonly tried: ChannelValues;
}

/**
 * Sets values of a camera's own channels as its move wants it: keyed here and now where everything is; else kept at once where
 * nothing moves them, and tried out where keys or marks do, so that nobody destroys a composed view by looking about.
 * @param how whether everything that is set becomes a key, and at which scene time.
 * @throws CoreError `unknown-entity`.
 */
export function setValues(
  project: Project,
  cameraId: string,
  what: string,
  values: ChannelValues,
  { autoKey, atFlicks }: { readonly autoKey: boolean; readonly atFlicks: number },
): ValuesSet {
  const camera = existing(project, 'camera', cameraId);
  if (autoKey) return { edit: keyChannels(project, cameraId, values, atFlicks, `Key: ${what}`), tried: {} };
  const move = moveOf(project, cameraId);
  const marked = move && move.marks.length > 0 ? new Set<Channel>(markChannels(camera)) : new Set<Channel>();
  const moves = ([channel]: [Channel, number]) => move?.curves[channel] !== undefined || marked.has(channel);
  const all = Object.entries(values) as [Channel, number][];
  const parts = restingParts(camera, Object.fromEntries(all.filter((one) => !moves(one))));
  const operations = Object.keys(parts).length > 0 ? [patching(project, 'camera', cameraId, parts)] : [];
  return { edit: { name: `${what} on ${camera.name}`, operations }, tried: Object.fromEntries(all.filter(moves)) };
}
