import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { CoreError } from '../src/error';
import {
  DISPLAY_UNITS,
  LENGTH_IN_METRES,
  LENGTH_IN_MILLIMETRES,
  lengthNumber,
  lengthText,
  readNumber,
} from '../src/units';

describe('numbers as people type them', () => {
  it.each([
    ['35+5', 40],
    ['1/2', 0.5],
    ['2*(3-1)', 4],
    ['−3', -3],
    ['1,5', 1.5],
  ])('reads %s as %d', (text, value) => expect(readNumber(text)).toBeCloseTo(value, 12));

  it.each([
    ['12ft 6in', 3.81],
    [`12' 6"`, 3.81],
    ['180', 1.8],
    ['1.8 m', 1.8],
    ['2*(1.5m - 20)', 2.6],
    ['2 m + 50', 2.5],
  ])('reads %s in a field that shows centimetres as %d m', (text, metres) => {
    expect(readNumber(text, LENGTH_IN_METRES, 'cm')).toBeCloseTo(metres, 12);
  });

  it('takes an inch in a lens field', () => {
    expect(readNumber('2in', LENGTH_IN_MILLIMETRES, 'mm')).toBeCloseTo(50.8, 12);
  });

  it('reads back any number it shows', () => {
    fc.assert(
      fc.property(fc.double({ min: -1e6, max: 1e6, noNaN: true }), (value) => {
        expect(readNumber(value.toFixed(6))).toBeCloseTo(value, 5);
      }),
    );
  });

  it.each(['', '3 +', 'alert(1)', '1/0', '4 parsecs', '2 m * 3 m'])('refuses %j with a reason', (text) => {
    expect(() => readNumber(text, LENGTH_IN_METRES, 'm')).toThrow();
  });

  it('shows lengths in the display unit', () => {
    expect(lengthText(1.8288, 'ft')).toBe(`6' 0.0"`);
    expect(lengthText(1.75, 'ft')).toBe(`5' 8.9"`);
    expect(lengthText(-0.3048, 'ft')).toBe(`-1' 0.0"`);
    expect(lengthText(Infinity, 'm')).toBe('∞');
  });
});

describe('a length that is shown', () => {
  it('reads back as the number that is shown, in every unit, of either sign, alone and in a sum', () => {
    const length = fc.double({ min: -100_000, max: 100_000, noNaN: true });
    fc.assert(
      fc.property(fc.constantFrom(...DISPLAY_UNITS), length, length, (unit, metres, other) => {
        const read = (text: string) => readNumber(text, LENGTH_IN_METRES, unit);
        for (const text of [lengthNumber(metres, unit), lengthText(metres, unit)]) {
          // It is as near as its last digit, and it reads as itself again.
          expect(Math.abs(read(text) - metres)).toBeLessThan(0.00501);
          expect(lengthText(read(text), unit)).toBe(lengthText(metres, unit));
        }
        const [a, b] = [lengthText(metres, unit), lengthText(other, unit)];
        expect(read(`${a} - (${b})`)).toBeCloseTo(read(a) - read(b), 6);
        expect(read(`2 * (${a})`)).toBeCloseTo(2 * read(a), 6);
      }),
    );
  });

  it.each([
    [`-5' 6 1/2"`, -5.5 - 1 / 24],
    ['10ft - 2ft 6in', 7.5],
    ['2*12ft 6in', 25],
    ['12ft 6in / 2', 6.25],
    ['5′6″', 5.5],
    ['6½"', 6.5 / 12],
    ['1/2in', 0.5 / 12],
    ['1e3', 1000],
    ['1,200', 1200],
    ['1.200,5', 1200.5],
  ])('is typed as %s', (text, feet) => {
    expect(readNumber(text, LENGTH_IN_METRES, 'ft')).toBeCloseTo(feet * 0.3048, 9);
  });

  it.each(['5 6', '12ft 6ft', "1'000 mm", "1'000", '3ft 20cm', '6 1/2 3', '1 200', 'x'.repeat(500), '1.2.3', '2(3)'])(
    'is not guessed: %s',
    (text) => {
      expect(() => readNumber(text, LENGTH_IN_METRES, 'ft')).toThrow(CoreError);
    },
  );
});
