import { ESLint } from 'eslint';
import { expect, it } from 'vitest';

const IMPORTS = ['boundaries/dependencies', 'no-restricted-imports'];
const SYNTAX = 'no-restricted-syntax';
const lint = new ESLint({
  cwd: new URL('..', import.meta.url).pathname,
  // Rules of imports need no types; and programs made of the files on the disk would not show what is planted.
  overrideConfig: { languageOptions: { parserOptions: { projectService: false, project: null } } },
  ruleFilter: ({ ruleId }) => [...IMPORTS, SYNTAX].includes(ruleId),
});
/** What lint says to a file of the house in which one import is planted. */
async function planted(filePath: string, line: string): Promise<(string | null)[]> {
  const [result] = await lint.lintText(`${line}\n`, { filePath });
  return (result?.messages ?? []).map(({ ruleId }) => ruleId);
}

it.each([
  ['a room from a floor above', 'packages/core/src/space/vector.ts', "import { EDITS } from '../edits';"],
  ['a room past its index', 'packages/core/src/camera/index.ts', "import { parts } from '../model/part';"],
  ['a view from the ui', 'apps/web/src/app/ui/card.ts', "import { Picture } from '../views/picture';"],
  ['a service of the session past its index', 'apps/web/src/app/ui/card.ts', "import '../session/workspace';"],
  ['the stage from the core', 'packages/core/src/camera/index.ts', "import { Stage } from '@arvex/stage';"],
  ['the stage from the server', 'apps/server/src/main.ts', "import { Stage } from '@arvex/stage';"],
  ['a feature from the queue', 'apps/server/src/queue/worker.ts', "import { Mixer } from '../features/renders/mixer';"],
  ['a feature from another', 'apps/server/src/features/room/routes.ts', "import '../renders/mixer';"],
  ['the inside of a package', 'apps/web/src/main.ts', "import '../../../packages/core/src/model/index';"],
  ['an interface from the core', 'packages/core/src/camera/index.ts', "import { signal } from '@angular/core';"],
  ['files from a page', 'apps/web/src/main.ts', "import { readFile } from 'node:fs/promises';"],
  ['a second writer of the project', 'apps/web/src/app/ui/card.ts', "import { applied } from '@arvex/core';"],
])('refuses %s', async (_, file, line) => {
  const said = await planted(file, line);
  expect(said.length).toBeGreaterThan(0);
  expect(IMPORTS).toEqual(expect.arrayContaining(said));
});

it('lets a room use those below it by their index', async () => {
  expect(await planted('packages/core/src/camera/index.ts', "import { vectorOf } from '../space';")).toEqual([]);
  expect(await planted('apps/web/src/app/ui/card.ts', "import { Workspace } from '../session';")).toEqual([]);
  expect(await planted('apps/server/src/features/room/routes.ts', "import '../../ground/ground';")).toEqual([]);
  expect(await planted('apps/web/src/app/data/project-store.ts', "import { applied } from '@arvex/core';")).toEqual([]);
});

it('refuses to set a signal after a wait, where it may be too late, and nothing else of the kind', async () => {
  const file = 'apps/web/src/app/session/units.ts';
  const method = (body: string) => planted(file, `class A { async open() { ${body} } }`);
  expect(await method('await this.read(); this.project.set(1);')).toEqual([SYNTAX]);
  expect(await method('const a = await this.read(); if (a) this.project.update(() => a);')).toEqual([SYNTAX]);
  expect(await method('this.project.set(1); await this.read(); this.rows.set(1, 2);')).toEqual([]);
  expect(await planted('apps/web/src/app/ui/card.ts', 'class A { async b() { await c; this.d.set(1); } }')).toEqual([]);
});
