import { inject } from '@angular/core';
import { dissolveToVariation, NO_VARIATION, variationsOf } from '@arvex/core';
import { LOOK_EXPORTERS } from '@arvex/interchange/tables';
import { ProjectStore } from '../../data';
import type { Action, ActionSource } from '../../session';
import { OpenSequence, Playhead, Viewpoint } from '../../session';
import { CutEdits } from '../sequence';
import { LookFiles } from './look-files';
import { Looks } from './looks';
import { Variations } from './variations';

/** How long a dissolve between variations is at first, frames. */
const DISSOLVE_FRAMES = 24;

/** What is done with looks and variations. */
export function lookActions(): ActionSource {
  const [looks, files, variations] = [inject(Looks), inject(LookFiles), inject(Variations)];
  const [viewpoint, playhead, store] = [inject(Viewpoint), inject(Playhead), inject(ProjectStore)];
  const [edits, open] = [inject(CutEdits), inject(OpenSequence)];
  const hasCamera = () => viewpoint.camera() !== undefined;
  const row = () => [NO_VARIATION, ...variations.all().map(({ id }) => id)];
  const step = (by: number) => {
    const [camera, all] = [viewpoint.camera(), row()];
    const next = all[(all.indexOf(variations.worn()) + by + all.length) % all.length];
    if (camera && next !== undefined) variations.wear(camera.id, next);
  };
  const hasVariations = () => variations.all().length > 0;
  const here = ['cameras'] as const;
  const fixed: readonly Action[] = [
    { name: 'Copy the look', words: 'grade clipboard', when: hasCamera, run: () => void files.copyLook() },
    { name: 'Copy the light mix', words: 'clipboard', when: hasCamera, run: () => void files.copyMix() },
    {
      name: 'Paste a look, values or a light mix',
      words: 'clipboard grade',
      when: hasCamera,
      run: () => void files.paste(),
    },
    {
      name: 'Look: a copy for this camera alone',
      words: 'own unshare',
      when: () => looks.others().count > 0,
      run: () => looks.takeCopy(),
    },
    {
      name: 'Keep as a variation',
      words: 'day sunset night look',
      when: hasCamera,
      run: () => variations.keep('variation'),
    },
    { name: 'Wear the next variation', keys: 'Alt+ArrowDown', steps: here, when: hasVariations, run: () => step(1) },
    { name: 'Wear the variation before', keys: 'Alt+ArrowUp', steps: here, when: hasVariations, run: () => step(-1) },
    {
      name: 'End comparing variations',
      keys: 'Escape',
      when: () => variations.compared() !== undefined,
      run: () => variations.endComparing(),
    },
  ];
  const saves = LOOK_EXPORTERS.map((one): Action => ({
    name: `Save the look as a file: ${one.name}`,
    words: `export ${one.words}`,
    when: hasCamera,
    run: () => void files.save(one),
  }));
  return () => {
    const camera = viewpoint.camera();
    const seen = playhead.seen();
    const shown = camera ? variationsOf(camera) : [];
    const wear = shown.map(({ id, name }): Action => ({
      name: `Wear variation ${name}`,
      words: 'look light',
      when: () => variations.worn() !== id,
      run: () => camera && variations.wear(camera.id, id),
    }));
    const inShot = seen?.mode === 'cut' ? store.project()?.cameras[seen.cameraId ?? ''] : undefined;
    const dissolves = (inShot ? variationsOf(inShot) : []).map(({ id, name }): Action => ({
      name: `Dissolve to variation ${name} here`,
      words: 'transition look light day night',
      run: () =>
        void edits.run((project) =>
          dissolveToVariation(project, open.id(), seen?.frame ?? 0, id, DISSOLVE_FRAMES, crypto.randomUUID()),
        ),
    }));
    return [...fixed, ...saves, ...wear, ...dissolves];
  };
}
