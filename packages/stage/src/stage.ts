import type { Vector } from '@arvex/core';
import { clippingLuminance, distanceAlongAxis, sightThrough } from '@arvex/core';
import type { Intersection } from 'three';
import {
  BasicShadowMap,
  Camera,
  Color,
  CustomToneMapping,
  InstancedMesh,
  Matrix3,
  Matrix4,
  Raycaster,
  SRGBColorSpace,
  Vector3,
  WebGLRenderer,
} from 'three';
import type { GrowBoundsTree, StageFiles } from './files';
import { BodyLibrary } from './files';
import { installHighlightShoulder, isPlain, PictureMix, SampleAccumulator } from './passes';
import type { SetPatch } from './patch';
import { SetScene } from './scene';
import type { StageView } from './view';
import { aim, idealView, irisPoint, offsetByPixels, samplePlace, shutterShare, throughAperture } from './view';

/** What lies under a point of a picture, or in the way of a ray. */
export interface Picked {
  readonly pointM: Vector;
  readonly distanceM: number;
  /** Unit normal of the surface in the world. */
  readonly normal: Vector;
  readonly placementId: string | undefined;
}

/** What lies in a view: ids of placements, distances along the axis in metres. */
export interface Survey {
  /** Cut by the near clip. */
  readonly near: string | undefined;
  /** Cut by the far clip. */
  readonly far: string | undefined;
  readonly nearest: { readonly distanceM: number; readonly placementId: string | undefined } | undefined;
  /** What fills the whole window: every sight ends on it. */
  readonly filledBy: string | undefined;
}

/** A place in the world at a scene time. */
export interface PlaceInTime {
  readonly atM: Vector;
  readonly atFlicks: number;
}

/** What is near a place, and how near, metres. */
export interface Near {
  readonly distanceM: number;
  readonly placementId: string | undefined;
}

/** What a quick picture may leave out. */
export interface QuickDrawing {
  /** Whether shadows are drawn anew where something has moved; otherwise they stay where they were drawn last. */
  readonly shadows: boolean;
  /** Whether light is worked out at corners only, without shadows. */
  readonly lean: boolean;
}

/** How much goes into a quick picture. */
export interface Effort extends QuickDrawing {
  /** Of the width and height that the picture has on the screen. */
  readonly share: number;
}

const WHOLE: QuickDrawing = { shadows: true, lean: false };

/** How the set is lit for a picture: quickly, or as one sample of a finer one. */
interface Prepared extends QuickDrawing {
  readonly sample: number | undefined;
}

/** Makes pictures of a project on a canvas, alike in a window and in a worker. Draws only when asked. */
export class Stage {
  private readonly renderer: WebGLRenderer;
  private readonly library: BodyLibrary;
  private readonly set: SetScene;
  private readonly camera = new Camera();
  /**
   * Told when the graphics are lost (another program took them, or their driver began anew), and when they are back: then every
   * picture has to be drawn again.
   */
  contextLost: ((lost: boolean) => void) | undefined;
  /** What {@link refine} makes finer, sample by sample, over many calls. */
  private readonly resting = new SampleAccumulator();
  /** The same for each picture that is mixed into it. */
  private readonly restingOthers: SampleAccumulator[] = [];
  /** What is made at once. Nothing made here disturbs what is being refined. */
  private readonly atOnce = new SampleAccumulator();
  private readonly mix = new PictureMix();

  constructor(
    readonly canvas: OffscreenCanvas,
    files: StageFiles,
  ) {
    installHighlightShoulder();
    this.renderer = new WebGLRenderer({ canvas, antialias: false, alpha: true, powerPreference: 'high-performance' });
    this.renderer.outputColorSpace = SRGBColorSpace;
    this.renderer.toneMapping = CustomToneMapping;
    this.renderer.setPixelRatio(1);
    this.renderer.setClearColor(new Color(0, 0, 0), 0);
    this.renderer.shadowMap.enabled = true;
    // One look into the map for each pixel: edges come out soft because each sample looks a little aside.
    this.renderer.shadowMap.type = BasicShadowMap;
    canvas.addEventListener('webglcontextlost', () => this.contextLost?.(true));
    canvas.addEventListener('webglcontextrestored', () => {
      this.set.forgetShadows();
      this.contextLost?.(false);
    });
    this.library = new BodyLibrary(files);
    this.set = new SetScene(this.library);
  }

  /** Lets search trees of large geometry be built in another thread. */
  set growBoundsTree(grow: GrowBoundsTree) {
    this.library.growBoundsTree = grow;
  }

  /** Brings the set to the project's state. @returns hashes of files that could not be read. */
  follow(patch: SetPatch): Promise<string[]> {
    return this.set.follow(patch);
  }

  /** Draws one sample through the middle of the lens: the quickest picture, and quicker still where less is asked of it. */
  draw(view: StageView, widthPx: number, heightPx: number, { shadows, lean }: QuickDrawing = WHOLE): void {
    if (view.mix) {
      const quickly = (part: StageView) => this.addQuick(part, widthPx, heightPx, { shadows, lean });
      this.showMixed(view, widthPx, heightPx, (part) => {
        quickly(part);
        return this.atOnce;
      });
      return;
    }
    this.prepare(view, widthPx, heightPx, { shadows, lean });
    if (isPlain(view)) {
      aim(this.camera, view);
      this.renderer.setRenderTarget(null);
      this.renderer.render(this.set.scene, this.camera);
    } else {
      this.addQuick(view, widthPx, heightPx, { shadows, lean });
      this.atOnce.show(this.renderer, view);
    }
  }

  /** One sample through the middle of the lens, to be developed. */
  private addQuick(view: StageView, widthPx: number, heightPx: number, how: QuickDrawing): void {
    this.prepare(view, widthPx, heightPx, how);
    this.atOnce.restart(widthPx, heightPx);
    aim(this.camera, idealView(view));
    this.atOnce.add(this.renderer, () => this.renderer.render(this.set.scene, this.camera));
  }

  /** Mixes the pictures of a view: `drawn` draws each of them, by its place among them, and says where it is. */
  private showMixed(
    view: StageView,
    widthPx: number,
    heightPx: number,
    drawn: (part: StageView, index: number) => SampleAccumulator,
  ): void {
    this.mix.begin(this.renderer, widthPx, heightPx, view.mix?.colour);
    for (const [index, { view: part, weight }] of partsOf(view).entries()) {
      if (weight > 0) this.mix.add(this.renderer, drawn(part, index), part, weight);
    }
    this.mix.show(this.renderer);
  }

  /** Draws sample `index` of a finer picture, beginning anew at 0, and shows the mean of all so far when `show` is set. */
  refine(view: StageView, widthPx: number, heightPx: number, index: number, show = true): void {
    const parts = partsOf(view);
    for (const [place, part] of parts.entries()) {
      if (part.weight > 0) this.sample(this.restingAt(place), part.view, widthPx, heightPx, index);
    }
    if (!show) return;
    if (view.mix) this.showMixed(view, widthPx, heightPx, (_part, place) => this.restingAt(place));
    else this.resting.show(this.renderer, view);
  }

  private restingAt(place: number): SampleAccumulator {
    return place === 0 ? this.resting : (this.restingOthers[place - 1] ??= new SampleAccumulator());
  }

  /** Draws a picture of so many samples at once, for output. */
  drawFine(view: StageView, widthPx: number, heightPx: number, samples: number): void {
    const drawn = (part: StageView) => {
      for (let index = 0; index < samples; index++) this.sample(this.atOnce, part, widthPx, heightPx, index);
      return this.atOnce;
    };
    if (view.mix) this.showMixed(view, widthPx, heightPx, drawn);
    else drawn(view).show(this.renderer, view);
  }

  private sample(
    into: SampleAccumulator,
    view: StageView,
    widthPx: number,
    heightPx: number,
    index: number,
    canvas = { width: widthPx, height: heightPx },
  ): void {
    const sample = sampleView(view, index, widthPx, heightPx);
    this.prepare(sample, canvas.width, canvas.height, { sample: index });
    if (index === 0) into.restart(widthPx, heightPx);
    aim(this.camera, sample);
    into.add(this.renderer, () => this.renderer.render(this.set.scene, this.camera));
  }

  /** Light of a picture of so many samples, linear RGBA in cd/m², rows from the top: what meters and scopes read. */
  light(view: StageView, widthPx: number, heightPx: number, samples = 1): Float32Array {
    if (samples === 1) return this.quickLight(view, widthPx, heightPx);
    const { width, height } = this.canvas;
    for (let index = 0; index < samples; index++)
      this.sample(this.atOnce, view, widthPx, heightPx, index, { width, height });
    return this.atOnce.read(this.renderer);
  }

  /** Light of a quick picture, as {@link draw} makes it: linear RGBA in cd/m², rows from the top. */
  quickLight(view: StageView, widthPx: number, heightPx: number, how: QuickDrawing = WHOLE): Float32Array {
    this.prepare(view, this.canvas.width, this.canvas.height, how);
    this.atOnce.restart(widthPx, heightPx);
    aim(this.camera, idealView(view));
    this.atOnce.add(this.renderer, () => this.renderer.render(this.set.scene, this.camera));
    return this.atOnce.read(this.renderer);
  }

  /** What lies in the window, found along a grid of sights: the nearest thing, and what the clip distances cut away. */
  survey(view: StageView): Survey {
    const { pose, lens, window } = view;
    this.set.goTo(view.atFlicks);
    let [near, far]: (string | undefined)[] = [undefined, undefined];
    let nearest: Survey['nearest'];
    const seen = new Set<string | undefined>();
    for (let i = 0; i < CLIP_GRID * CLIP_GRID; i++) {
      const [x, y] = [((i % CLIP_GRID) + 0.5) / CLIP_GRID, (Math.floor(i / CLIP_GRID) + 0.5) / CLIP_GRID];
      const { fromM, direction } = sightThrough(x, y, pose, lens, window);
      const hit = this.cast(fromM, direction, lens.farM * CLIP_SEARCH);
      seen.add(hit?.placementId);
      if (!hit) continue;
      const depth = distanceAlongAxis(pose, hit.pointM);
      if (depth < (nearest?.distanceM ?? Infinity)) nearest = { distanceM: depth, placementId: hit.placementId };
      if (depth < lens.nearM) near ??= hit.placementId;
      else if (depth > lens.farM) far ??= hit.placementId;
    }
    return { near, far, nearest, filledBy: seen.size === 1 ? nearest?.placementId : undefined };
  }

  /** The nearest surface under a point of the window (0…1, top left origin), through the same projection as the picture. */
  pick(view: StageView, x: number, y: number): Picked | undefined {
    const { pose, lens, window } = view;
    this.set.goTo(view.atFlicks);
    const { fromM, direction } = sightThrough(x, y, pose, lens, window);
    return this.cast(fromM, direction, lens.farM);
  }

  /** The nearest surface in a direction (unit vector) from a point, at most `farM` away, passing over `except`. */
  cast(fromM: Vector, direction: Vector, farM: number, except: readonly string[] = []): Picked | undefined {
    const ray = new Raycaster(new Vector3(...fromM), new Vector3(...direction), 0, farM);
    ray.firstHitOnly = except.length === 0;
    for (const hit of ray.intersectObjects(this.set.scene.children, true)) {
      const placementId = this.set.ownerOf(hit);
      if (placementId !== undefined && except.includes(placementId)) continue;
      const normal = normalAt(hit);
      if (normal.dot(ray.ray.direction) > 0) normal.negate();
      const { x, y, z } = hit.point;
      return { pointM: [x, y, z], distanceM: hit.distance, normal: [normal.x, normal.y, normal.z], placementId };
    }
    return undefined;
  }

  /** What is nearest to each place at its time, no farther than so far, along sights in all directions. */
  clearances(places: readonly PlaceInTime[], withinM: number): (Near | undefined)[] {
    return places.map(({ atM, atFlicks }) => {
      this.set.goTo(atFlicks);
      let nearest: Near | undefined;
      for (const direction of ALL_ROUND) {
        const hit = this.cast(atM, direction, nearest?.distanceM ?? withinM);
        if (hit) nearest = { distanceM: hit.distanceM, placementId: hit.placementId };
      }
      return nearest;
    });
  }

  /** Heights of the ground under points, cast down from `fromAboveM` over each; `undefined` where there is none. */
  groundUnder(points: readonly Vector[], fromAboveM: number, except: readonly string[]): (number | undefined)[] {
    return points.map(([x, y, z]) => this.cast([x, y + fromAboveM, z], [0, -1, 0], GROUND_SEARCH_M, except)?.pointM[1]);
  }

  /** Resolves when everything asked of the graphics so far has been drawn. */
  async drawn(): Promise<void> {
    const gl = this.renderer.getContext() as WebGL2RenderingContext;
    const fence = gl.fenceSync(gl.SYNC_GPU_COMMANDS_COMPLETE, 0);
    if (!fence) return;
    gl.flush();
    while (gl.clientWaitSync(fence, 0, 0) === gl.TIMEOUT_EXPIRED) {
      await new Promise((resolve) => setTimeout(resolve, 2));
    }
    gl.deleteSync(fence);
  }

  /** Draw calls and triangles of the last picture. */
  get effort(): { readonly calls: number; readonly triangles: number } {
    const { calls, triangles } = this.renderer.info.render;
    return { calls, triangles };
  }

  /** How much the graphics hold for this stage: geometries and textures, shadows and samples among them. */
  get held(): { readonly geometries: number; readonly textures: number } {
    const { geometries, textures } = this.renderer.info.memory;
    return { geometries, textures };
  }

  /** Frees everything that was made, the graphics context too: a browser has only some of them. */
  dispose(): void {
    this.contextLost = undefined;
    this.set.dispose();
    for (const one of [this.resting, ...this.restingOthers]) one.dispose();
    this.mix.dispose();
    this.atOnce.dispose();
    this.renderer.dispose();
    this.renderer.forceContextLoss();
  }

  private prepare(view: StageView, widthPx: number, heightPx: number, how: Partial<Prepared> = {}): void {
    const { shadows, lean, sample } = { ...WHOLE, sample: undefined, ...how };
    this.set.lean = lean;
    if (this.canvas.width !== widthPx || this.canvas.height !== heightPx) {
      this.renderer.setSize(widthPx, heightPx, false);
    }
    const clipping = clippingLuminance(view.ev, 0);
    this.renderer.toneMappingExposure = 1 / clipping;
    this.set.goTo(view.atFlicks, shadows);
    this.set.shine(view.lightMix, clipping, sample, shadows);
    this.set.daylight.skyShown = view.sky;
    this.set.daylight.surround(view.pose.positionM, view.lens.nearM, view.lens.farM);
  }
}

/** The pictures that a view is made of, with their weights: itself, and what is mixed into it. */
function partsOf(view: StageView): readonly { readonly view: StageView; readonly weight: number }[] {
  return [{ view, weight: view.mix?.weight ?? 1 }, ...(view.mix?.others ?? [])];
}

/** The view of one sample: at its moment of the shutter and its place within the pixel, through its point of the aperture. */
export function sampleView(view: StageView, index: number, widthPx: number, heightPx: number): StageView {
  const place = samplePlace(index);
  const moment = view.shutter[Math.floor(shutterShare(index) * view.shutter.length)];
  const jittered = offsetByPixels(
    idealView(moment ? { ...view, ...moment } : view),
    place.x,
    place.y,
    widthPx,
    heightPx,
  );
  if (!view.aperture) return jittered;
  const { diameterM, focusM, iris, squeeze } = view.aperture;
  const point = irisPoint(iris, index);
  return throughAperture(jittered, focusM, (point.x * diameterM) / 2 / squeeze, (point.y * diameterM) / 2);
}

/** Directions to the faces, edges and corners of a cube, of length 1. */
const ALL_ROUND: readonly Vector[] = [-1, 0, 1].flatMap((x) =>
  [-1, 0, 1].flatMap((y) =>
    [-1, 0, 1].flatMap((z): Vector[] => {
      const length = Math.hypot(x, y, z);
      return length === 0 ? [] : [[x / length, y / length, z / length]];
    }),
  ),
);

/** Sights along each side of the frame on which clipped things are looked for, and how far beyond the far clip. */
const CLIP_GRID = 11;

const CLIP_SEARCH = 20;

/** Normal of the surface that was hit, in the world. */
function normalAt(hit: Intersection): Vector3 {
  const normal = (hit.face?.normal ?? new Vector3(0, 1, 0)).clone();
  const world = hit.object.matrixWorld.clone();
  if (hit.object instanceof InstancedMesh && hit.instanceId !== undefined) {
    const instance = new Matrix4();
    hit.object.getMatrixAt(hit.instanceId, instance);
    world.multiply(instance);
  }
  return normal.applyNormalMatrix(new Matrix3().getNormalMatrix(world)).normalize();
}

/** How far down the ground is looked for, metres. */
const GROUND_SEARCH_M = 2000;
