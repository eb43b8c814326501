import type { Channel, Project } from '../model';
import { isLightChannel, isLookChannel, isTintChannel, lightGroupOf, moveOf } from '../model';
import { FLICKS_PER_SECOND } from '../time';
import { cameraAt } from './camera-at';
import { channelValuesAt } from './channel-values';
import { DARK_STOPS } from './resolve-light';
import { lookValue } from './resolve-look';
import { sceneEv } from '../exposure';

/**
 * What a channel comes to at a time, in its unit, whether it has keys or not: EV follows from the light strip, a light
 * group from the camera's mix (with all of its tint), the time of the move from the clock. It is what a first key holds so that nothing changes.
 * @throws CoreError `unknown-entity` when the project has no such camera.
 */
export function seenValue(project: Project, cameraId: string, channel: Channel, atFlicks: number): number {
  const state = cameraAt(project, cameraId, atFlicks);
  const camera = project.cameras[cameraId];
  const keyed = () => camera && channelValuesAt(camera, moveOf(project, cameraId), atFlicks)[channel];
  if (isTintChannel(channel)) return keyed() ?? 1;
  if (isLightChannel(channel)) {
    const level = state.lightMix[lightGroupOf(channel)];
    if (!level) return 0;
    return level.on ? level.stops : Math.min(level.stops, DARK_STOPS);
  }
  if (channel === 'ev') return sceneEv(state.exposure);
  if (isLookChannel(channel)) return lookValue(state.look, channel);
  const value = keyed();
  if (channel === 'timeWarp' && (value === undefined || Number.isNaN(value))) return atFlicks / FLICKS_PER_SECOND;
  return value ?? 0;
}
