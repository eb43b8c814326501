import type { LookSettings } from '@arvex/core';
import { LOOK_DEFAULTS } from '@arvex/core';

/** A look in one line: its name, and what it does most. */
export function lookSummary(name: string | undefined, look: LookSettings): string {
  if (name === undefined) return 'as it is';
  const { compensationStops, white, tone, cdl, response } = look;
  const signed = (value: number, digits: number) => `${value > 0 ? '+' : '−'}${Math.abs(value).toFixed(digits)}`;
  return [
    name,
    ...(compensationStops === 0 ? [] : [signed(compensationStops, 1)]),
    ...(white.kelvin === LOOK_DEFAULTS.white.kelvin ? [] : [`${white.kelvin.toFixed(0)} K`]),
    ...(tone.contrast === 1 ? [] : [`contrast ${tone.contrast.toFixed(2)}`]),
    ...(cdl.saturation === 1 ? [] : [`saturation ${cdl.saturation.toFixed(2)}`]),
    ...(response.name === LOOK_DEFAULTS.response.name ? [] : [response.name]),
  ].join(' · ');
}
