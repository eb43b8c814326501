import { CoreError } from '../error';
import type { Rate } from './rate';

/** Nominal frames counted in one second of timecode: 24 for 24000/1001, 30 for 30000/1001. */
function nominalRate(rate: Rate): number {
  return Math.round(rate.frames / rate.seconds);
}

/** Labels dropped each minute but every tenth (SMPTE ST 12-1): 2 at 30000/1001, 4 at 60000/1001, else none. */
function droppedPerMinute(rate: Rate): number {
  const nominal = nominalRate(rate);
  return rate.seconds === 1001 && nominal % 30 === 0 ? nominal / 15 : 0;
}

/**
 * SMPTE ST 12-1 timecode of a frame counted from 0. Drop-frame (with `;`) where the rate asks for it,
 * so that 30000/1001 frame 17982 is `00:10:00;00`. Negative frames carry a leading minus. Hours go on after 24, so that
 * every label reads back. Dashes stand for a frame that is no number.
 */
export function timecodeAtFrame(frame: number, rate: Rate): string {
  if (!Number.isFinite(frame)) return '--:--:--:--';
  const nominal = nominalRate(rate);
  const dropped = droppedPerMinute(rate);
  let label = Math.abs(Math.trunc(frame));
  if (dropped > 0) {
    const perMinute = nominal * 60 - dropped;
    const perTenMinutes = perMinute * 10 + dropped;
    const tens = Math.floor(label / perTenMinutes);
    const rest = label % perTenMinutes;
    const minutes = rest < nominal * 60 ? 0 : Math.floor((rest - nominal * 60) / perMinute) + 1;
    label += dropped * (9 * tens + minutes);
  }
  const two = (n: number) => String(n).padStart(2, '0');
  const seconds = Math.floor(label / nominal);
  const text = `${two(Math.floor(seconds / 3600))}:${two(Math.floor(seconds / 60) % 60)}:${two(seconds % 60)}`;
  return `${frame < 0 ? '-' : ''}${text}${dropped > 0 ? ';' : ':'}${two(label % nominal)}`;
}

/** `hh:mm:ss:ff` or `hh:mm:ss;ff`, two digits or more for hours, exactly two elsewhere; perhaps with a minus before it. */
const TIMECODE = /^(\d{2,}):([0-5]\d):([0-5]\d)[:;](\d{2})$/;

/**
 * Frame (counted from 0) that carries this timecode label.
 * @throws CoreError `timecode-form` when it is not timecode, `timecode-dropped` when drop-frame skips the label.
 */
export function frameAtTimecode(text: string, rate: Rate): number {
  const negative = /^[-−]/.test(text.trim());
  const parts = TIMECODE.exec(text.trim().replace(/^[-−]/, ''));
  const nominal = nominalRate(rate);
  if (!parts || Number(parts[4]) >= nominal) {
    throw new CoreError(
      'timecode-form',
      `"${text}" is not timecode at ${nominal}/s. Write hours:minutes:seconds:frames.`,
    );
  }
  const [hours, minutes, seconds, frames] = parts.slice(1).map(Number) as [number, number, number, number];
  const dropped = droppedPerMinute(rate);
  const allMinutes = hours * 60 + minutes;
  if (dropped > 0 && minutes % 10 !== 0 && seconds === 0 && frames < dropped) {
    throw new CoreError(
      'timecode-dropped',
      `"${text}" is a label that drop-frame timecode skips. Use frame ${dropped}.`,
    );
  }
  const frame = (allMinutes * 60 + seconds) * nominal + frames - dropped * (allMinutes - Math.floor(allMinutes / 10));
  return negative && frame > 0 ? -frame : frame;
}

/**
 * The same within a day, as recorders count: after 23:59:59 comes 00:00:00, and before it 23:59:59, so that no timecode is negative.
 */
export function timecodeOfDay(frame: number, rate: Rate): string {
  if (!Number.isFinite(frame)) return timecodeAtFrame(frame, rate);
  const day = frameAtTimecode('24:00:00:00', rate);
  return timecodeAtFrame(((Math.trunc(frame) % day) + day) % day, rate);
}
