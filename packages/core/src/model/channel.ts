import { KELVIN_RANGE, MOST_AMOUNT, MOST_COMPENSATION, MOST_TINT } from '../colour';
import { MOST_LIGHT_STOPS } from '../light';
import { FOCAL_LENGTH_RANGE_MM } from '../optics';
import { FLICKS_PER_SECOND } from '../time';
import { MAX_FLICKS, WORLD_EXTENT_M } from './fields';

/** Where a camera's rig stands. */
export const RIG_PLACE_CHANNELS = ['rigX', 'rigY', 'rigZ', 'rigTurn'] as const;

/** What says where a camera is, by its rig or without one. */
export const PLACE_CHANNELS = [
  ...(['along', 'swing', 'pitch', 'arm', 'orbit', 'radius', 'height', 'offsetX', 'offsetY', 'offsetZ'] as const),
  ...(['positionX', 'positionY', 'positionZ'] as const),
  ...RIG_PLACE_CHANNELS,
] as const;

/** Where a camera looks by itself. */
export const HEAD_CHANNELS = ['pan', 'tilt', 'roll'] as const;

/** What it is aimed at. */
export const AIM_CHANNELS = ['aimX', 'aimY', 'aimZ', 'aimAlong'] as const;

/** What of a look can change over time. */
export const LOOK_CHANNELS = ['compensation', 'kelvin', 'tint', 'saturation', 'glow'] as const;

export type LookChannel = (typeof LOOK_CHANNELS)[number];

/**
 * Everything of a camera that can change over time by name, in the order in which it is shown; light groups come on top
 * as {@link LightChannel}.
 */
export const CHANNELS = [
  ...PLACE_CHANNELS,
  ...HEAD_CHANNELS,
  ...AIM_CHANNELS,
  ...(['focalLength', 'focusDistance', 'fStop', 'ev', 'shiftX', 'shiftY', 'handheld'] as const),
  ...LOOK_CHANNELS,
  'timeWarp',
] as const;

export type NamedChannel = (typeof CHANNELS)[number];

/** A light group as one camera sees it: its stops, and how much of its tint it has, from 0 (white) to 1. */
export type LightChannel = `light:${string}` | `tint:${string}`;

export type Channel = NamedChannel | LightChannel;

export const LIGHT_CHANNEL = /^(light|tint):[0-9a-f-]{36}$/;

/** Values of some channels: metres, degrees, millimetres, f-stops, stops, seconds. */
export type ChannelValues = Readonly<Partial<Record<Channel, number>>>;

/** A value for every named channel. */
export type AllChannelValues = Readonly<Record<NamedChannel, number>>;

/** A channel as people read it. `step` is what an arrow key changes. */
export interface ChannelFace {
  readonly name: string;
  readonly unit: 'm' | '°' | 'mm' | 'ƒ' | 'EV' | 's' | '×' | 'stops' | 'K' | '';
  readonly step: number;
}

const metres = (name: string): ChannelFace => ({ name, unit: 'm', step: 0.1 });

const degrees = (name: string): ChannelFace => ({ name, unit: '°', step: 1 });

export const CHANNEL_FACES: Readonly<Record<NamedChannel, ChannelFace>> = {
  positionX: metres('east'),
  positionY: metres('height'),
  positionZ: metres('south'),
  pan: degrees('pan'),
  tilt: degrees('tilt'),
  roll: degrees('roll'),
  rigX: metres('rig east'),
  rigY: metres('rig height'),
  rigZ: metres('rig south'),
  rigTurn: degrees('rig turn'),
  along: metres('along rail'),
  swing: degrees('swing'),
  pitch: degrees('arm pitch'),
  arm: metres('arm'),
  orbit: degrees('orbit'),
  radius: metres('radius'),
  height: metres('height over centre'),
  offsetX: metres('offset right'),
  offsetY: metres('offset up'),
  offsetZ: metres('offset back'),
  aimX: metres('aim east'),
  aimY: metres('aim height'),
  aimZ: metres('aim south'),
  aimAlong: metres('along aim path'),
  handheld: { name: 'handheld', unit: '×', step: 0.1 },
  focalLength: { name: 'focal length', unit: 'mm', step: 1 },
  shiftX: { name: 'shift right', unit: 'mm', step: 0.5 },
  shiftY: { name: 'shift up', unit: 'mm', step: 0.5 },
  focusDistance: metres('focus'),
  fStop: { name: 'f-stop', unit: 'ƒ', step: 0.5 },
  ev: { name: 'EV', unit: 'EV', step: 0.333 },
  compensation: { name: 'compensation', unit: 'stops', step: 0.333 },
  kelvin: { name: 'white balance', unit: 'K', step: 100 },
  tint: { name: 'tint', unit: '', step: 1 },
  saturation: { name: 'saturation', unit: '×', step: 0.05 },
  glow: { name: 'glow', unit: '×', step: 0.05 },
  timeWarp: { name: 'time of the move', unit: 's', step: 0.1 },
};

/** A channel as people read it; light groups by their name. */
export function channelFace(
  channel: Channel,
  groups: Readonly<Record<string, { readonly name: string }>>,
): ChannelFace {
  if (!isLightChannel(channel)) return CHANNEL_FACES[channel];
  const name = groups[lightGroupOf(channel)]?.name ?? 'gone';
  if (isTintChannel(channel)) return { name: `tint: ${name}`, unit: '×', step: 0.05 };
  return { name: `light: ${name}`, unit: 'stops', step: 0.333 };
}

/** Least and greatest value that a channel can have, in its unit. */
export interface ChannelBounds {
  readonly min: number;
  readonly max: number;
}

const about = (max: number): ChannelBounds => ({ min: -max, max });

const EXTENT = about(WORLD_EXTENT_M);

const TURNS = about(36_000_000);

/** What the mathematics, a lens or a rig can take: keys are held to it, and a curve that swings beyond is read at its end. */
const CHANNEL_BOUNDS: Readonly<Partial<Record<NamedChannel, ChannelBounds>>> = {
  pan: TURNS,
  roll: TURNS,
  orbit: TURNS,
  swing: TURNS,
  rigTurn: TURNS,
  tilt: about(3600),
  pitch: about(89),
  arm: { min: 0.1, max: 60 },
  radius: { min: 0.01, max: 10_000 },
  focalLength: FOCAL_LENGTH_RANGE_MM,
  focusDistance: { min: 0.01, max: WORLD_EXTENT_M },
  fStop: { min: 0.5, max: 256 },
  ev: about(40),
  shiftX: about(100),
  shiftY: about(100),
  handheld: { min: 0, max: 10 },
  compensation: about(MOST_COMPENSATION),
  kelvin: KELVIN_RANGE,
  tint: about(MOST_TINT),
  saturation: { min: 0, max: 10 },
  glow: { min: 0, max: MOST_AMOUNT },
  timeWarp: about(MAX_FLICKS / FLICKS_PER_SECOND),
};

/** Stops of a light group, as its level has them. */
const LIGHT_BOUNDS = about(MOST_LIGHT_STOPS);

/** From no tint to a light group's own. */
const TINT_BOUNDS: ChannelBounds = { min: 0, max: 1 };

/** Least and greatest value of a channel; places go to the end of the world. */
export function boundsOf(channel: Channel): ChannelBounds {
  if (!isLightChannel(channel)) return CHANNEL_BOUNDS[channel] ?? EXTENT;
  return isTintChannel(channel) ? TINT_BOUNDS : LIGHT_BOUNDS;
}

export function isLookChannel(channel: string): channel is LookChannel {
  return (LOOK_CHANNELS as readonly string[]).includes(channel);
}

export function isLightChannel(channel: string): channel is LightChannel {
  return channel.startsWith('light:') || isTintChannel(channel);
}

/** Whether a channel is how much of its tint a light group has. */
export function isTintChannel(channel: string): channel is `tint:${string}` {
  return channel.startsWith('tint:');
}

/** The channels of a light group. */
export function lightChannels(groupId: string): { readonly stops: LightChannel; readonly tint: LightChannel } {
  return { stops: `light:${groupId}`, tint: `tint:${groupId}` };
}

export function lightGroupOf(channel: LightChannel): string {
  return channel.slice(channel.indexOf(':') + 1);
}

/** Channels whose value is an angle that may be written with whole turns more or less. */
export const TURNING: ReadonlySet<Channel> = new Set<Channel>(['pan', 'roll', 'swing', 'orbit', 'rigTurn']);
