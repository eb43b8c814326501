import type { Project, Shot } from '../../model';
import { CUT, existing } from '../../model';
import type { Edit } from '../edit';
import type { LaidShot } from './laid-shot';
import { laidOut, relaid, withParts } from './layout';
import { nameAfter } from './names';
import { named } from './trim';

/** Takes shots out. The gap they leave closes (what follows moves up), or stays. What is left shows what it showed. */
export function deleteShots(project: Project, shotIds: readonly string[], { close }: { close: boolean }): Edit {
  const sequenceId = sequenceOf(project, shotIds);
  let openFlicks = 0;
  const left: LaidShot[] = [];
  for (const one of laidOut(project, sequenceId)) {
    if (shotIds.includes(one.shot.id)) openFlicks += one.shot.gapFlicks + one.shot.durationFlicks;
    else {
      left.push(close ? one : withParts(one, { gapFlicks: one.shot.gapFlicks + openFlicks }));
      openFlicks = 0;
    }
  }
  const what = close ? 'close the gap' : 'leave the gap';
  return relaid(project, sequenceId, `Delete ${named(project, shotIds)}, ${what}`, left);
}

/** Closes the gap before a shot. */
export function closeGap(project: Project, shotId: string): Edit {
  const { sequenceId, name } = existing(project, 'shot', shotId);
  const laid = laidOut(project, sequenceId).map((one) =>
    one.shot.id === shotId ? withParts(one, { gapFlicks: 0 }) : one,
  );
  return relaid(project, sequenceId, `Close the gap before ${name}`, laid);
}

/** Puts shots, in the order in which they stand, at a place counted from 0 among the others. They show what they showed. */
export function moveShots(project: Project, shotIds: readonly string[], toIndex: number): Edit {
  const sequenceId = sequenceOf(project, shotIds);
  const laid = laidOut(project, sequenceId);
  const moved = laid.filter(({ shot }) => shotIds.includes(shot.id));
  const others = laid.filter(({ shot }) => !shotIds.includes(shot.id));
  const place = Math.max(0, Math.min(others.length, toIndex));
  return relaid(project, sequenceId, `Move ${named(project, shotIds)}`, others.toSpliced(place, 0, ...moved));
}

/** Shots as they lie ready to be put somewhere: each with the scene time that it showed, whatever it went on from. */
export interface CopiedShot {
  readonly shot: Shot;
  readonly sceneStartFlicks: number;
}

/** Shots in their order, to be put in elsewhere. */
export function copiedShots(project: Project, shotIds: readonly string[]): readonly CopiedShot[] {
  return laidOut(project, sequenceOf(project, shotIds)).flatMap(({ shot, sceneStartFlicks = shot.sceneStartFlicks }) =>
    shotIds.includes(shot.id) ? [{ shot, sceneStartFlicks }] : [],
  );
}

/**
 * Puts copies of shots into a sequence after a shot, at its beginning where `afterId` is `undefined`. What a copy refers to and this
 * project has not, it is without: its camera by name.
 * @param ids makes an id for each copy.
 * @throws CoreError `broken-rule` where a sequence would come to be inside itself.
 */
export function putShots(
  project: Project,
  sequenceId: string,
  copied: readonly CopiedShot[],
  afterId: string | undefined,
  ids: () => string,
): Edit {
  const { name } = existing(project, 'sequence', sequenceId);
  const laid = laidOut(project, sequenceId);
  const taken = new Set(Object.values(project.shots).map((shot) => shot.name));
  const copies = copied.map(({ shot, sceneStartFlicks }): LaidShot => {
    const called = taken.has(shot.name) ? nameAfter(shot.name, taken) : shot.name;
    taken.add(called);
    return { shot: { ...known(project, shot), id: ids(), sequenceId, name: called, meant: [] }, sceneStartFlicks };
  });
  const place = laid.findIndex(({ shot }) => shot.id === afterId) + 1;
  const what = copies.length === 1 ? (copied[0]?.shot.name ?? '') : `${copies.length} shots`;
  return relaid(project, sequenceId, `Put ${what} into ${name}`, laid.toSpliced(place, 0, ...copies));
}

/** A shot without what this project does not have. */
function known(project: Project, shot: Shot): Shot {
  const hasCamera = shot.cameraId === null || project.cameras[shot.cameraId] !== undefined;
  const hasInside = shot.insideId === null || project.sequences[shot.insideId] !== undefined;
  return {
    ...shot,
    cameraId: hasCamera ? shot.cameraId : null,
    insideId: hasInside ? shot.insideId : null,
    entry: shot.entry.kind === 'dissolve' ? CUT : shot.entry,
  };
}

/** The sequence that shots are in. @throws CoreError `unknown-entity`. */
function sequenceOf(project: Project, shotIds: readonly string[]): string {
  return existing(project, 'shot', shotIds[0] ?? '').sequenceId;
}
