import type { CutShot } from './cut';

/** Shots that follow one another in one scene. */
export interface SceneRun {
  /** As the script counts it; empty for shots of no scene. */
  readonly name: string;
  readonly shots: readonly CutShot[];
}

/** The shots of a cut by scenes. A scene that is left and taken up again is there twice, as an audience sees it. */
export function sceneRuns(shots: readonly CutShot[]): SceneRun[] {
  const runs: { name: string; shots: CutShot[] }[] = [];
  for (const placed of shots) {
    const before = runs.at(-1);
    if (before?.name === placed.shot.scene) before.shots.push(placed);
    else runs.push({ name: placed.shot.scene, shots: [placed] });
  }
  return runs;
}
