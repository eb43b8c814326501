import { execFileSync } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Cdl } from '@arvex/core';
import { applyCdl, LOOK_DEFAULTS, lutOfLook, MID_TONE, RESPONSES, throughLut } from '@arvex/core';
import { writeCdl, writeCube } from '@arvex/interchange/looks';
import { writeExr } from '@arvex/interchange/pictures';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';

// What leaves as a look is read by OpenColorIO, through oiiotool, and compared with what the picture shows.

const COLOURS = [
  [0.5, 0.25, 0.7],
  [0.02, 0.02, 0.02],
  [0.8, 0.1, 0.4],
  [0.18, 0.6, 0.31],
] as const;

let folder: string;
beforeAll(() => void (folder = mkdtempSync(join(tmpdir(), 'arvex-looks-'))));
afterAll(() => rmSync(folder, { recursive: true }));

/** The colours after a file that is written down as what makes a colour space. @param id of the correction in a collection. */
function throughOpenColorIO(ending: string, text: string, id?: string): number[][] {
  writeFileSync(join(folder, `look.${ending}`), text);
  const file = `src: look.${ending}, interpolation: linear, cdl_style: asc${id === undefined ? '' : `, cccid: ${id}`}`;
  const config = [
    ...['ocio_profile_version: 2', 'search_path: .', 'roles: {default: plain}'],
    'file_rules:\n  - !<Rule> {name: Default, colorspace: plain}',
    'displays:\n  none:\n    - !<View> {name: plain, colorspace: plain}',
    'colorspaces:\n  - !<ColorSpace> {name: plain}',
    `  - !<ColorSpace>\n    name: graded\n    from_scene_reference: !<FileTransform> {${file}}`,
  ];
  writeFileSync(join(folder, 'config.ocio'), config.join('\n'));
  const values = Float32Array.from(COLOURS.flat());
  const channels = ['R', 'G', 'B'].map((name, first) => ({ name, depth: 'float' as const, values, first, step: 3 }));
  writeFileSync(join(folder, 'colours.exr'), writeExr({ widthPx: COLOURS.length, heightPx: 1, channels }));
  const tool = (...given: string[]) => execFileSync('oiiotool', given, { cwd: folder, encoding: 'utf8' });
  tool('--colorconfig', 'config.ocio', 'colours.exr', '--colorconvert', 'plain', 'graded', '-o', 'graded.exr');
  const said = tool('--info', '--dumpdata', 'graded.exr');
  return [...said.matchAll(/Pixel \(\d+, \d+\): ([^\n]+)/g)].map((found) =>
    (found[1] ?? '').trim().split(/\s+/).map(Number),
  );
}

function compare(found: number[][], shown: (colour: [number, number, number]) => void, digits: number): void {
  expect(found).toHaveLength(COLOURS.length);
  for (const [i, given] of COLOURS.entries()) {
    const colour: [number, number, number] = [...given];
    shown(colour);
    colour.forEach((value, c) => expect(found[i]?.[c], `${given.join(' ')}, channel ${c}`).toBeCloseTo(value, digits));
  }
}

describe('OpenColorIO', () => {
  const cdl: Cdl = { slope: [1.2, 1, 0.9], offset: [0.01, 0, -0.02], power: [1, 1.1, 0.95], saturation: 0.8 };

  it.each(['cc', 'ccc', 'cdl'] as const)('grades by a .%s as the picture does', (ending) => {
    const written = writeCdl([{ name: 'SL_010', cdl }], ending);
    compare(
      throughOpenColorIO(ending, written, ending === 'cc' ? undefined : 'SL_010'),
      (one) => applyCdl(one, cdl),
      4,
    );
  });

  it('shows a look by its table as the picture does', () => {
    const lut = lutOfLook({ ...LOOK_DEFAULTS, response: RESPONSES[5]! }, 'picture', MID_TONE);
    const cube = writeCube({ ...lut, title: 'Dusk' });
    compare(throughOpenColorIO('cube', cube), (one) => throughLut(one, lut), 4);
  });
});
