import { describe, expect, it } from 'vitest';
import { LOOK_DEFAULTS } from '@arvex/core';
import { lookText, writeCdl, writeCube } from '../src/looks';
import type { ImporterId } from '../src/tables';
import { acceptOf, importerFor, IMPORTERS, importersOf, isCompanion, mostBytesOf, namesOf } from '../src/tables';

const bytes = (text: string): Uint8Array => Uint8Array.from([...text], (one) => one.charCodeAt(0));
const lut = { size: 2, from: [0, 0, 0], to: [1, 1, 1], values: new Float32Array(24), title: 'Dusk' } as const;
const cdl = writeCdl([{ name: 'Dusk', cdl: LOOK_DEFAULTS.cdl }], 'ccc');

/** How a file of each kind begins, whoever wrote it. */
const HEADS: Readonly<Record<ImporterId, readonly string[]>> = {
  glb: ['glTF\x02\x00\x00\x00'],
  gltf: ['{ "asset": { "version": "2.0" }, "scenes": [] }', '\n{"accessors":[],"asset":{}}'],
  obj: ['# a hut\nmtllib hut.mtl\no Hut\nv 0 0 0\n', 'v 1 2 3\n'],
  png: ['\x89PNG\r\n\x1a\n\x00\x00\x00\rIHDR'],
  jpeg: ['\xff\xd8\xff\xe0\x00\x10JFIF\x00', '\xff\xd8\xff\xe1\x00\x10Exif'],
  webp: ['RIFF\x10\x00\x00\x00WEBPVP8 '],
  wav: ['RIFF\x10\x00\x00\x00WAVEfmt ', 'RF64\xff\xff\xff\xffWAVEds64'],
  mp3: ['ID3\x04\x00\x00\x00', '\xff\xfb\x90\x00'],
  aac: ['\x00\x00\x00\x20ftypM4A ', '\xff\xf1\x50\x80'],
  flac: ['fLaC\x00\x00\x00\x22'],
  ogg: ['OggS\x00\x02\x00\x00'],
  cdl: [cdl, '<?xml version="1.0"?>\n<cdl:ColorDecisionList xmlns:cdl="urn:ASC:CDL:v1.01">'],
  cube: [writeCube(lut, ['From Arvex.']), 'TITLE "a"\nLUT_1D_SIZE 16\n'],
  look: [lookText('Dusk', LOOK_DEFAULTS)],
};

describe('a file that is brought in', () => {
  it.each(IMPORTERS.map(({ id }) => id))('is known as %s from its content, whatever it is called', (id) => {
    for (const head of HEADS[id]) {
      for (const name of ['file', 'file.txt', 'FILE.PNG', 'sound.wav', 'hut.obj'])
        expect([name, importerFor(name, bytes(head))?.id]).toEqual([name, id]);
      const others = importersOf().filter((one) => one.id !== id && one.recognised(bytes(head)));
      expect(others.map((one) => one.id)).toEqual([]);
    }
  });

  it.each(IMPORTERS.flatMap(({ id, endings }) => endings.map((ending) => [id, ending] as const)))(
    'is known as %s from the ending .%s where its content tells nothing',
    (id, ending) => expect(importerFor(`Hut.${ending.toUpperCase()}`, bytes('?'))?.id).toBe(id),
  );

  it('of another kind is not known, nor one whose bytes only look like text', () => {
    expect(importerFor('notes.txt', bytes('bring a lamp\nv. 2'))).toBeUndefined();
    expect(importerFor('notes', bytes('v 1 2 3\n\0'))).toBeUndefined();
    expect(importerFor('utf16.txt', bytes('\xff\xfev\0 \x001\0'))).toBeUndefined();
  });

  it('only comes with another one where nobody reads it alone', () => {
    expect(['hut.bin', 'HUT.MTL', 'hut.png', 'hut.obj', 'notes.txt'].map(isCompanion)).toEqual([
      true,
      true,
      false,
      false,
      false,
    ]);
  });
});

it('offers in a dialog what can be read, with what comes beside it, and names it in a sentence', () => {
  expect(acceptOf('geometry').split(',')).toEqual(expect.arrayContaining(['.glb', '.gltf', '.bin', '.mtl', '.png']));
  expect(acceptOf('sound')).not.toContain('.glb');
  expect(new Set(acceptOf().split(',')).size).toBe(acceptOf().split(',').length);
  expect(namesOf('picture')).toBe('PNG, JPEG or WebP');
  expect([mostBytesOf('geometry'), mostBytesOf('picture')]).toEqual([200e6, 50e6]);
});
