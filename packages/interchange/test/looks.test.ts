import { CDL_DEFAULTS, LOOK_DEFAULTS, lutOfLook, MID_TONE, RESPONSES } from '@arvex/core';
import {
  lookText,
  mixText,
  readCdl,
  readCube,
  readLookText,
  valuesText,
  writeCdl,
  writeCube,
} from '@arvex/interchange/looks';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';

const CC = `<?xml version="1.0"?>
<ColorCorrectionCollection xmlns="urn:ASC:CDL:v1.01">
  <ColorCorrection id="SL_010">
    <SOPNode>
      <Slope>1.2 1.0 0.9</Slope>
      <Offset>0.01 0 -0.02</Offset>
      <Power>1 1.1 0.95</Power>
    </SOPNode>
    <SatNode><Saturation>0.8</Saturation></SatNode>
  </ColorCorrection>
  <ColorCorrection id="SL_020">
    <SATNode><Saturation>1.3</Saturation></SATNode>
  </ColorCorrection>
</ColorCorrectionCollection>`;

describe('colour decisions', () => {
  it('are read as they are written in a collection', () => {
    expect(readCdl(CC)).toEqual([
      {
        name: 'SL_010',
        cdl: { slope: [1.2, 1, 0.9], offset: [0.01, 0, -0.02], power: [1, 1.1, 0.95], saturation: 0.8 },
      },
      { name: 'SL_020', cdl: { ...CDL_DEFAULTS, saturation: 1.3 } },
    ]);
  });

  it.each([
    ['a power below nought', CC.replace('1 1.1 0.95', '1 -1.1 0.95'), /Line 7: Power is 1 -1\.1 0\.95/],
    ['no power', CC.replace('<Power>1 1.1 0.95</Power>', ''), /Line 4: Power is missing/],
    ['four numbers', CC.replace('0.01 0 -0.02', '0.01 0 -0.02 0'), /Line 6: Offset is .*: three numbers/],
    ['two numbers', CC.replace('0.01 0 -0.02', '0.01 0'), /Line 6: Offset is "0\.01 0": three numbers/],
    ['a word', CC.replace('>0.8<', '>much<'), /Line 9: Saturation is "much": a number/],
    ['a file cut off', CC.slice(0, 200), /Line \d+: /],
    ['something else', '<html></html>', /Line 1: there is no ColorCorrection/],
  ])('are refused where there is %s, and the line is named', (_what, text, message) => {
    expect(() => readCdl(text)).toThrow(message);
  });

  it('read the same as they were written, in all three kinds of files', () => {
    const value = (min: number, max: number) => fc.double({ min, max, noNaN: true });
    const triple = (min: number, max: number) => fc.tuple(value(min, max), value(min, max), value(min, max));
    const cdl = fc.record({
      slope: triple(0, 50),
      offset: triple(-5, 5),
      power: triple(0.01, 8),
      saturation: value(0, 4),
    });
    const name = fc.constantFrom('SL_010', 'dusk & night', '"quoted" <b>');
    fc.assert(
      fc.property(cdl, name, fc.constantFrom('cc' as const, 'ccc' as const, 'cdl' as const), (one, id, ending) => {
        const [read] = readCdl(writeCdl([{ name: id, cdl: one }], ending));
        expect(read?.cdl.slope.map((part) => part + 0)).toEqual(one.slope.map((part) => part + 0));
        expect(read).toMatchObject({ name: id, cdl: { power: one.power, saturation: one.saturation } });
      }),
    );
  });
});

describe('tables of colours', () => {
  const look = { ...LOOK_DEFAULTS, response: RESPONSES[5]! };

  it('come back from their files', () => {
    const lut = lutOfLook(look, 'picture', MID_TONE);
    const read = readCube(writeCube({ ...lut, title: 'Dusk' }, ['Made for a test']));
    expect(read).toMatchObject({ title: 'Dusk', size: 33, from: [0, 0, 0], to: [1, 1, 1] });
    read.values.forEach((value, i) => expect(Math.abs(value - (lut.values[i] ?? 0))).toBeLessThan(1e-6));
  });

  const small = ['TITLE "x"', 'LUT_3D_SIZE 2', ...Array.from({ length: 8 }, () => '0 0 0')];
  it.each([
    ['too few colours', small.slice(0, -1).join('\n'), /Line 9: the file ends after 7 of 8 colours/],
    ['too many', [...small, '1 1 1'].join('\n'), /Line 11: there are more colours than the 8/],
    ['a word', small.with(5, '0 zero 0').join('\n'), /Line 6: "zero" is no number/],
    ['two numbers in a line', small.with(5, '0 0').join('\n'), /Line 6: three numbers/],
    ['a table for each colour', 'LUT_1D_SIZE 16\n0 0 0', /Line 1: .*1D/],
    ['an impossible size', 'LUT_3D_SIZE 1000', /Line 1: a side has 2 to 65 points/],
    ['a domain upside down', ['DOMAIN_MIN 0 1.5 0', ...small].join('\n'), /DOMAIN_MAX has to lie above/],
    ['a domain of no extent', ['DOMAIN_MIN 0 1 0', ...small].join('\n'), /DOMAIN_MAX has to lie above/],
    ['nothing', '', /no LUT_3D_SIZE/],
  ])('are refused with %s, and the line is named', (_what, text, message) => {
    expect(() => readCube(text)).toThrow(message);
  });
});

describe('looks as text', () => {
  it('come back, and say where they are wrong', () => {
    const text = lookText('Dusk', { ...LOOK_DEFAULTS, compensationStops: 0.5 });
    expect(readLookText(text)).toMatchObject({ arvex: 'look', name: 'Dusk', settings: { compensationStops: 0.5 } });
    expect(readLookText(valuesText({ edgeStops: 2 }))).toEqual({ arvex: 'look values', values: { edgeStops: 2 } });
    const level = { stops: -2, tint: '#ffcc88', on: true };
    expect(readLookText(mixText([{ name: 'lantern', level }]))).toEqual({
      arvex: 'light mix',
      groups: [{ name: 'lantern', level }],
    });
    const line = text.split('\n').findIndex((one) => one.includes('"contrast"')) + 1;
    const bad = text.replace(/"contrast": [\d.]+/, '"contrast": 99');
    expect(() => readLookText(bad)).toThrow(new RegExp(`Line ${line}: settings.tone.contrast`));
    expect(() => readLookText(text.replace(/"form": \d+/, '"form": 99'))).toThrow(/Line 3: .*newer Arvex/);
    expect(() => readLookText('hello')).toThrow(/no look/);
    expect(() => readLookText(text.slice(0, 120))).toThrow(/Line \d+: the text is broken/);
  });
});
