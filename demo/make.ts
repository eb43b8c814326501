/** Makes the demo: geometry files and the project that uses them, in `demo/made`. Run with `npm run demo`. */
import { mkdir, rm, writeFile } from 'node:fs/promises';
import { createHash } from 'node:crypto';
import { join } from 'node:path';
import type { GeometryFile } from '@arvex/core';
import { projectSchema } from '@arvex/core';
import { geometryFacts } from '@arvex/interchange/gltf';
import { BELLS, CUT_FRAMES } from './cutting';
import { demoProject } from './project';
import { windAndBell } from './scratch-sound';
import { boat, crate, figure, flats, hut, lens, mooringPost, pier, rocksAndReeds, ropeCoil, tower } from './set-pieces';
import { writeGlb } from './write-glb';

const target = join(import.meta.dirname, 'made');
await rm(target, { recursive: true, force: true });
await mkdir(target, { recursive: true });

const pieces = [
  flats(),
  rocksAndReeds(),
  tower(),
  lens(),
  pier(),
  hut(),
  boat(),
  crate(),
  ropeCoil(),
  mooringPost(),
  figure('keeper', 1.82, '#2f4664', '#22201e', '#33302c'),
  figure('courier', 1.65, '#7d6a45', '#5a3f33', '#3f4239'),
];
const facts = new Map<string, GeometryFile>();
for (const piece of pieces) {
  const bytes = await writeGlb(piece);
  const hash = createHash('sha256').update(bytes).digest('hex');
  facts.set(piece.name, await geometryFacts(bytes, hash));
  await writeFile(join(target, `${piece.name.replaceAll(' ', '-')}.glb`), bytes);
}
const seconds = CUT_FRAMES / 24;
const sound = windAndBell(
  seconds,
  BELLS.map((at) => at / 24),
);
await writeFile(join(target, 'wind-and-bell.wav'), sound);
const soundFile = {
  kind: 'sound' as const,
  hash: createHash('sha256').update(sound).digest('hex'),
  bytes: sound.length,
  durationS: seconds,
  mediaType: 'audio/wav' as const,
};
const project = projectSchema.parse(demoProject(facts, soundFile));
await writeFile(join(target, 'project.json'), `${JSON.stringify(project, null, 2)}\n`);
const triangles = Object.values(project.placements).reduce((sum, { assetId }) => {
  const file = assetId === null ? undefined : project.assets[assetId]?.file;
  return sum + (file?.kind === 'geometry' ? file.triangles : 0);
}, 0);
console.log(`${Object.keys(project.placements).length} things, ${triangles} triangles`);
