import { CoreError } from '../../error';
import type { Project, Sound, SoundFile } from '../../model';
import { existing, SOUND_LANES, soundsInOrder } from '../../model';
import { FLICKS_PER_SECOND } from '../../time';
import type { Edit } from '../edit';
import { creation, deletion, patching } from '../edit';

/** Where a file of sound is put. */
export interface PlacedSound {
  readonly soundId: string;
  readonly assetId: string;
  readonly name: string;
  readonly file: SoundFile;
  readonly startFlicks: number;
}

/** Puts a whole file of sound under a sequence, in the first lane that is free there. @throws CoreError `out-of-range` where none is. */
export function addSound(project: Project, sequenceId: string, placed: PlacedSound): Edit {
  const { soundId, assetId, name, file, startFlicks } = placed;
  const endFlicks = startFlicks + file.durationS * FLICKS_PER_SECOND;
  const taken = new Set(
    soundsInOrder(project, sequenceId).flatMap((sound) =>
      sound.startFlicks < endFlicks && soundEnd(sound) > startFlicks ? [sound.lane] : [],
    ),
  );
  const lane = Array.from({ length: SOUND_LANES }, (_, i) => i).find((i) => !taken.has(i));
  if (lane === undefined) {
    throw new CoreError('out-of-range', `All ${SOUND_LANES} lanes have sound here. Take one away, or begin elsewhere.`);
  }
  const heard = { trimS: 0, lengthS: file.durationS, fadeInS: 0, fadeOutS: 0, gainDb: 0, muted: false };
  return {
    name: `Add sound ${name}`,
    operations: [
      ...(project.assets[assetId] ? [] : [creation('asset', { id: assetId, name, file })]),
      creation('sound', { id: soundId, sequenceId, assetId, name, lane, startFlicks, ...heard }),
    ],
  };
}

/** When a piece of sound ends in its sequence, flicks. */
export function soundEnd({ startFlicks, lengthS }: Pick<Sound, 'startFlicks' | 'lengthS'>): number {
  return startFlicks + Math.round(lengthS * FLICKS_PER_SECOND);
}

/** Changes parts of a piece of sound, named by `what`: it stays within its file, and its fades within it. */
export function setSound(
  project: Project,
  soundId: string,
  what: string,
  parts: Partial<Omit<Sound, 'id' | 'revision' | 'sequenceId' | 'assetId'>>,
): Edit {
  const sound = { ...existing(project, 'sound', soundId), ...parts };
  const { file } = existing(project, 'asset', sound.assetId);
  const whole = file.kind === 'sound' ? file.durationS : 0;
  const trimS = Math.max(0, Math.min(whole, sound.trimS));
  const lengthS = Math.max(0, Math.min(whole - trimS, sound.lengthS));
  if (lengthS <= 0) throw new CoreError('too-short', `Nothing of ${sound.name} would be heard.`, 'lengthS');
  const fadeInS = Math.min(sound.fadeInS, lengthS);
  const fadeOutS = Math.min(sound.fadeOutS, lengthS - fadeInS);
  const startFlicks = Math.max(0, sound.startFlicks);
  const own = { ...parts, trimS, lengthS, fadeInS, fadeOutS, startFlicks };
  return { name: `${what} on ${sound.name}`, operations: [patching(project, 'sound', soundId, own)] };
}

/** Divides a piece of sound at a time of its sequence, flicks. @throws CoreError `out-of-range` where it is not heard then. */
export function splitSound(project: Project, soundId: string, atFlicks: number, newId: string): Edit {
  const sound = existing(project, 'sound', soundId);
  const afterS = (atFlicks - sound.startFlicks) / FLICKS_PER_SECOND;
  if (afterS <= 0 || afterS >= sound.lengthS) throw new CoreError('out-of-range', `${sound.name} is not heard here.`);
  const { revision: _revision, ...own } = sound;
  const rest = { id: newId, startFlicks: atFlicks, trimS: sound.trimS + afterS, lengthS: sound.lengthS - afterS };
  return {
    name: `Split ${sound.name}`,
    operations: [
      patching(project, 'sound', soundId, {
        lengthS: afterS,
        fadeInS: Math.min(sound.fadeInS, afterS),
        fadeOutS: 0,
      }),
      creation('sound', { ...own, ...rest, fadeInS: 0, fadeOutS: Math.min(sound.fadeOutS, rest.lengthS) }),
    ],
  };
}

/** Takes a piece of sound out; its file goes with the last piece of it. */
export function deleteSound(project: Project, soundId: string): Edit {
  const { name, assetId } = existing(project, 'sound', soundId);
  const used = Object.values(project.sounds).some((one) => one.id !== soundId && one.assetId === assetId);
  const operations = [deletion(project, 'sound', soundId), ...(used ? [] : [deletion(project, 'asset', assetId)])];
  return { name: `Delete sound ${name}`, operations };
}
