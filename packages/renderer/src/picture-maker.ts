import type { Project } from '@arvex/core';
import type { StageFiles, StageView } from '@arvex/stage';
import { NOTHING_STAGED, setPatch, Stage } from '@arvex/stage';

/** Makes pictures of one project. */
export interface PictureMaker {
  /** Takes the project in. @returns hashes of files that could not be had. */
  follow(project: Project): Promise<readonly string[]>;
  /** A picture as PNG, the mean of so many samples. */
  png(view: StageView, widthPx: number, heightPx: number, samples: number): Promise<Blob>;
  dispose(): void;
}

/** Pictures from a stage of their own. */
export function stagePictures(canvas: OffscreenCanvas, files: StageFiles): PictureMaker {
  const stage = new Stage(canvas, files);
  return {
    follow: (project) => stage.follow(setPatch(NOTHING_STAGED, project)),
    png: async (view, widthPx, heightPx, samples) => {
      stage.drawFine(view, widthPx, heightPx, samples);
      return stage.canvas.convertToBlob({ type: 'image/png' });
    },
    dispose: () => stage.dispose(),
  };
}
