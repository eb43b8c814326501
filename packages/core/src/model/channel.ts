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

/**
 * Everything of a camera that can change over time by name, in the order in which it is shown; light groups come on top
 * as {@link LightChannel}.
 */
export const CHANNELS = [
  ...PLACE_CHANNELS,
  ...HEAD_CHANNELS,
  ...AIM_CHANNELS,
  ...(['focalLength', 'focusDistance', 'fStop', 'ev', 'shiftX', 'shiftY', 'handheld', 'timeWarp'] as const),
] as const;

export type NamedChannel = (typeof CHANNELS)[number];

/** Stops of a light group for one camera. */
export type LightChannel = `light:${string}`;

export type Channel = NamedChannel | LightChannel;

export const LIGHT_CHANNEL = /^light:[0-9a-f-]{36}$/;

/** Values of some channels: metres, degrees, millimetres, f-stops, stops, seconds. */
export type ChannelValues = Readonly<Partial<Record<Channel, number>>>;

/** A value for every named channel. */
export type AllChannelValues = Readonly<Record<NamedChannel, number>>;

/** A channel as people read it. `step` is what an arrow key changes. */
export interface ChannelFace {
  readonly name: string;
  readonly unit: 'm' | '°' | 'mm' | 'ƒ' | 'EV' | 's' | '×' | 'stops';
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
  timeWarp: { name: 'time of the move', unit: 's', step: 0.1 },
};

/** A channel as people read it; light groups by their name. */
export function channelFace(
  channel: Channel,
  groups: Readonly<Record<string, { readonly name: string }>>,
): ChannelFace {
  if (!isLightChannel(channel)) return CHANNEL_FACES[channel];
  return { name: `light: ${groups[lightGroupOf(channel)]?.name ?? 'gone'}`, unit: 'stops', step: 0.333 };
}

export function isLightChannel(channel: string): channel is LightChannel {
  return channel.startsWith('light:');
}

export function lightGroupOf(channel: LightChannel): string {
  return channel.slice('light:'.length);
}

/** Channels whose value is an angle that may be written with whole turns more or less. */
export const TURNING: ReadonlySet<Channel> = new Set<Channel>(['pan', 'roll', 'swing', 'orbit', 'rigTurn']);
