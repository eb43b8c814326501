import type { WebGLRenderer } from 'three';
import {
  AddEquation,
  CustomBlending,
  DepthTexture,
  FloatType,
  Mesh,
  NearestFilter,
  OneFactor,
  OrthographicCamera,
  PlaneGeometry,
  Scene,
  ShaderMaterial,
  UnsignedIntType,
  WebGLRenderTarget,
} from 'three';
import type { StageView } from '../view';
import { Developing, DEVELOPING_FRAGMENT } from './developing';

const VERTEX = /* glsl */ `
  varying vec2 place;
  void main() {
    place = uv;
    gl_Position = vec4(position.xy, 0.0, 1.0);
  }`;

/** What is drawn is added to what is there. */
export const ADDED = {
  transparent: true,
  blending: CustomBlending,
  blendEquation: AddEquation,
  blendSrc: OneFactor,
  blendDst: OneFactor,
} as const;

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
  private readonly camera = new OrthographicCamera();
  private readonly adding = new Scene();
  private readonly showing = new Scene();
  private readonly developing = new Developing(this.sum.texture, this.sample.depthTexture);
  private readonly pictures: Mesh<PlaneGeometry, ShaderMaterial>[] = [];
  private count = 0;

  constructor() {
    this.adding.add(
      this.fullPicture(
        new ShaderMaterial({
          depthTest: false,
          depthWrite: false,
          toneMapped: false,
          ...ADDED,
          uniforms: { picture: { value: this.sample.texture } },
          vertexShader: VERTEX,
          fragmentShader: /* glsl */ `
            uniform sampler2D picture;
            varying vec2 place;
            void main() { gl_FragColor = texture2D(picture, place); }`,
        }),
      ),
    );
    this.showing.add(
      this.fullPicture(
        new ShaderMaterial({
          depthTest: false,
          depthWrite: false,
          toneMapped: false,
          ...ADDED,
          uniforms: this.developing.uniforms,
          vertexShader: VERTEX,
          fragmentShader: DEVELOPING_FRAGMENT,
        }),
      ),
    );
  }

  /** Forgets all samples and takes pictures of this size from now on. */
  restart(widthPx: number, heightPx: number): void {
    this.count = 0;
    this.sample.setSize(widthPx, heightPx);
    this.sum.setSize(widthPx, heightPx);
  }

  /** Adds what `draw` draws. */
  add(renderer: WebGLRenderer, draw: () => void): void {
    renderer.setRenderTarget(this.sample);
    draw();
    renderer.setRenderTarget(this.sum);
    if (this.count === 0) renderer.clear();
    renderer.autoClear = false;
    renderer.render(this.adding, this.camera);
    renderer.autoClear = true;
    renderer.setRenderTarget(null);
    this.count += 1;
  }

  /** Puts the mean of the samples on the canvas, bent, darkened and coloured as the view asks. */
  show(renderer: WebGLRenderer, view: StageView): void {
    this.developing.set(view, this.count, this.sum.height);
    this.developing.setOutput('shown');
    renderer.setRenderTarget(null);
    renderer.render(this.showing, this.camera);
  }

  /** Adds the same with so much weight, in linear light, to what stands in a target. */
  showInto(renderer: WebGLRenderer, view: StageView, target: WebGLRenderTarget, weight: number): void {
    this.developing.set(view, this.count, this.sum.height);
    this.developing.setOutput(weight);
    renderer.setRenderTarget(target);
    renderer.autoClear = false;
    renderer.render(this.showing, this.camera);
    renderer.autoClear = true;
    renderer.setRenderTarget(null);
  }

  /** Light of each pixel, linear RGBA in cd/m², mean of the samples, rows from the top. The size is that of the last {@link restart}. */
  read(renderer: WebGLRenderer): Float32Array {
    const { width, height } = this.sum;
    const pixels = new Float32Array(width * height * 4);
    renderer.readRenderTargetPixels(this.sum, 0, 0, width, height, pixels);
    const upright = new Float32Array(pixels.length);
    const row = width * 4;
    for (let y = 0; y < height; y++) {
      upright.set(pixels.subarray((height - 1 - y) * row, (height - y) * row), y * row);
    }
    return upright.map((sum) => sum / this.count);
  }

  dispose(): void {
    this.sample.depthTexture?.dispose();
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
