import { computed, inject, Injectable, signal } from '@angular/core';
import type { CameraLayer, CameraState } from '@arvex/core';
import { appearanceAt, blurCircleMm, paneWindow, sceneTimeAround, soloed } from '@arvex/core';
import type { StageView } from '@arvex/stage';
import { mixedView, viewOf, withShutter } from '@arvex/stage/view';
import { ProjectStore } from '../../data';
import type { FrameName } from '../../drawing';
import type { Seen } from '../../session';
import { Playhead, Tried, Viewpoint } from '../../session';
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
  private readonly tried = inject(Tried);

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
    const view = seen && this.seenAs(seen, this.playhead.playing(), this.playhead.playing() ? undefined : this.rested);
    return view && { view, label: seen };
  });

  /** What is on the screen with the camera looked through in another variation; nothing in a dissolve. */
  dressed(variationId: string): StageView | undefined {
    const seen = this.playhead.seen();
    if (seen?.cameraId === undefined || seen.layers.length > 1) return undefined;
    const state = this.viewpoint.stateDressed(seen.cameraId, seen.sceneFlicks, variationId);
    const view = state && this.viewOf(state, seen.sceneFlicks);
    return view && state && !this.playhead.playing() ? this.rested(view, state) : view;
  }

  /** What is seen at a frame of what plays, while it plays, and its name. */
  at(frame: number): { view: StageView; label: Seen; frame: FrameName } | undefined {
    const seen = this.playhead.seenAtFrame(frame);
    const view = seen && this.seenAs(seen, true, undefined);
    return view && { view, label: seen, frame: { key: this.keyOf(view), at: frame } };
  }

  /** One camera, or what the cut mixes at a frame; nothing in a shot without a camera. */
  private seenAs(
    seen: Seen,
    played: boolean,
    finer: ((view: StageView, state: CameraState, layer?: CameraLayer) => StageView) | undefined,
  ) {
    const shown = (cameraId: string, sceneFlicks: number, layer?: CameraLayer) => {
      const state = this.viewpoint.stateThen(cameraId, sceneFlicks, played, layer?.variationId);
      const view = state && this.viewOf(state, sceneFlicks);
      return view && finer ? finer(view, state, layer) : view;
    };
    const [only] = seen.layers;
    if (seen.mode === 'camera') return seen.cameraId === undefined ? undefined : shown(seen.cameraId, seen.sceneFlicks);
    if (seen.layers.length === 1 && only?.kind === 'camera') return shown(only.cameraId, only.sceneFlicks, only);
    if (seen.layers.length === 0 || (seen.shot && seen.cameraId === undefined)) return undefined;
    return mixedView(seen.layers, seen.shot?.id, (layer) => shown(layer.cameraId, layer.sceneFlicks, layer));
  }

  /** A picture as it is at rest: through the whole lens, with the shutter as long open as it is. */
  private readonly rested = (quick: StageView, state: CameraState, layer?: CameraLayer): StageView => {
    const blurs = this.tools.depthOfField() && isBlurred(state);
    const view = blurs ? { ...quick, aperture: viewOf(state, quick.atFlicks).aperture } : quick;
    const project = this.store.project();
    if (!project || !this.rests()) return view;
    return withShutter(view, project, state, layer && ((offset) => sceneTimeAround(layer, offset)));
  };

  /** Through the middle of the lens. */
  private viewOf(state: CameraState, sceneFlicks: number): StageView | undefined {
    const window = this.windowOf(state);
    if (!window) return undefined;
    const { nearM, farM } = state.focus;
    return this.alone(
      viewOf(state, sceneFlicks, window, {
        aperture: undefined,
        sky: !this.underlaid(state.cameraId),
        display: this.tools.display(),
        sharp: this.tools.marksSharp() ? { nearM, farM } : undefined,
      }),
    );
  }

  /** The light of one group alone, where somebody asked for that. */
  private alone(view: StageView): StageView {
    const [groupId, groups] = [this.tools.soloGroup(), this.store.project()?.lightGroups ?? {}];
    if (groupId === undefined || !groups[groupId]) return view;
    return { ...view, lightMix: soloed(view.lightMix, Object.keys(groups), groupId) };
  }

  private windowOf(state: CameraState) {
    const { width, height } = this.size();
    return height > 0 ? paneWindow(state, width / height, MARGIN) : undefined;
  }

  /** All that a played frame depends on: of each picture in it what is seen, and how the set looks then. */
  private keyOf(view: StageView): string {
    const { width, height } = this.size();
    const project = this.store.project();
    const part = ({ mix, ...own }: StageView): string => {
      const set = project ? appearanceAt(project, own.atFlicks) : '';
      const others = mix?.others.map((other) => `${other.weight} ${part(other.view)}`).join() ?? '';
      const mixed = mix ? JSON.stringify([mix.weight, mix.colour]) : '';
      return `${set} ${JSON.stringify({ ...own, atFlicks: 0 })} ${mixed} ${others}`;
    };
    return `${width}×${height} ${part(view)}`;
  }

  /** Whether a picture lies under the set, so that the sky is left out. */
  private underlaid(cameraId: string): boolean {
    const references = this.store.project()?.cameras[cameraId]?.references ?? [];
    return references.some(({ layer, shown }) => layer === 'under' && shown);
  }

  private rests(): boolean {
    return this.tools.motionBlur() && this.tried.pose() === undefined && !this.tried.moving();
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
