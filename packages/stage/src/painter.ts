import { clippingLuminance } from '@arvex/core';
import type { Camera, WebGLRenderer, WebGLRenderTarget } from 'three';
import type { DrawnSample, SampleAccumulator } from './passes';
import type { Lit, SetScene } from './scene';
import type { StageView } from './view';
import {
  aim,
  AS_AT_WORK,
  idealView,
  irisPoint,
  offsetByPixels,
  samplePlace,
  shutterShare,
  throughAperture,
} from './view';

/** What a quick picture may leave out. */
export interface QuickDrawing {
  /** Whether shadows are drawn anew where something has moved; otherwise they stay where they were drawn last. */
  readonly shadows: boolean;
  /** Whether light is worked out at corners only, without shadows. */
  readonly lean: boolean;
}

export const WHOLE: QuickDrawing = { shadows: true, lean: false };

/** What one sample of a picture for output is drawn with. */
export interface SampleDrawing {
  /** Other light than the view's own. */
  readonly lit?: Partial<Lit>;
  /** Wraps what draws the set. */
  readonly through?: (set: SetScene, draw: () => void) => void;
  /** Whether the sample stays in the middle of its pixels. */
  readonly centred?: boolean;
}

/** Size of a picture in pixels. */
export interface PixelSize {
  readonly width: number;
  readonly height: number;
}

/** Draws samples of views of a set. */
export class Painter {
  constructor(
    private readonly renderer: WebGLRenderer,
    private readonly set: SetScene,
    private readonly camera: Camera,
  ) {}

  /** One sample through the middle of the lens, to be developed. */
  quick(into: SampleAccumulator, view: StageView, size: PixelSize, how: QuickDrawing): void {
    this.light(view, { ...how, sample: undefined });
    into.restart(size.width, size.height);
    aim(this.camera, idealView(view));
    into.only(this.renderer, view, this.drawn(view));
  }

  /** Sample `index` of a finer picture, which begins anew at 0. */
  sample(
    into: SampleAccumulator,
    view: StageView,
    { width, height }: PixelSize,
    index: number,
    how: SampleDrawing = {},
  ): void {
    const sample = how.centred ? momentOf(view, index) : sampleView(view, index, width, height);
    this.light(sample, { shadows: true, lean: false, sample: index }, how.lit);
    if (index === 0) into.restart(width, height);
    aim(this.camera, sample);
    const drawn = this.drawn(view);
    const { through } = how;
    into.add(this.renderer, view, through ? { draw: () => through(this.set, drawn.draw) } : drawn);
  }

  /** Lights the set, and puts everything where it is, as a picture of a view wants it. */
  light(
    view: StageView,
    { shadows, lean, sample }: QuickDrawing & { sample: number | undefined },
    lit: Partial<Lit> = {},
  ): void {
    const { shading, lampBodies } = view.rendering ?? AS_AT_WORK;
    const flat = shading === 'lean' || shading === 'lines';
    this.set.finish = shading === 'clay' ? 'clay' : flat ? 'leanest' : lean ? 'lean' : 'full';
    this.set.lampBodies = lampBodies;
    const clipping = clippingLuminance(view.ev, 0);
    this.renderer.toneMappingExposure = 1 / clipping;
    this.set.goTo(view.atFlicks, shadows);
    // Light at corners has no shadows: none is drawn, and the whole sky shines.
    this.set.shine({ mix: view.lightMix, ...lit }, clipping, flat ? undefined : sample, shadows && !flat);
    this.set.daylight.skyShown = view.sky;
    this.set.daylight.surround(view.pose.positionM, view.lens.nearM, view.lens.farM);
  }

  /** Whether anything of a light group gives light. */
  hasLightOf(lightGroupId: string | null): boolean {
    return this.set.hasLightOf(lightGroupId);
  }

  /** What of a view may glow, in white: chosen things with all they carry, or the bodies of lamps of chosen light groups. */
  glowMask(view: StageView, into: WebGLRenderTarget): void {
    const { of } = view.look.glow;
    if (of.kind === 'all') return;
    this.set.goTo(view.atFlicks, false);
    this.set.daylight.skyShown = false;
    aim(this.camera, idealView(view));
    this.renderer.setRenderTarget(into);
    const draw = () => this.renderer.render(this.set.scene, this.camera);
    this.set.mask(of.kind === 'things' ? of.ids : this.set.inGroups(of.ids), draw);
    this.renderer.setRenderTarget(null);
  }

  private drawn({ rendering }: StageView): DrawnSample {
    const draw = () => this.renderer.render(this.set.scene, this.camera);
    if (!rendering?.catchesShadow) return { draw };
    return {
      draw: () => this.set.withoutGround(draw),
      shade: { lit: () => this.set.groundAlone(draw), bare: () => this.set.bareGround(draw) },
    };
  }
}

/** The view of one sample: at its moment of the shutter and its place within the pixel, through its point of the aperture. */
export function sampleView(view: StageView, index: number, widthPx: number, heightPx: number): StageView {
  const place = samplePlace(index);
  const jittered = offsetByPixels(idealView(momentOf(view, index)), place.x, place.y, widthPx, heightPx);
  if (!view.aperture) return jittered;
  const { diameterM, focusM, iris, squeeze } = view.aperture;
  const point = irisPoint(iris, index);
  return throughAperture(jittered, focusM, (point.x * diameterM) / 2 / squeeze, (point.y * diameterM) / 2);
}

/** The view at the moment of the shutter at which a sample is taken. */
function momentOf(view: StageView, index: number): StageView {
  const moment = view.shutter[Math.floor(shutterShare(index) * view.shutter.length)];
  return moment ? { ...view, ...moment } : view;
}
