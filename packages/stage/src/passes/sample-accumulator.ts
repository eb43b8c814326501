import { clippingLuminance } from '@arvex/core';
import type { IUniform, Texture, WebGLRenderer } from 'three';
import {
  DepthTexture,
  FloatType,
  MaxEquation,
  Mesh,
  NearestFilter,
  OrthographicCamera,
  PlaneGeometry,
  Scene,
  ShaderMaterial,
  UnsignedIntType,
  Vector3,
  WebGLRenderTarget,
} from 'three';
import type { StageView } from '../view';
import { AS_AT_WORK } from '../view';
import { ADDED, Adding, FULL_VERTEX, shadeMaterial } from './adding';
import type { Output } from './developing';
import { Developing } from './developing';
import type { Glow, GlowTextures } from './glow';
import { glowGrid, glows } from './glow';
import type { LookDrawing } from './look-drawing';

/** What draws a sample, and where a shadow is caught the ground as it is lit, and as it would be with nothing on it. */
export interface DrawnSample {
  readonly draw: () => void;
  readonly shade?: { readonly lit: () => void; readonly bare: () => void } | undefined;
}

/** Adds up samples of a picture in linear light, so that edges, focus and motion come out smooth, and develops the sum. */
export class SampleAccumulator {
  // Full floats: a lamp of a million cd/m² is still that bright in a blurred disc.
  private readonly sample = new WebGLRenderTarget(1, 1, {
    type: FloatType,
    minFilter: NearestFilter,
    magFilter: NearestFilter,
    depthTexture: new DepthTexture(1, 1, UnsignedIntType),
  });
  private readonly sum = new WebGLRenderTarget(1, 1, { type: FloatType, depthBuffer: false });
  /** The ground with nothing on it, and what it loses: made by the first picture that catches a shadow. */
  private caught:
    { readonly bare: WebGLRenderTarget; readonly sum: WebGLRenderTarget; readonly scene: Scene } | undefined;
  private hasShade = false;
  private readonly camera = new OrthographicCamera();
  private readonly adding = new Scene();
  private readonly showing = new Scene();
  private readonly adder = new Adding(this.sample.texture, this.sample.depthTexture);
  private readonly developing: Developing;
  /** White where what is there may glow, and for which view and what it was drawn. */
  private mask: { readonly target: WebGLRenderTarget; of: string | undefined } | undefined;
  private readonly pictures: Mesh<PlaneGeometry, ShaderMaterial>[] = [];
  private count = 0;
  /** Stands for the samples that are there. */
  private samples = {};
  /** Whether the last sample is all there is. */
  private isSample = false;
  private factored: { readonly uniforms: Record<string, IUniform>; readonly scene: Scene } | undefined;

  constructor(private readonly looks: LookDrawing) {
    this.developing = new Developing(this.sample.depthTexture, looks.tables);
    this.adding.add(this.fullPicture(this.adder.material));
    this.showing.add(this.fullPicture(this.developing.material));
  }

  /** Forgets all samples and takes pictures of this size from now on. */
  restart(widthPx: number, heightPx: number): void {
    this.hold(0);
    this.isSample = false;
    this.hasShade = false;
    if (this.mask) this.mask.of = undefined;
    this.sample.setSize(widthPx, heightPx);
    this.sum.setSize(widthPx, heightPx);
  }

  /** Takes what is drawn of a view as all there is: nothing is added up. Where lines are drawn or a shadow is caught, as {@link add}. */
  only(renderer: WebGLRenderer, view: StageView, drawn: DrawnSample): void {
    const { shading } = view.rendering ?? AS_AT_WORK;
    if (drawn.shade || (shading !== 'full' && shading !== 'lean' && shading !== 'clay'))
      return this.add(renderer, view, drawn);
    renderer.setRenderTarget(this.sample);
    drawn.draw();
    renderer.setRenderTarget(null);
    this.hold(1);
    this.isSample = true;
  }

  /** Adds what is drawn of a view. */
  add(renderer: WebGLRenderer, view: StageView, { draw, shade }: DrawnSample): void {
    const { width, height } = this.sum;
    this.adder.set(view, width, height, clippingLuminance(view.ev, 0));
    renderer.setRenderTarget(this.sample);
    draw();
    this.addTo(renderer, this.sum, this.adding);
    if (shade) this.addShade(renderer, shade);
    renderer.setRenderTarget(null);
    this.hold(this.count + 1);
  }

  /** Other samples are there now, so many. */
  private hold(count: number): void {
    this.count = count;
    this.samples = {};
  }

  /** What has been added up, before it is divided. */
  get texture(): Texture {
    return this.sum.texture;
  }

  /** Adds one sample in parts, each drawn by a scene that fills what is its own. */
  addParts(renderer: WebGLRenderer, parts: Iterable<Scene>): void {
    renderer.setRenderTarget(this.sum);
    if (this.count === 0) renderer.clear();
    for (const part of parts) {
      renderer.setRenderTarget(this.sum);
      renderer.autoClear = false;
      renderer.render(part, this.camera);
      renderer.autoClear = true;
    }
    renderer.setRenderTarget(null);
    this.hold(this.count + 1);
  }

  /** What others have added up, each times a factor, in the place of the samples: of the same size and as many. */
  setSum(renderer: WebGLRenderer, parts: readonly { readonly of: SampleAccumulator; readonly factor: Rgb }[]): void {
    const { width, height } = parts[0]?.of.sum ?? this.sum;
    this.sum.setSize(width, height);
    const factored = (this.factored ??= this.factoring());
    renderer.setRenderTarget(this.sum);
    renderer.clear();
    renderer.autoClear = false;
    for (const { of, factor } of parts) {
      (factored.uniforms['picture'] as IUniform).value = of.sum.texture;
      (factored.uniforms['factor']?.value as Vector3).set(...factor);
      renderer.render(factored.scene, this.camera);
    }
    renderer.autoClear = true;
    renderer.setRenderTarget(null);
    this.hold(parts[0]?.of.count ?? 0);
    this.isSample = false;
  }

  private factoring() {
    const uniforms: Record<string, IUniform> = { picture: { value: null }, factor: { value: new Vector3() } };
    const scene = new Scene();
    scene.add(
      this.fullPicture(
        new ShaderMaterial({
          depthTest: false,
          depthWrite: false,
          toneMapped: false,
          // Each has all of what it covers: the most of them, not their sum.
          ...ADDED,
          blendEquationAlpha: MaxEquation,
          uniforms,
          vertexShader: FULL_VERTEX,
          fragmentShader: /* glsl */ `
            uniform sampler2D picture;
            uniform vec3 factor;
            varying vec2 place;
            void main() {
              vec4 light = texture2D(picture, place);
              gl_FragColor = vec4(light.rgb * factor, light.a);
            }`,
        }),
      ),
    );
    return { uniforms, scene };
  }

  private addTo(renderer: WebGLRenderer, sum: WebGLRenderTarget, scene: Scene): void {
    renderer.setRenderTarget(sum);
    if (this.count === 0) renderer.clear();
    renderer.autoClear = false;
    renderer.render(scene, this.camera);
    renderer.autoClear = true;
  }

  private addShade(renderer: WebGLRenderer, { lit, bare }: NonNullable<DrawnSample['shade']>): void {
    const caught = (this.caught ??= this.catching());
    const { width, height } = this.sum;
    caught.bare.setSize(width, height);
    caught.sum.setSize(width, height);
    renderer.setRenderTarget(this.sample);
    lit();
    renderer.setRenderTarget(caught.bare);
    bare();
    this.addTo(renderer, caught.sum, caught.scene);
    this.hasShade = true;
  }

  private catching() {
    const filters = { minFilter: NearestFilter, magFilter: NearestFilter } as const;
    const bare = new WebGLRenderTarget(1, 1, { type: FloatType, ...filters });
    const sum = new WebGLRenderTarget(1, 1, { type: FloatType, depthBuffer: false, ...filters });
    const scene = new Scene();
    scene.add(this.fullPicture(shadeMaterial(this.sample.texture, bare.texture)));
    return { bare, sum, scene };
  }

  /** Puts the mean of the samples on the canvas, bent, darkened and coloured as the view asks. */
  show(renderer: WebGLRenderer, view: StageView): void {
    this.develop(renderer, view, 'shown');
    renderer.setRenderTarget(null);
    renderer.render(this.showing, this.camera);
  }

  /** Adds what it comes to with so much weight, linear, to what stands in a target. */
  showInto(
    renderer: WebGLRenderer,
    view: StageView,
    target: WebGLRenderTarget,
    weight: number,
    output: Exclude<Output, 'shown'> = 'mixed',
    glow?: GlowTextures,
  ): void {
    this.develop(renderer, view, output, weight, glow);
    renderer.setRenderTarget(target);
    renderer.autoClear = false;
    renderer.render(this.showing, this.camera);
    renderer.autoClear = true;
    renderer.setRenderTarget(null);
  }

  /** What a view's look spreads of the light that was added up; nothing where it spreads none. */
  glowOf(renderer: WebGLRenderer, view: StageView, glow: Glow = this.looks.glow): GlowTextures | undefined {
    if (!glows(view.look) || view.rendering?.look === false) return undefined;
    return glow.spread(renderer, view, {
      picture: this.added.texture,
      samples: this.samples,
      share: 1 / Math.max(1, this.count),
      widthPx: this.sum.width,
      heightPx: this.sum.height,
      clipping: clippingLuminance(view.ev, 0),
      mask: this.maskOf(renderer, view),
    });
  }

  private get added(): WebGLRenderTarget {
    return this.isSample ? this.sample : this.sum;
  }

  private maskOf(renderer: WebGLRenderer, view: StageView): Texture | undefined {
    const { of } = view.look.glow;
    if (of.kind === 'all' || !this.looks.drawMask) return undefined;
    this.mask ??= { target: new WebGLRenderTarget(1, 1), of: undefined };
    const wanted = JSON.stringify(of);
    const { width, height } = glowGrid(view);
    if (this.mask.of !== wanted) {
      this.mask.target.setSize(width * MASK_FINER, height * MASK_FINER);
      this.looks.drawMask(renderer, view, this.mask.target);
      this.mask.of = wanted;
    }
    return this.mask.target.texture;
  }

  private develop(
    renderer: WebGLRenderer,
    view: StageView,
    output: Output,
    weight?: number,
    glow: GlowTextures | undefined = output === 'light' || output === 'depth' ? undefined : this.glowOf(renderer, view),
  ): void {
    this.developing.set(view, this.added.texture, this.count, this.sum.height);
    const shade: Texture | undefined = this.hasShade ? this.caught?.sum.texture : undefined;
    this.developing.setWhat(view, { output, weight, glow, shade });
  }

  /** Light of each pixel, linear RGBA in cd/m², mean of the samples, rows from the top. The size is that of the last {@link restart}. */
  read(renderer: WebGLRenderer): Float32Array {
    return uprightPixels(renderer, this.added).map((sum) => sum / this.count);
  }

  dispose(): void {
    this.sample.depthTexture?.dispose();
    this.mask?.target.dispose();
    this.caught?.bare.dispose();
    this.caught?.sum.dispose();
    this.sample.dispose();
    this.sum.dispose();
    for (const { geometry, material } of this.pictures) {
      geometry.dispose();
      material.dispose();
    }
  }

  /** A plane that fills the picture. */
  private fullPicture(material: ShaderMaterial): Mesh {
    const mesh = new Mesh(new PlaneGeometry(2, 2), material);
    mesh.frustumCulled = false;
    this.pictures.push(mesh);
    return mesh;
  }
}

type Rgb = readonly [number, number, number];

/** A mask has so many pixels along each side of a cell. */
const MASK_FINER = 2;

/** Pixels of a float target, RGBA, rows from the top. */
export function uprightPixels(renderer: WebGLRenderer, target: WebGLRenderTarget): Float32Array {
  const { width, height } = target;
  const pixels = new Float32Array(width * height * 4);
  renderer.readRenderTargetPixels(target, 0, 0, width, height, pixels);
  const row = width * 4;
  const kept = new Float32Array(row);
  for (let y = 0; y < height >> 1; y++) {
    const [top, bottom] = [y * row, (height - 1 - y) * row];
    kept.set(pixels.subarray(top, top + row));
    pixels.copyWithin(top, bottom, bottom + row);
    pixels.set(kept, bottom);
  }
  return pixels;
}
