/** `npm run bench`: one table, each figure beside a baseline measured in the same run on the same machine. */
import { benchBrowser } from './browser';
import { benchCore } from './core';
import { printTable } from './measure';
import { benchServer } from './server';

const lines = [...(await benchCore()), ...(await benchServer()), ...(await benchBrowser())];
printTable(lines);
