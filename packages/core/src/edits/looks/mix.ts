import { cameraAt, DARK_STOPS, mixInForce, wornId, wornVariation } from '../../camera';
import type { GroupLevel, LightMix } from '../../light';
import { LEVEL_AS_IT_IS } from '../../light';
import type { Camera, ChannelValues, OwnGroup, Project } from '../../model';
import { existing, lightChannels, moveOf } from '../../model';
import type { Edit } from '../edit';
import { composed, patching } from '../edit';
import { keyChannels } from '../move';
import type { Dressed } from './looks';

/** How levels are taken: at which scene time, and whether every change of stops becomes a key. */
export interface LevelsTime {
  readonly atFlicks: number;
  readonly autoKey: boolean;
}

/** Levels as a camera takes them: values of its channels that are keyed, and the levels that its mix holds. */
export interface LevelsTaken {
  readonly keyed: ChannelValues;
  readonly mix: LightMix;
}

/**
 * Sorts levels into what a camera's keys hold and what its mix holds: stops that have keys are keyed, with `autoKey` all that differ
 * from what is seen then; a tint is the mix's, of which keys have a share. What is as it was is in neither. While a variation with a
 * mix of its own is seen all levels are that mix's: it wins over keys, which are the camera's as it is.
 */
export function levelsTaken(
  project: Project,
  { cameraId, variationId }: Dressed,
  levels: LightMix,
  { atFlicks, autoKey }: LevelsTime,
): LevelsTaken {
  const camera = existing(project, 'camera', cameraId);
  const curves = moveOf(project, cameraId)?.curves ?? {};
  const seen = cameraAt(project, cameraId, atFlicks, undefined, variationId).lightMix;
  const worn = wornVariation(camera, variationId);
  const set = mixInForce(project, camera, worn);
  const keysCount = worn?.lightMix == null;
  const keyed: Record<string, number> = {};
  const mix: Record<string, GroupLevel> = {};
  for (const [groupId, level] of Object.entries(levels)) {
    const [then, own] = [seen[groupId] ?? LEVEL_AS_IT_IS, set[groupId] ?? LEVEL_AS_IT_IS];
    const { stops } = lightChannels(groupId);
    const hasKeys = keysCount && curves[stops] !== undefined;
    const changes = level.stops !== then.stops || level.on !== then.on;
    const becomesKey = keysCount && changes && (autoKey || hasKeys);
    if (becomesKey) keyed[stops] = level.on ? level.stops : Math.min(level.stops, DARK_STOPS);
    const kept = becomesKey || hasKeys ? { ...own, tint: level.tint } : level;
    if (kept.stops !== own.stops || kept.on !== own.on || kept.tint !== own.tint) mix[groupId] = kept;
  }
  return { keyed, mix };
}

/** Sets levels of light groups as one camera sees them then: keyed where they have keys, else in its mix. */
export function setLevels(project: Project, dressed: Dressed, what: string, levels: LightMix, time: LevelsTime): Edit {
  const { cameraId } = dressed;
  const { keyed, mix } = levelsTaken(project, dressed, levels, time);
  const { name } = existing(project, 'camera', cameraId);
  return composed(project, `${what} on ${name}`, [
    ...(Object.keys(keyed).length > 0
      ? [(now: Project) => keyChannels(now, cameraId, keyed, time.atFlicks, `Key: ${what}`)]
      : []),
    ...(Object.keys(mix).length > 0
      ? [(now: Project) => setCameraMix(now, cameraId, what, mix, dressed.variationId)]
      : []),
  ]);
}

/**
 * Sets levels in a camera's mix: in that of the variation it is seen with, where that has one of its own; else with that the mix is
 * the camera's own. @param variationId the variation it is seen with; the one it wears when left out.
 */
export function setCameraMix(
  project: Project,
  cameraId: string,
  what: string,
  levels: LightMix,
  variationId?: string | null,
): Edit {
  const camera = existing(project, 'camera', cameraId);
  const worn = wornVariation(camera, variationId);
  const lightMix = { ...mixInForce(project, camera, worn), ...levels };
  const id = wornId(camera, variationId);
  const parts: Partial<Camera> =
    worn?.lightMix && id
      ? { variations: { ...camera.variations, [id]: { ...worn, lightMix } } }
      : { lightMix, own: [...new Set<OwnGroup>([...camera.own, 'lightMix'])] };
  return { name: `${what} on ${camera.name}`, operations: [patching(project, 'camera', cameraId, parts)] };
}
