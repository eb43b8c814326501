import { build } from 'esbuild';
import { fileURLToPath } from 'node:url';

const here = (path) => fileURLToPath(new URL(path, import.meta.url));

// Our own packages are bundled; what comes from the registry stays where npm put it.
await build({
  entryPoints: [
    { in: here('src/main.ts'), out: 'main' },
    { in: here('src/database/stop-left-over.ts'), out: 'stop-left-over' },
    { in: here('src/features/geometry/measuring-thread.ts'), out: 'measuring-thread' },
    { in: here('src/features/renders/mixing-thread.ts'), out: 'mixing-thread' },
  ],
  outdir: here('dist'),
  bundle: true,
  platform: 'node',
  target: 'node20',
  format: 'esm',
  sourcemap: true,
  logLevel: 'warning',
  alias: {
    '@arvex/core': here('../../packages/core/src/index.ts'),
    '@arvex/interchange/tables': here('../../packages/interchange/src/tables/index.ts'),
    '@arvex/interchange/pictures': here('../../packages/interchange/src/pictures/index.ts'),
    '@arvex/interchange/gltf': here('../../packages/interchange/src/gltf/index.ts'),
  },
  plugins: [
    {
      name: 'registry-packages-outside',
      setup({ onResolve }) {
        onResolve({ filter: /^[^./]/ }, ({ path, kind }) =>
          kind === 'entry-point' || path.startsWith('@arvex/') ? undefined : { path, external: true },
        );
      },
    },
  ],
});
