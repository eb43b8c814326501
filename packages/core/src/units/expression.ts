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

/** Longest text that is read: no sum of a shot is longer. */
const MOST_CHARACTERS = 400;

/** Digits with thousands by commas or narrow spaces, a decimal point or comma, an exponent; or a unit; or a sign. */
const TOKEN = /(\d[\d.,\u00a0\u202f]*(?:e[+-]?\d+)?|\.\d+(?:e[+-]?\d+)?)|([a-zµ]+|[°'"])|([-+*/()])/giy;

/** Other ways to write what is meant. */
const SAME: readonly (readonly [RegExp, string])[] = [
  [/[−–]/g, '-'],
  [/[′’‘]/g, "'"],
  [/[″”“]/g, '"'],
  [/×/g, '*'],
  [/÷/g, '/'],
  [/[½¼¾⅓⅔⅛⅜⅝⅞]/g, ' $& '],
];

interface Token {
  readonly kind: 'number' | 'unit' | 'sign';
  readonly text: string;
  /** A number's value. */
  readonly value: number;
}

/**
 * Reads what a person types into a number field: a number, a unit that wins over the field's own, and arithmetic.
 * `35+5`, `1/2`, `12ft 6in` (3.81 in a metre field), `-5' 6 1/2"`, `1,200 mm`, `1e3`, `2*(1.5m - 20cm)`. Feet and inches that
 * follow each other are one length, whatever stands before or after. A result with no unit has `defaultUnit`.
 * @throws CoreError `expression` naming what could not be read.
 */
export function readNumber(text: string, units: UnitSizes = {}, defaultUnit?: string): number {
  if (text.trim() === '') throw new CoreError('expression', 'Type a number.');
  if (text.length > MOST_CHARACTERS) {
    throw new CoreError('expression', `This is longer than ${MOST_CHARACTERS} characters. Type a shorter sum.`);
  }
  const defaultSize = defaultUnit === undefined ? 1 : (units[defaultUnit] ?? 1);
  const arithmetic = measured(tokensOf(text), text, units);
  const result = evaluate(parse(arithmetic, text), { typed: text, defaultSize });
  const value = result.measured ? result.value : result.value * defaultSize;
  if (!Number.isFinite(value)) throw new CoreError('expression', `"${text}" has no finite value.`);
  return value;
}

function tokensOf(typed: string): Token[] {
  let text = SAME.reduce((all, [what, plain]) => all.replace(what, plain), typed);
  text = text.normalize('NFKC').replace(/\u2044/g, '/');
  const tokens: Token[] = [];
  let at = 0;
  for (;;) {
    while (/\s/.test(text[at] ?? '')) at += 1;
    if (at >= text.length) return tokens;
    TOKEN.lastIndex = at;
    const found = TOKEN.exec(text);
    if (!found) throw unreadable({ typed });
    const [whole, digits, unit] = found;
    const kind = digits === undefined ? (unit === undefined ? 'sign' : 'unit') : 'number';
    tokens.push({ kind, text: whole, value: digits === undefined ? NaN : valueOfDigits(digits, typed) });
    at += whole.length;
  }
}

/** Digits as a number: a comma before three digits parts thousands, unless the number begins with 0; else it is the point. */
function valueOfDigits(digits: string, typed: string): number {
  const plain = digits.replace(/[\u00a0\u202f]/g, '');
  const [mantissa = '', exponent] = plain.split(/e/i);
  const thousands = /^[1-9]\d{0,2}(?:,\d{3})+(?:\.\d*)?$/.test(mantissa)
    ? mantissa.replaceAll(',', '')
    : /^[1-9]\d{0,2}(?:\.\d{3})+,\d+$/.test(mantissa)
      ? mantissa.replaceAll('.', '').replace(',', '.')
      : mantissa.replace(',', '.');
  const value = Number(exponent === undefined ? thousands : `${thousands}e${exponent}`);
  if (Number.isNaN(value)) throw unreadable({ typed });
  return value;
}

/**
 * Rewrites `-12ft 6 1/2in` as `-(measure(3.6576)+measure(0.1651))`, so that the parser meets plain arithmetic only.
 * @throws CoreError `expression` for a unit that is none here, or numbers without a sign between them.
 */
function measured(tokens: readonly Token[], typed: string, units: UnitSizes): string {
  let at = 0;
  const isNumber = (ahead: number) => tokens[at + ahead]?.kind === 'number';
  const isOver = (ahead: number) =>
    isNumber(ahead) &&
    tokens[at + ahead + 1]?.text === '/' &&
    isNumber(ahead + 2) &&
    isWhole(ahead) &&
    isWhole(ahead + 2);
  const isWhole = (ahead: number) => /^\d+$/.test(tokens[at + ahead]?.text ?? '');
  const valueAhead = (ahead: number) => tokens[at + ahead]?.value ?? NaN;
  const amount = (): number => {
    const first = valueAhead(0);
    if (isWhole(0) && isOver(1)) {
      const value = first + valueAhead(1) / valueAhead(3);
      at += 4;
      return value;
    }
    if (isOver(0) && tokens[at + 3]?.kind === 'unit') {
      const value = first / valueAhead(2);
      at += 3;
      return value;
    }
    at += 1;
    return first;
  };
  const sizeAhead = (): number | undefined => {
    const unit = tokens[at];
    if (unit?.kind !== 'unit') return undefined;
    const size = units[unit.text] ?? units[unit.text.toLowerCase()];
    if (size === undefined) throw new CoreError('expression', `"${unit.text}" is not a unit here.${unitHint(units)}`);
    at += 1;
    return size;
  };
  const quantity = (): string => {
    const first = amount();
    let size = sizeAhead();
    if (size === undefined) {
      if (isNumber(0)) throw new CoreError('expression', `"${typed}" has two numbers without a sign between them.`);
      return String(first);
    }
    let metres = first * size;
    while (isNumber(0)) {
      // Three digits are no inches of a foot: 1'000 was meant as a thousand.
      const isThousands = /^\d{3}$/.test(tokens[at]?.text ?? '');
      const next = amount();
      // After feet, a number without a unit is inches, and nothing but inches follows.
      const afterFeet: boolean = size === units["'"];
      const own: number | undefined = sizeAhead() ?? (afterFeet ? units['"'] : undefined);
      if (afterFeet && (own !== units['"'] || isThousands)) {
        throw new CoreError(
          'expression',
          `"${typed}" begins with feet: only inches follow them. Write thousands as 1,000.`,
        );
      }
      if (own === undefined || own >= size) {
        throw new CoreError('expression', `"${typed}" has two numbers without a sign between them.`);
      }
      metres += next * own;
      size = own;
    }
    return `measure(${metres})`;
  };
  let arithmetic = '';
  while (at < tokens.length) {
    const token = tokens[at] as Token;
    if (token.kind === 'number') arithmetic += quantity();
    else if (token.kind === 'sign') {
      arithmetic += token.text;
      at += 1;
    } else if (sizeAhead() !== undefined) throw unreadable({ typed });
  }
  return arithmetic;
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

function unreadable(reading: Pick<Reading, 'typed'>): CoreError {
  return new CoreError(
    'expression',
    `"${reading.typed}" cannot be read as a number. Use digits, units, + - * / and brackets.`,
  );
}
