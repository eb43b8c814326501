import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { LENGTH_IN_METRES, LENGTH_IN_MILLIMETRES, lengthText, readNumber } from '../src/units';

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

describe('feet and inches', () => {
  it('are read back as the length they show, to half a tenth of an inch', () => {
    fc.assert(
      fc.property(fc.double({ min: 0, max: 500, noNaN: true }), (metres) => {
        const read = readNumber(lengthText(metres, 'ft'), LENGTH_IN_METRES, 'ft');
        expect(Math.abs(read - metres)).toBeLessThan(0.00128);
      }),
    );
  });
});
