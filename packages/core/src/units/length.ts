/** Units in which a project shows lengths. */
export const DISPLAY_UNITS = ['m', 'cm', 'mm', 'ft', 'in'] as const;

export type DisplayUnit = (typeof DISPLAY_UNITS)[number];

const DECIMALS: Readonly<Record<DisplayUnit, number>> = { m: 2, cm: 1, mm: 0, ft: 2, in: 1 };

/** What each of them is in metres: the international foot (1959), exactly 0.3048 m. */
export const METRES_PER_UNIT: Readonly<Record<DisplayUnit, number>> = {
  m: 1,
  cm: 0.01,
  mm: 0.001,
  ft: 0.3048,
  in: 0.0254,
};

/** What stands where there is no number. */
const NOTHING = '–';

/** A length in metres as the number shown in `unit`, without the unit's name. Feet come with inches: 1.75 is `5' 8.9"`. */
export function lengthNumber(metres: number, unit: DisplayUnit): string {
  if (!Number.isFinite(metres)) return endless(metres);
  if (unit === 'ft') return feetAndInches(metres);
  const text = (metres / METRES_PER_UNIT[unit]).toFixed(DECIMALS[unit]);
  return Number(text) === 0 ? text.replace('-', '') : text;
}

/** A length in metres with its unit: `1.82 m`, `5' 11.7"`; an infinite one is `∞`. */
export function lengthText(metres: number, unit: DisplayUnit): string {
  if (!Number.isFinite(metres)) return endless(metres);
  return unit === 'ft' ? feetAndInches(metres) : `${lengthNumber(metres, unit)} ${unit}`;
}

const endless = (metres: number) => (Number.isNaN(metres) ? NOTHING : metres < 0 ? '-∞' : '∞');

function feetAndInches(metres: number): string {
  const tenths = Math.round(Math.abs(metres) / (METRES_PER_UNIT.in / 10));
  const [feet, inches] = [Math.floor(tenths / 120), (tenths % 120) / 10];
  return `${metres < 0 && tenths > 0 ? '-' : ''}${feet}' ${inches.toFixed(1)}"`;
}
