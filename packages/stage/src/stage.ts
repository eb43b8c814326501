import type { Lut } from '@arvex/core';
import { BasicShadowMap, Camera, Color, CustomToneMapping, SRGBColorSpace, WebGLRenderer } from 'three';
import type { GrowBoundsTree, StageFiles } from './files';
import { BodyLibrary } from './files';
import type { GroupsApart } from './group-sums';
import { GroupSums } from './group-sums';
import { OutputPictures } from './output-pictures';
import type { QuickDrawing } from './painter';
import { Painter, WHOLE } from './painter';
import { installHighlightShoulder, isPlain, LookDrawing, PictureMix, SampleAccumulator } from './passes';
import type { SetPatch } from './patch';
import { SetScene } from './scene';
import { Sights } from './sights';
import type { StageView } from './view';
import { aim, layersOf } from './view';

/** How much goes into a quick picture. */
export interface Effort extends QuickDrawing {
  /** Of the width and height that the picture has on the screen. */
  readonly share: number;
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
  private readonly looks = new LookDrawing();
  /** What {@link refine} makes finer, sample by sample, over many calls. */
  private readonly resting = new SampleAccumulator(this.looks);
  /** The same for each picture that is mixed into it. */
  private readonly restingOthers: SampleAccumulator[] = [];
  /** What is made at once. Nothing made here disturbs what is being refined. */
  private readonly atOnce = new SampleAccumulator(this.looks);
  private groupSums: GroupSums | undefined;
  private readonly mix = new PictureMix();
  private readonly painter: Painter;
  private outputPictures: OutputPictures | undefined;
  /** Why something was not drawn. */
  private refused: string | undefined;
  /** What sights into the set meet. */
  readonly sights: Sights;

  constructor(
    readonly canvas: OffscreenCanvas,
    files: StageFiles,
  ) {
    installHighlightShoulder();
    this.renderer = new WebGLRenderer({ canvas, antialias: false, alpha: true, powerPreference: 'high-performance' });
    this.renderer.outputColorSpace = SRGBColorSpace;
    this.renderer.toneMapping = CustomToneMapping;
    this.renderer.debug.onShaderError = (gl, program) => {
      this.refused = `The graphics of this machine cannot draw this: ${gl.getProgramInfoLog(program) ?? 'no reason given'}`;
    };
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
    this.painter = new Painter(this.renderer, this.set, this.camera);
    this.looks.drawMask = (_renderer, view, into) => this.painter.glowMask(view, into);
    this.sights = new Sights(this.set);
  }

  /** Lets search trees of large geometry be built in another thread. */
  set growBoundsTree(grow: GrowBoundsTree) {
    this.library.growBoundsTree = grow;
  }

  /** Brings the set to the project's state. @returns hashes of files that could not be read. */
  async follow(patch: SetPatch): Promise<string[]> {
    const missing = await this.set.follow(patch);
    const luts = new Map<string, Lut>();
    await Promise.all(
      this.set.lutFiles.map(async ([id, hash]) => {
        const lut = await this.library.lut(hash).catch(() => void missing.push(hash));
        if (lut) luts.set(id, lut);
      }),
    );
    this.looks.tables.keep(luts);
    return missing;
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
    this.sizeCanvas(widthPx, heightPx);
    if (isPlain(view)) {
      this.painter.light(view, { shadows, lean, sample: undefined });
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
    this.painter.quick(this.atOnce, view, { width: widthPx, height: heightPx }, how);
  }

  /** Mixes the pictures of a view: `drawn` draws each of them, by its place among them, and says where it is. */
  private showMixed(
    view: StageView,
    widthPx: number,
    heightPx: number,
    drawn: (part: StageView, index: number) => SampleAccumulator,
  ): void {
    this.sizeCanvas(widthPx, heightPx);
    this.mix.begin(this.renderer, widthPx, heightPx, view.mix?.colour);
    for (const [index, { view: part, weight }] of layersOf(view).entries()) {
      if (weight > 0) this.mix.add(this.renderer, drawn(part, index), part, weight);
    }
    this.mix.show(this.renderer);
  }

  /** Draws sample `index` of a finer picture, beginning anew at 0, and shows the mean of all so far when `show` is set. */
  refine(view: StageView, widthPx: number, heightPx: number, index: number, show = true): void {
    this.sizeCanvas(widthPx, heightPx);
    for (const [place, part] of layersOf(view).entries()) {
      if (part.weight === 0) continue;
      this.painter.sample(this.restingAt(place), part.view, { width: widthPx, height: heightPx }, index);
    }
    if (!show) return;
    if (view.mix) this.showMixed(view, widthPx, heightPx, (_part, place) => this.restingAt(place));
    else this.resting.show(this.renderer, view);
  }

  /** Shows the samples of a finer picture again: they are those of this view but for its look, or how it is displayed. */
  redevelop(view: StageView, widthPx: number, heightPx: number): void {
    this.sizeCanvas(widthPx, heightPx);
    if (view.mix) this.showMixed(view, widthPx, heightPx, (_part, place) => this.restingAt(place));
    else this.resting.show(this.renderer, view);
  }

  /** Takes sample `index` of a view for each light group by itself, beginning anew at 0. */
  sampleGroups(view: StageView, widthPx: number, heightPx: number, index: number, groups: GroupsApart): void {
    this.groupSums ??= new GroupSums(this.renderer, this.painter, this.looks);
    this.groupSums.sample(view, { width: widthPx, height: heightPx }, index, groups);
  }

  /** Shows a view by the samples of its light groups: in the place of the finer picture's own. */
  remix(view: StageView, widthPx: number, heightPx: number): void {
    this.groupSums?.mixInto(this.resting, view.lightMix);
    this.redevelop(view, widthPx, heightPx);
  }

  private restingAt(place: number): SampleAccumulator {
    return place === 0 ? this.resting : (this.restingOthers[place - 1] ??= new SampleAccumulator(this.looks));
  }

  /** Draws a picture of so many samples at once. */
  drawFine(view: StageView, widthPx: number, heightPx: number, samples: number): void {
    this.sizeCanvas(widthPx, heightPx);
    if (samples === 1 && !view.mix && isPlain(view)) {
      this.painter.light(view, { ...WHOLE, sample: undefined });
      aim(this.camera, view);
      this.renderer.setRenderTarget(null);
      this.renderer.render(this.set.scene, this.camera);
      return;
    }
    const drawn = (part: StageView) => {
      for (let index = 0; index < samples; index++)
        this.painter.sample(this.atOnce, part, { width: widthPx, height: heightPx }, index);
      return this.atOnce;
    };
    if (view.mix) this.showMixed(view, widthPx, heightPx, drawn);
    else drawn(view).show(this.renderer, view);
  }

  /** Pictures that leave the building. */
  get output(): OutputPictures {
    return (this.outputPictures ??= new OutputPictures(this.renderer, this.painter, this.looks));
  }

  /** Light of a picture of so many samples, linear RGBA in cd/m², rows from the top: what meters and scopes read. */
  light(view: StageView, widthPx: number, heightPx: number, samples = 1): Float32Array {
    if (samples === 1) return this.quickLight(view, widthPx, heightPx);
    for (let index = 0; index < samples; index++)
      this.painter.sample(this.atOnce, view, { width: widthPx, height: heightPx }, index);
    return this.atOnce.read(this.renderer);
  }

  /** A picture of so many samples as it is shown, linear RGBA from 0 to 1, rows from the top: with all that its look does. */
  shown(view: StageView, widthPx: number, heightPx: number, samples: number): Float32Array {
    const size = { width: widthPx, height: heightPx };
    return this.output.shown({ view, size, samples }, { x: 0, y: 0, ...size });
  }

  /** Light of a quick picture, as {@link draw} makes it: linear RGBA in cd/m², rows from the top. */
  quickLight(view: StageView, widthPx: number, heightPx: number, how: QuickDrawing = WHOLE): Float32Array {
    this.addQuick(view, widthPx, heightPx, how);
    return this.atOnce.read(this.renderer);
  }

  /** Whether the graphics are there: what was drawn while they were lost is nothing. */
  get isLost(): boolean {
    return this.renderer.getContext().isContextLost();
  }

  /** What draws, by the name that it gives itself; browsers say that in an extension, and one name for all without it. */
  get graphics(): string {
    const gl = this.renderer.getContext();
    const named = gl.getExtension('WEBGL_debug_renderer_info');
    return String(gl.getParameter(named?.UNMASKED_RENDERER_WEBGL ?? gl.RENDERER));
  }

  /** @throws Error when something that was asked for could not be drawn, so that nothing black leaves in its place. */
  mustHaveDrawn(): void {
    if (this.refused !== undefined) throw new Error(this.refused);
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
    this.groupSums?.dispose();
    this.mix.dispose();
    this.atOnce.dispose();
    this.outputPictures?.dispose();
    this.looks.dispose();
    this.renderer.dispose();
    this.renderer.forceContextLoss();
  }

  private sizeCanvas(widthPx: number, heightPx: number): void {
    if (this.canvas.width === widthPx && this.canvas.height === heightPx) return;
    this.renderer.setSize(widthPx, heightPx, false);
  }
}
