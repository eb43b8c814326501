import type { AfterLast, CurveReader } from '../curve';
import { readerOf } from '../curve';
import type { AllChannelValues, Camera, Channel, ChannelValues, LightChannel, Move } from '../model';
import { boundsOf, isLightChannel } from '../model';
import { flicksFromSeconds } from '../time';
import { restingValues } from './resting';

/** Values of the named channels and of light channels; `lights` lists the latter, where there are any. */
export type CameraValues = AllChannelValues &
  Readonly<Partial<Record<LightChannel, number>>> & { readonly lights?: KeyedLights };

type KeyedLights = readonly (readonly [LightChannel, number])[];

/** Value of every channel of a camera at a time: the trial's, else the move's, else the camera's own. */
export function channelValuesAt(
  camera: Camera,
  move: Move | undefined,
  atFlicks: number,
  trial?: ChannelValues,
): CameraValues {
  const values: Partial<Record<Channel, number>> & { lights?: KeyedLights } = restingValues(camera);
  if (move) {
    const { timeWarp, tracks } = tracksOf(move);
    const clock = trial?.timeWarp ?? timeWarp?.at(atFlicks);
    const flicks = clock === undefined ? atFlicks : flicksFromSeconds(clock);
    for (const { channel, reader, after, light, min, max } of tracks) {
      const read = reader.onward(after, flicks);
      if (read === undefined) continue;
      // A free handle may swing beyond what a lens has.
      const value = read < min ? min : read > max ? max : read;
      if (light) set(values, channel, value);
      else values[channel] = value;
    }
    if (clock !== undefined) values.timeWarp = clock;
  }
  if (trial) {
    for (const channel in trial) {
      const value = trial[channel as Channel];
      if (value !== undefined) set(values, channel as Channel, value);
    }
  }
  return values as CameraValues;
}

function set(
  values: Partial<Record<Channel, number>> & { lights?: KeyedLights },
  channel: Channel,
  value: number,
): void {
  values[channel] = value;
  if (isLightChannel(channel)) {
    values.lights = [...(values.lights ?? []).filter(([one]) => one !== channel), [channel, value]];
  }
}

interface MoveTracks {
  readonly timeWarp: CurveReader | undefined;
  readonly tracks: readonly {
    readonly channel: Channel;
    readonly reader: CurveReader;
    readonly after: AfterLast;
    readonly light: boolean;
    readonly min: number;
    readonly max: number;
  }[];
}

const knownTracks = new WeakMap<Move, MoveTracks>();

/** The curves of a move as they are read for every frame, sorted out once. */
function tracksOf(move: Move): MoveTracks {
  let found = knownTracks.get(move);
  if (!found) {
    const { timeWarp, ...curves } = move.curves;
    const tracks = Object.entries(curves).map(([name, curve]) => {
      const channel = name as Channel;
      const after = move.after[name] ?? 'stay';
      return { channel, reader: readerOf(curve), after, light: isLightChannel(channel), ...boundsOf(channel) };
    });
    found = { timeWarp: timeWarp && readerOf(timeWarp), tracks };
    knownTracks.set(move, found);
  }
  return found;
}
