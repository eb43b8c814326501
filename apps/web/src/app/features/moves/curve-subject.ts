import type {
  AfterLast,
  Camera,
  Channel,
  Curve,
  Edit,
  Move,
  NamedChannel,
  Placement,
  PlacementChannel,
  Project,
  Rig,
} from '@arvex/core';
import {
  CoreError,
  isPlacementChannel,
  keyHere,
  keyPlacementChannel,
  lightChannels,
  LOOK_CHANNELS,
  markChannels,
  marksWithKeys,
  PLACEMENT_CHANNELS,
  RIG_KINDS,
  rigChannels,
  setAfter,
  setCurves,
  setPlacementAfter,
  setPlacementCurves,
} from '@arvex/core';

type EditAt = (project: Project, atFlicks: number) => Edit;

/** Whose curves graph and time table show and edit: a camera with its move, or a thing of the set. */
export interface CurveSubject {
  /** By channel, in the channel's unit. */
  readonly curves: Readonly<Record<string, Curve | undefined>>;
  readonly after: Readonly<Record<string, AfterLast | undefined>>;
  /** What can have keys, in the order in which it is offered. */
  readonly channels: readonly Channel[];
  /** Whether a channel does anything to it. */
  works(channel: Channel): boolean;
  /** Said of channels that do nothing to it. */
  readonly without: string;
  /** @param movedTo the new times of keys that were moved: the marks that own them go along. */
  withCurves(what: string, curves: Readonly<Record<string, Curve>>, movedTo?: MovedTo): EditAt;
  /** Keys a channel as it is at that time. */
  keyed(channel: Channel): EditAt;
  withAfter(channel: Channel, after: AfterLast): EditAt;
}

export type MovedTo = (channel: string, atFlicks: number) => number;

/** The curves of a camera's move. @param lightGroupIds groups of the project's lights, whose levels have keys in a move. */
export function cameraCurves(camera: Camera, move: Move | undefined, lightGroupIds: readonly string[]): CurveSubject {
  const { id, rig, aim } = camera;
  const ofRigs = RIG_KINDS.flatMap((kind) => rigChannels({ rig: { kind } as Rig }));
  const own: readonly NamedChannel[] = [
    ...markChannels(camera),
    ...(rig.kind === 'sticks' ? [] : (['rigX', 'rigY', 'rigZ', 'rigTurn'] as const)),
    ...(aim.kind === 'point' ? (['aimX', 'aimY', 'aimZ'] as const) : []),
    ...(['fStop', 'ev', 'shiftX', 'shiftY', 'handheld', ...LOOK_CHANNELS, 'timeWarp'] as const),
  ];
  return {
    curves: move?.curves ?? {},
    after: move?.after ?? {},
    channels: [...own, ...lightGroupIds.flatMap((group): Channel[] => Object.values(lightChannels(group)))],
    works: (channel) =>
      !ofRigs.includes(channel as NamedChannel) || rigChannels(camera).includes(channel as NamedChannel),
    without: `On its ${rig.kind} this camera has none of these.`,
    withCurves: (what, curves, movedTo) => (project, at) =>
      setCurves(project, id, what, curves, at, move && movedTo && marksWithKeys(move, movedTo)),
    keyed: (channel) => (project, at) => keyHere(project, id, channel, at),
    withAfter: (channel, after) => (project) => setAfter(project, id, channel, after),
  };
}

/** @throws CoreError `out-of-range` where a thing of the set has no such channel. */
function ofThings(channel: Channel): PlacementChannel {
  if (isPlacementChannel(channel)) return channel;
  throw new CoreError('out-of-range', `A thing of the set has no channel ${channel}.`, channel);
}

/** The curves of a thing of the set; none while it stands. */
export function thingCurves({ id, motion }: Placement): CurveSubject {
  return {
    curves: motion.kind === 'keys' ? motion.curves : {},
    after: motion.kind === 'keys' ? (motion.after ?? {}) : {},
    channels: PLACEMENT_CHANNELS,
    works: isPlacementChannel,
    without: 'A thing of the set has none of these.',
    withCurves: (what, curves) => (project, at) => setPlacementCurves(project, id, what, curves, at),
    keyed: (channel) => (project, at) => keyPlacementChannel(project, id, ofThings(channel), at),
    withAfter: (channel, after) => (project) => setPlacementAfter(project, id, ofThings(channel), after),
  };
}
