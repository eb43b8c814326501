import type { CameraState, DisplayUnit, FilmBack, Rate } from '@arvex/core';
import { filmBackName, lengthText, rateLabel, sceneEv } from '@arvex/core';

/** `35 mm`, `52.5 mm`: one decimal where there is one. */
export function focalLengthText(mm: number): string {
  return `${Number(mm.toFixed(1))} mm`;
}

/** `f/2.8` with the sign for focal ratio. */
export function stopText(fStop: number): string {
  return `ƒ${Number(fStop.toFixed(1))}`;
}

/** `1/48 s`, or seconds where it is longer than half a second. */
export function shutterText(seconds: number): string {
  return seconds > 0.5 ? `${seconds.toFixed(1)} s` : `1/${Number((1 / seconds).toFixed(1))} s`;
}

/** `EV 14.6`: of the scene that is exposed for, at ISO 100 with neutral density counted in. The one EV that is shown anywhere. */
export function evText(exposure: Pick<CameraState['exposure'], 'ev100' | 'ndStops'>): string {
  return `EV ${sceneEv(exposure).toFixed(1)}`;
}

/** `ND 3`: stops of neutral density; nothing where there is none. */
export function ndText({ ndStops }: Pick<CameraState['exposure'], 'ndStops'>): string {
  return ndStops === 0 ? '' : `ND ${Number(ndStops.toFixed(1))}`;
}

/** Signed degrees: `+1.2°`. */
export function signedDegrees(degrees: number): string {
  const text = degrees.toFixed(1);
  return `${Number(text) > 0 ? '+' : ''}${Number(text) === 0 ? '0.0' : text}°`;
}

/** A short name of the film back for the chip. */
function shortBack(back: FilmBack): string {
  return filmBackName(back).replace('Super 35', 'S35').replace('three-perf', '3-perf').replace('four-perf', '4-perf');
}

/** Everything about a camera in one line: lens, back, stop, shutter, EV. */
export function cameraLine({ lens, filmBack, focus, exposure }: CameraState): string {
  const shutter = shutterText(exposure.shutterSeconds).replace(' s', '');
  const sight =
    lens.parallelWidthM === null ? focalLengthText(lens.focalLengthMm) : `parallel, ${lens.parallelWidthM} m`;
  const parts = [sight, shortBack(filmBack), stopText(focus.fStop), shutter];
  return [...parts, evText(exposure), ndText(exposure)].filter(Boolean).join(' · ');
}

/** Near to far limit: `5.01 m to 8.85 m`. */
export function sharpText({ nearM, farM }: CameraState['focus'], unit: DisplayUnit): string {
  return `${lengthText(nearM, unit)} to ${lengthText(farM, unit)}`;
}

export function rateText(rate: Rate): string {
  return `${rateLabel(rate)}/s`;
}

/** Seconds as `48 s`, `3 min 20 s`. */
export function durationText(seconds: number): string {
  const whole = Math.max(0, Math.round(seconds));
  const minutes = Math.floor(whole / 60);
  return minutes > 0 ? `${minutes} min ${whole % 60} s` : `${whole} s`;
}

/** Bytes as people say them: `3.4 GB`, `812 MB`, `64 kB`. */
export function bytesText(bytes: number): string {
  if (bytes < 1e6) return `${Math.round(bytes / 1e3)} kB`;
  return bytes < 1e9 ? `${Math.round(bytes / 1e6)} MB` : `${(bytes / 1e9).toFixed(1)} GB`;
}
