import type { Easing } from '../../curve';
import type { Vector } from '../../space';

/** Moves that can be asked for by name, with what their amount says. */
export const NAMED_MOVES = {
  'push-in': { name: 'Push in', unit: 'm', amount: 1.5, does: 'toward what the camera looks at' },
  'pull-out': { name: 'Pull out', unit: 'm', amount: 1.5, does: 'away from what the camera looks at' },
  truck: { name: 'Truck', unit: 'm', amount: 2, does: 'to the right; negative to the left' },
  pedestal: { name: 'Pedestal', unit: 'm', amount: 0.6, does: 'straight up; negative down' },
  boom: { name: 'Boom', unit: 'm', amount: 2, does: 'up with the head turning to keep the subject; negative down' },
  pan: { name: 'Pan', unit: '°', amount: 30, does: 'to the right; negative to the left' },
  tilt: { name: 'Tilt', unit: '°', amount: 10, does: 'up; negative down' },
  roll: { name: 'Roll', unit: '°', amount: 5, does: 'clockwise; negative the other way' },
  zoom: { name: 'Zoom', unit: 'mm', amount: 75, does: 'to this focal length' },
  'dolly-zoom': { name: 'Dolly zoom', unit: 'mm', amount: 70, does: 'to this focal length, the subject’s size held' },
  arc: { name: 'Arc', unit: '°', amount: 45, does: 'round the subject, clockwise from above; negative the other way' },
} as const;

export type NamedMove = keyof typeof NAMED_MOVES;

/** A move that is asked for. */
export interface MoveOrder extends Easing {
  readonly move: NamedMove;
  readonly amount: number;
  readonly seconds: number;
  /** Whose size is held, or who is in the middle; where nobody is named, the point that is in focus. */
  readonly subjectId: string | null;
  /** The middle of an arc where nobody is in it; the point in focus where it is left out. */
  readonly pointM?: Vector;
  /** Whether an arc turns the head to its middle; it stays where it is in the picture where this is left out. */
  readonly centred?: boolean;
  /** Whether a zoom goes evenly in image scale, as it looks, rather than in millimetres; in millimetres where it is left out. */
  readonly inScale?: boolean;
}
