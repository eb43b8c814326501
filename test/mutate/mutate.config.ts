import { readFileSync } from 'node:fs';
import type { Plugin } from 'vite';
import { defineConfig } from 'vitest/config';
import usual from '../../vitest.config';

/** A place of the code, as `mutate.mjs` chose it. */
interface Mutant {
  readonly id: number;
  readonly file: string;
  readonly start: number;
  readonly end: number;
  readonly text: string;
}

const mutants = JSON.parse(readFileSync(process.env['ARVEX_MUTANTS'] ?? '', 'utf8')) as Mutant[];
const which = process.env['ARVEX_MUTANT'] ?? '';

/** Loads one source with its change; or all of them so that they say where they were come by. */
const mutating: Plugin = {
  name: 'mutating',
  enforce: 'pre',
  load(path) {
    const own = mutants.filter(({ id, file }) => file === path && (which === 'record' || String(id) === which));
    if (own.length === 0) return null;
    const source = readFileSync(path, 'utf8');
    if (which === 'record') return recording(source, own);
    const [{ start, end, text }] = own as [Mutant];
    return `${source.slice(0, start)}(${text})${source.slice(end)}`;
  },
};

/** A source in which each place says that it was come by before it does what it does. */
function recording(source: string, own: readonly Mutant[]): string {
  const insertions = own.flatMap(({ id, start, end }) => [
    { at: start, isEnd: false, length: end - start, text: `(globalThis.comeBy?.add(${id}), ` },
    { at: end, isEnd: true, length: end - start, text: ')' },
  ]);
  // From the end; at one place what ends goes before what begins, and of several that begin the longest is outside.
  insertions.sort(
    (a, b) => b.at - a.at || Number(a.isEnd) - Number(b.isEnd) || (a.isEnd ? b.length - a.length : a.length - b.length),
  );
  return insertions.reduce((text, { at, text: inserted }) => text.slice(0, at) + inserted + text.slice(at), source);
}

const projects = usual.test?.projects ?? [];
export default defineConfig({
  test: {
    projects: projects.map((project) => {
      if (typeof project !== 'object' || !('test' in project)) return project;
      const { test } = project;
      const setupFiles = [...[test?.setupFiles ?? []].flat(), new URL('./mutate-hits.ts', import.meta.url).pathname];
      // Each file brings in its own modules: otherwise only the first one comes by what is worked out as they are brought in.
      return { ...project, plugins: [mutating], test: { ...test, setupFiles, isolate: true } };
    }),
  },
});
