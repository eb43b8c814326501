import jsep from 'jsep';
import { CoreError } from '../error';
import { METRES_PER_UNIT } from './length';

/** Sizes of the units a field accepts, in that field's own unit: `{ m: 1, cm: 0.01 }`. */
export type UnitSizes = Readonly<Record<string, number>>;

/** Units of length in metres. `"` and `'` are inch and foot. */
export const LENGTH_IN_METRES: UnitSizes = {
  ...METRES_PER_UNIT,
  km: 1000,
  "'": METRES_PER_UNIT.ft,
  '"': METRES_PER_UNIT.in,
};

/** Units of length in millimetres, for lenses and film backs. */
export const LENGTH_IN_MILLIMETRES: UnitSizes = { mm: 1, cm: 10, in: 25.4, '"': 25.4 };

/** Units of angle in degrees. */
export const ANGLE_IN_DEGREES: UnitSizes = { '°': 1, deg: 1, rad: 180 / Math.PI };

/** A number, then perhaps a unit: the unit is letters, a degree sign or a prime. */
const NUMBER_WITH_UNIT = /(\d+(?:\.\d+)?|\.\d+)\s*([a-z°'"]+)?/gi;

/**
 * Reads what a person types into a number field: a number, a unit that wins over the field's own, and arithmetic.
 * `35+5`, `1/2`, `12ft 6in` (3.81 in a metre field), `2*(1.5m - 20cm)`. A result with no unit has `defaultUnit`.
 * @throws CoreError `expression` naming what could not be read.
 */
export function readNumber(text: string, units: UnitSizes = {}, defaultUnit?: string): number {
  const defaultSize = defaultUnit === undefined ? 1 : (units[defaultUnit] ?? 1);
  const arithmetic = markMeasures(text.trim(), units);
  if (arithmetic === '') throw new CoreError('expression', 'Type a number.');
  const result = evaluate(parse(arithmetic, text), { typed: text, defaultSize });
  const value = result.measured ? result.value : result.value * defaultSize;
  if (!Number.isFinite(value)) throw new CoreError('expression', `"${text}" has no finite value.`);
  return value;
}

/** Rewrites `12ft 6in` as `measure(12*0.3048)+measure(6*0.0254)`, so that the parser meets plain arithmetic only. */
function markMeasures(text: string, units: UnitSizes): string {
  let endOfMeasure = -1;
  return text
    .replace(/(\d),(\d)/g, '$1.$2')
    .replace(/−/g, '-')
    .replace(NUMBER_WITH_UNIT, (whole, digits: string, unit: string | undefined, at: number, all: string) => {
      if (unit === undefined) return digits;
      const size = units[unit.toLowerCase()];
      if (size === undefined) throw new CoreError('expression', `"${unit}" is not a unit here.${unitHint(units)}`);
      const follows = endOfMeasure >= 0 && all.slice(endOfMeasure, at).trim() === '';
      endOfMeasure = at + whole.length;
      return `${follows ? '+' : ''}measure(${digits}*${size})`;
    });
}

function unitHint(units: UnitSizes): string {
  const names = Object.keys(units);
  return names.length > 0 ? ` Use ${names.join(', ')}.` : '';
}

function parse(arithmetic: string, typed: string): jsep.Expression {
  try {
    return jsep(arithmetic);
  } catch (cause) {
    throw new CoreError('expression', `"${typed}" cannot be read as a number: ${(cause as Error).message}.`);
  }
}

interface Measure {
  readonly value: number;
  /** Whether a unit was given; if not, the number takes the unit of what it is added to. */
  readonly measured: boolean;
}

interface Reading {
  readonly typed: string;
  readonly defaultSize: number;
}

function evaluate(node: jsep.Expression, reading: Reading): Measure {
  if (node.type === 'Literal' && typeof node['value'] === 'number') return { value: node['value'], measured: false };
  if (node.type === 'CallExpression' && (node['callee'] as jsep.Expression)['name'] === 'measure') {
    const [inside] = node['arguments'] as jsep.Expression[];
    if (inside) return { value: evaluate(inside, reading).value, measured: true };
  }
  if (node.type === 'UnaryExpression') {
    const { value, measured } = evaluate(node['argument'] as jsep.Expression, reading);
    if (node['operator'] === '-') return { value: -value, measured };
    if (node['operator'] === '+') return { value, measured };
  }
  if (node.type === 'BinaryExpression') {
    const left = evaluate(node['left'] as jsep.Expression, reading);
    const right = evaluate(node['right'] as jsep.Expression, reading);
    return combine(node['operator'] as string, left, right, reading);
  }
  throw unreadable(reading);
}

function combine(operator: string, left: Measure, right: Measure, reading: Reading): Measure {
  if (operator === '*' && !(left.measured && right.measured)) {
    return { value: left.value * right.value, measured: left.measured || right.measured };
  }
  if (operator === '/' && !(right.measured && !left.measured)) {
    return { value: left.value / right.value, measured: left.measured !== right.measured };
  }
  if (operator !== '+' && operator !== '-') throw unreadable(reading);
  const measured = left.measured || right.measured;
  const size = (side: Measure) => (measured && !side.measured ? side.value * reading.defaultSize : side.value);
  return { value: operator === '+' ? size(left) + size(right) : size(left) - size(right), measured };
}

function unreadable(reading: Reading): CoreError {
  return new CoreError(
    'expression',
    `"${reading.typed}" cannot be read as a number. Use digits, units, + - * / and brackets.`,
  );
}
