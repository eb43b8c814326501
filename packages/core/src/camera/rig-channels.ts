import type { Camera, NamedChannel, RigKind } from '../model';

const RIG_CHANNELS: Readonly<Record<RigKind, readonly NamedChannel[]>> = {
  sticks: ['positionX', 'positionY', 'positionZ'],
  rail: ['along'],
  crane: ['swing', 'pitch', 'arm'],
  orbit: ['orbit', 'radius', 'height'],
  follow: ['offsetX', 'offsetY', 'offsetZ'],
};

/** The numbers of a camera's rig that bring it to a place. */
export function rigChannels({ rig }: Pick<Camera, 'rig'>): readonly NamedChannel[] {
  return RIG_CHANNELS[rig.kind];
}

/** Channels that a mark of a camera keeps: the composed pose, by its rig's numbers, and the lens as it was set. */
export function markChannels(camera: Pick<Camera, 'rig' | 'aim'>): readonly NamedChannel[] {
  const aim: readonly NamedChannel[] = camera.aim.kind === 'path' ? ['aimAlong'] : [];
  return [...rigChannels(camera), 'pan', 'tilt', 'roll', ...aim, 'focalLength', 'focusDistance'];
}
