import type { CameraValues } from '../../camera';
import { channelValuesAt, restingParts } from '../../camera';
import type { Curve } from '../../curve';
import type { Camera, Channel, NamedChannel, Project } from '../../model';
import { AIM_CHANNELS, existing, HEAD_CHANNELS, moveOf, PLACE_CHANNELS } from '../../model';
import type { Edit } from '../edit';
import { patching } from '../edit';
import type { Curves } from './curves';
import { moveOperations } from './curves';
import { moveSpan } from './retime';

/** How a copied move is laid: at the same places of the world, or begun from where the other camera stands. */
export type CopyHow = 'world' | 'relative';

const HEADING: ReadonlySet<string> = new Set(HEAD_CHANNELS);

/** Channels of a move in the groups that people copy. */
export const COPY_GROUPS = {
  place: PLACE_CHANNELS,
  head: [...HEAD_CHANNELS, ...AIM_CHANNELS],
  lens: ['focalLength', 'shiftX', 'shiftY'],
  focus: ['focusDistance', 'fStop'],
  exposure: ['ev'],
} as const satisfies Record<string, readonly Channel[]>;

export type CopyGroup = keyof typeof COPY_GROUPS;

/**
 * Copies a move, or groups of its channels, to other cameras; with its place go the rig and, with its head, the aim. Relative
 * to where the other camera stands, the whole move is carried over and turned so that it begins there.
 */
export function copyMove(
  project: Project,
  fromId: string,
  to: readonly string[],
  groups: readonly CopyGroup[],
  how: CopyHow,
): Edit {
  const from = existing(project, 'camera', fromId);
  const [first] = moveSpan(project, fromId);
  const source = existing(project, 'move', moveOf(project, fromId)?.id ?? fromId);
  const channels = new Set<string>(groups.flatMap((group): readonly string[] => COPY_GROUPS[group]));
  const operations = to.flatMap((cameraId) => {
    const camera = existing(project, 'camera', cameraId);
    const start = channelValuesAt(from, source, first);
    const here = channelValuesAt(camera, moveOf(project, cameraId), first);
    const carry = how === 'relative' ? carrying(start, here, groups) : (_: string, curve: Curve) => curve;
    const copied = Object.entries(source.curves).filter(([channel]) => channels.has(channel));
    const whole = Object.fromEntries(copied) as Curves;
    const curves: Record<string, Curve> = { ...moveOf(project, cameraId)?.curves };
    for (const [channel] of copied) curves[channel] = carry(channel, whole[channel] ?? [], whole);
    const parts: Partial<Camera> = {
      ...(groups.includes('place') && from.rig.kind !== 'sticks' && { rig: from.rig }),
      ...(groups.includes('head') && from.aim.kind !== 'free' && { aim: from.aim }),
      ...restingParts(camera, {}),
    };
    return [
      ...(Object.keys(parts).length > 0 ? [patching(project, 'camera', cameraId, parts)] : []),
      ...moveOperations(project, cameraId, {
        curves,
        after: { ...moveOf(project, cameraId)?.after, ...source.after },
      }),
    ];
  });
  return {
    name: `Copy the move of ${from.name} to ${to.length} ${to.length === 1 ? 'camera' : 'cameras'}`,
    operations,
  };
}

/** Carries curves of a place over to another start, turned with the difference of the pans. */
function carrying(start: CameraValues, here: CameraValues, groups: readonly CopyGroup[]) {
  const turnDeg = groups.includes('head') ? here.pan - start.pan : 0;
  const angle = (turnDeg * Math.PI) / 180;
  const [cos, sin] = [Math.cos(angle), Math.sin(angle)];
  return (channel: string, curve: Curve, whole: Curves): Curve => {
    const offset = here[channel as NamedChannel] - start[channel as NamedChannel];
    const flat = channel === 'positionX' || channel === 'positionZ';
    if (!flat) {
      if (channel === 'positionY' || HEADING.has(channel)) return raised(curve, offset);
      return curve;
    }
    const other = whole[channel === 'positionX' ? 'positionZ' : 'positionX'] ?? [];
    const partner = new Map(other.map((key) => [key.atFlicks, key]));
    const otherStart = channel === 'positionX' ? start.positionZ : start.positionX;
    const sign = channel === 'positionX' ? -1 : 1;
    return curve.map((key) => {
      const mate = partner.get(key.atFlicks);
      const mix = (own: number, others: number) => own * cos + sign * others * sin;
      const handle = (side: 'in' | 'out') =>
        key[side] && { flicks: key[side].flicks, value: mix(key[side].value, mate?.[side]?.value ?? 0) };
      const [into, out] = [handle('in'), handle('out')];
      const own = key.value - start[channel];
      const value = here[channel] + mix(own, (mate?.value ?? otherStart) - otherStart);
      return { ...key, value, ...(into && { in: into }), ...(out && { out }) };
    });
  };
}

function raised(curve: Curve, by: number): Curve {
  return curve.map((key) => ({ ...key, value: key.value + by }));
}
