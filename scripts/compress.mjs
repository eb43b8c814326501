// Puts compressed copies beside the scripts of a folder, for browsers that take them: node scripts/compress.mjs FOLDER
import { readdir, readFile, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { promisify } from 'node:util';
import { brotliCompress, constants, gzip } from 'node:zlib';

/** The last step of Brotli takes twice the time for two hundredths. */
const BROTLI = { params: { [constants.BROTLI_PARAM_QUALITY]: 10 } };
const COPIES = [
  ['.gz', (bytes) => promisify(gzip)(bytes, { level: 9 })],
  ['.br', (bytes) => promisify(brotliCompress)(bytes, BROTLI)],
];

const folder = process.argv[2] ?? '.';
const scripts = (await readdir(folder)).filter((name) => name.endsWith('.js')).map((name) => join(folder, name));
await Promise.all(
  scripts.map(async (path) => {
    const bytes = await readFile(path);
    await Promise.all(COPIES.map(async ([ending, compress]) => writeFile(path + ending, await compress(bytes))));
  }),
);
