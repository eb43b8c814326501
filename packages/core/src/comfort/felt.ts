/** What an audience bears; all can be set. */
export interface ComfortLimits {
  /** At 24 a second with a 180° shutter, something that crosses the frame in less than this strobes, seconds. */
  readonly crossingS: number;
  /** A start or stop harder than this is felt as a jolt: m/s², and °/s². */
  readonly joltMps2: number;
  readonly joltDps2: number;
}

export const COMFORT_LIMITS: ComfortLimits = { crossingS: 7, joltMps2: 3, joltDps2: 60 };

/** One frame of a move as an audience feels it. */
export interface ComfortFrame {
  /** m/s. */
  readonly speed: number;
  /** °/s. */
  readonly turnRate: number;
  /** Fastest of centre and corners at the focus distance, frame widths a second. */
  readonly flow: number;
}

/** Something in a move that an audience may mind, over frames counted from the first. */
export interface ComfortEvent {
  readonly kind: 'strobe' | 'sudden-start' | 'sudden-stop' | 'reversal';
  readonly fromFrame: number;
  readonly toFrame: number;
  /** Frame widths a second for strobing; m/s² or °/s² for a jolt. */
  readonly worst: number;
  readonly unit: 'widths/s' | 'm/s²' | '°/s²';
  readonly limit: number;
}

/** Whether a picture flow strobes; what lies at the limit, but for a rounding, does not. */
export function isStrobing(flow: number, flowLimit: number): boolean {
  return flow > flowLimit * 1.0001;
}
