/** `npm run bench`, or `npm run bench -- core server`: each figure beside a baseline measured in the same run on the same machine. */
import { benchBrowser } from './browser';
import { benchCore } from './core';
import { printTable } from './measure';
import { benchOutput } from './output';
import { benchServer } from './server';

const PARTS = { core: benchCore, server: benchServer, browser: benchBrowser, output: benchOutput };
type Part = keyof typeof PARTS;
const isPart = (name: string): name is Part => Object.hasOwn(PARTS, name);

const names = process.argv.slice(2);
const unknown = names.filter((name) => !isPart(name));
if (unknown.length > 0)
  throw new Error(`No such part: ${unknown.join(', ')}. There are: ${Object.keys(PARTS).join(', ')}.`);
for (const name of names.length > 0 ? names.filter(isPart) : (Object.keys(PARTS) as Part[])) {
  console.log(`\n${name}`);
  printTable(await PARTS[name]());
}
