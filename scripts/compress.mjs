// Puts compressed copies beside the scripts of a folder, for browsers that take them, and names those in its index.html
// that are wanted later, so that they are fetched while the server is there, once the first picture stands: node scripts/compress.mjs FOLDER
import { readdir, readFile, writeFile } from 'node:fs/promises';
import { basename, join } from 'node:path';
import { promisify } from 'node:util';
import { brotliCompress, constants, gzip } from 'node:zlib';

/** The last step of Brotli takes twice the time for two hundredths. */
const BROTLI = { params: { [constants.BROTLI_PARAM_QUALITY]: 10 } };
const COPIES = [
  ['.gz', (bytes) => promisify(gzip)(bytes, { level: 9 })],
  ['.br', (bytes) => promisify(brotliCompress)(bytes, BROTLI)],
];

const folder = process.argv[2];
if (!folder) throw new Error('Which folder? node scripts/compress.mjs FOLDER');
const scripts = (await readdir(folder)).filter((name) => name.endsWith('.js')).map((name) => join(folder, name));
await Promise.all(
  scripts.map(async (path) => {
    const bytes = await readFile(path);
    await Promise.all(COPIES.map(async ([ending, compress]) => writeFile(path + ending, await compress(bytes))));
  }),
);

const index = join(folder, 'index.html');
const page = await readFile(index, 'utf8');
const later = scripts.map((path) => basename(path)).filter((name) => !page.includes(name));
const links = later.map((name) => `<link rel="prefetch" href="${name}">`);
await writeFile(index, page.replace('</body>', `<template id="later">${links.join('')}</template></body>`));
