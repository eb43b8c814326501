import { build } from 'esbuild';
import { join } from 'node:path';

const ROOT = join(import.meta.dirname, '..');

/** A module with everything it needs, as one script for a bare page. */
export async function bundle(entry: string): Promise<string> {
  const { outputFiles } = await build({
    entryPoints: [entry],
    bundle: true,
    write: false,
    format: 'iife',
    alias: {
      '@arvex/interchange/pictures': join(ROOT, 'packages/interchange/src/pictures/index.ts'),
      '@arvex/renderer': join(ROOT, 'packages/renderer/src/index.ts'),
      '@arvex/core': join(ROOT, 'packages/core/src/index.ts'),
      '@arvex/stage/view': join(ROOT, 'packages/stage/src/view/index.ts'),
      '@arvex/stage': join(ROOT, 'packages/stage/src/index.ts'),
    },
  });
  return outputFiles[0]?.text ?? '';
}
