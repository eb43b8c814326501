import { computed, inject, Injectable, signal } from '@angular/core';
import type { CameraState } from '@arvex/core';
import { appearanceAt, blurCircleMm, paneWindow } from '@arvex/core';
import type { StageView } from '@arvex/stage';
import { viewOf, withShutter } from '@arvex/stage/view';
import { ProjectStore } from '../../data';
import type { FrameName } from '../../drawing';
import type { Seen } from '../../session';
import { Playhead, Viewpoint } from '../../session';
import { PictureTools } from './picture-tools';

/** Space round film back and frame, share of their size. */
const MARGIN = 0.025;
/** Blur of what is farthest that is not worth many samples, pixels of the delivery frame. */
const NO_BLUR_PX = 0.7;

/** What the picture shows at any frame: the one place that says so, for the picture itself and for frames drawn before they are seen. */
@Injectable({ providedIn: 'root' })
export class Sight {
  private readonly store = inject(ProjectStore);
  private readonly playhead = inject(Playhead);
  private readonly viewpoint = inject(Viewpoint);
  private readonly tools = inject(PictureTools);

  /** Of the picture, CSS pixels; nothing before it is laid out. */
  readonly size = signal({ width: 0, height: 0 });
  /** The part of the film plane that the picture shows. */
  readonly window = computed(() => {
    const state = this.viewpoint.throughState();
    return state && this.windowOf(state);
  });
  /** Whether the lens or the shutter blurs anything enough to be seen, so that the picture at rest wants many samples. */
  readonly lensBlurs = computed(() => {
    const state = this.viewpoint.throughState();
    return state !== undefined && this.tools.depthOfField() && isBlurred(state);
  });
  /** What is on the screen at rest: with motion blur where nothing is dragged or tried. */
  readonly now = computed<{ view: StageView; label: Seen } | undefined>(() => {
    const seen = this.playhead.seen();
    const state = seen && this.viewpoint.stateSeen(seen);
    const quick = seen && state && this.viewOf(state, seen);
    if (!quick) return undefined;
    if (this.playhead.playing()) return { view: quick, label: seen };
    const view = this.lensBlurs() ? { ...quick, aperture: viewOf(state, seen.sceneFlicks).aperture } : quick;
    return { view: this.rests() ? this.blurred(view, state) : view, label: seen };
  });

  /** What is seen at a frame of what plays, while it plays, and its name. */
  at(frame: number): { view: StageView; label: Seen; frame: FrameName } | undefined {
    const seen = this.playhead.seenAtFrame(frame);
    const state = seen && this.viewpoint.stateSeen(seen, true);
    const view = seen && state && this.viewOf(state, seen);
    return view && { view, label: seen, frame: { key: this.keyOf(view), at: frame } };
  }

  /** Through the middle of the lens. */
  private viewOf(state: CameraState, seen: Seen): StageView | undefined {
    const window = this.windowOf(state);
    if (!window) return undefined;
    const { nearM, farM } = state.focus;
    return viewOf(state, seen.sceneFlicks, window, {
      aperture: undefined,
      sky: !this.underlaid(state.cameraId),
      display: this.tools.display(),
      sharp: this.tools.marksSharp() ? { nearM, farM } : undefined,
    });
  }

  private windowOf(state: CameraState) {
    const { width, height } = this.size();
    return height > 0 ? paneWindow(state, width / height, MARGIN) : undefined;
  }

  /** All that a played frame depends on. */
  private keyOf(view: StageView): string {
    const { width, height } = this.size();
    const project = this.store.project();
    const set = project ? appearanceAt(project, view.atFlicks) : '';
    return `${width}×${height} ${set} ${JSON.stringify({ ...view, atFlicks: 0 })}`;
  }

  /** Whether a picture lies under the set, so that the sky is left out. */
  private underlaid(cameraId: string): boolean {
    const references = this.store.project()?.cameras[cameraId]?.references ?? [];
    return references.some(({ layer, shown }) => layer === 'under' && shown);
  }

  private rests(): boolean {
    const tried = this.viewpoint.trial() ?? this.viewpoint.preview();
    return this.tools.motionBlur() && tried === undefined;
  }

  private blurred(view: StageView, state: CameraState): StageView {
    const project = this.store.project();
    return project ? withShutter(view, project, state) : view;
  }
}

/** Whether anything between the near clip and the sky could be blurred enough to be seen. */
function isBlurred({ lens, focus, framing, clip }: CameraState): boolean {
  if (lens.parallelWidthM !== null) return false;
  const pixels = (objectM: number) =>
    (blurCircleMm(lens.focalLengthMm, focus.fStop, focus.distanceM * 1000, objectM * 1000) * framing.delivery.widthPx) /
    framing.used.widthMm;
  return Math.max(pixels(Math.max(clip.nearM, focus.distanceM / 4)), pixels(1e6)) > NO_BLUR_PX;
}
