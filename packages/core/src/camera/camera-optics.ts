import type { FilmWindow, ProjectedLens } from '../optics';
import { centredWindow, unsqueezedWidthMm } from '../optics';
import type { CameraState } from './camera-state';

/** The part of a camera's state that its projection needs. */
export function projectedLens(state: CameraState): ProjectedLens {
  return {
    focalLengthMm: state.lens.actingMm,
    squeeze: state.filmBack.squeeze,
    shiftXMm: state.lens.shiftXMm,
    shiftYMm: state.lens.shiftYMm,
    nearM: state.clip.nearM,
    farM: state.clip.farM,
    k1: state.lens.k1,
    parallelMPerMm:
      state.lens.parallelWidthM === null ? null : state.lens.parallelWidthM / unsqueezedWidthMm(state.filmBack),
  };
}

/** The delivered frame on the film plane: what output makes. */
export function deliveredWindow(state: CameraState): FilmWindow {
  return centredWindow(state.framing.used.widthMm, state.framing.used.heightMm);
}

/** The film back on the film plane, squeeze undone. */
export function filmBackWindow(state: CameraState): FilmWindow {
  return centredWindow(unsqueezedWidthMm(state.filmBack), state.filmBack.heightMm);
}

/**
 * The window to draw in a pane of this aspect (width over height): everything delivered and everything on the film back,
 * with a margin round it (share of its size), widened to fill the pane.
 */
export function paneWindow(state: CameraState, paneAspect: number, margin = 0): FilmWindow {
  const { used } = state.framing;
  const width = Math.max(used.widthMm, unsqueezedWidthMm(state.filmBack)) * (1 + 2 * margin);
  const height = Math.max(used.heightMm, state.filmBack.heightMm) * (1 + 2 * margin);
  return paneAspect > width / height
    ? centredWindow(height * paneAspect, height)
    : centredWindow(width, width / paneAspect);
}

/** A window as share of another: 0…1 from the left and from the top. */
export function windowShare(inner: FilmWindow, outer: FilmWindow) {
  const width = outer.rightMm - outer.leftMm;
  const height = outer.topMm - outer.bottomMm;
  return {
    x: (inner.leftMm - outer.leftMm) / width,
    y: (outer.topMm - inner.topMm) / height,
    width: (inner.rightMm - inner.leftMm) / width,
    height: (inner.topMm - inner.bottomMm) / height,
  };
}
