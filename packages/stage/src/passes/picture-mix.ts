import type { WebGLRenderer } from 'three';
import {
  Color,
  FloatType,
  Mesh,
  NearestFilter,
  OrthographicCamera,
  PlaneGeometry,
  Scene,
  ShaderMaterial,
  WebGLRenderTarget,
} from 'three';
import type { MixedColour, StageView } from '../view';
import { ADDED } from './adding';
import type { Output } from './developing';
import type { GlowTextures } from './glow';
import type { SampleAccumulator } from './sample-accumulator';
import { uprightPixels } from './sample-accumulator';

/** Mixes finished pictures and a colour in linear light, and puts the sum on the canvas. */
export class PictureMix {
  private readonly target = new WebGLRenderTarget(1, 1, {
    type: FloatType,
    minFilter: NearestFilter,
    magFilter: NearestFilter,
    depthBuffer: false,
  });
  private readonly camera = new OrthographicCamera();
  private readonly scene = new Scene();
  private readonly plane = new Mesh(
    new PlaneGeometry(2, 2),
    new ShaderMaterial({
      depthTest: false,
      depthWrite: false,
      toneMapped: false,
      ...ADDED,
      uniforms: { picture: { value: this.target.texture } },
      vertexShader: /* glsl */ `
        varying vec2 place;
        void main() {
          place = uv;
          gl_Position = vec4(position.xy, 0.0, 1.0);
        }`,
      fragmentShader: /* glsl */ `
        uniform sampler2D picture;
        varying vec2 place;
        void main() { gl_FragColor = sRGBTransferOETF(texture2D(picture, place)); }`,
    }),
  );

  constructor() {
    this.plane.frustumCulled = false;
    this.scene.add(this.plane);
  }

  /** Begins with a colour of so much weight, or with nothing. */
  begin(renderer: WebGLRenderer, widthPx: number, heightPx: number, colour: MixedColour | undefined): void {
    this.target.setSize(widthPx, heightPx);
    const kept = { colour: renderer.getClearColor(new Color()), alpha: renderer.getClearAlpha() };
    const weight = colour?.weight ?? 0;
    // Three reads the digits as sRGB and clears with linear light.
    renderer.setClearColor(new Color(colour?.hex ?? '#000000').multiplyScalar(weight), weight);
    renderer.setRenderTarget(this.target);
    renderer.clear();
    renderer.setRenderTarget(null);
    renderer.setClearColor(kept.colour, kept.alpha);
  }

  /** Adds a picture that was added up from samples. */
  add(
    renderer: WebGLRenderer,
    picture: SampleAccumulator,
    view: StageView,
    weight: number,
    output?: Exclude<Output, 'shown'>,
    glow?: GlowTextures,
  ): void {
    picture.showInto(renderer, view, this.target, weight, output, glow);
  }

  /** The sum as linear RGBA, rows from the top. */
  read(renderer: WebGLRenderer): Float32Array {
    return uprightPixels(renderer, this.target);
  }

  show(renderer: WebGLRenderer): void {
    renderer.setRenderTarget(null);
    renderer.render(this.scene, this.camera);
  }

  dispose(): void {
    this.target.dispose();
    this.plane.geometry.dispose();
    this.plane.material.dispose();
  }
}
