import { LUMINANCE_WEIGHTS } from '@arvex/core';
import type { IUniform, Texture } from 'three';
import { AddEquation, CustomBlending, OneFactor, ShaderMaterial, Vector2 } from 'three';
import type { StageView } from '../view';
import { AS_AT_WORK } from '../view';

/** Blending that adds what is drawn to the colours already in the target. */
export const ADDED = {
  transparent: true,
  blending: CustomBlending,
  blendEquation: AddEquation,
  blendSrc: OneFactor,
  blendDst: OneFactor,
} as const;

/** Over the whole picture. */
export const FULL_VERTEX = /* glsl */ `
  varying vec2 place;
  void main() {
    place = uv;
    gl_Position = vec4(position.xy, 0.0, 1.0);
  }`;

/** What becomes of a sample before it is added, as the shader knows it. */
const MODES = { plain: 0, 'lines-over': 1, lines: 2, depth: 3 } as const;

/** Depth is shown from white to black between these distances, metres: each doubling takes as much grey. */
const DEPTH_SHOWN_M = [0.5, 512] as const;

/** Luminance of the paper that lines are drawn on, as a share of what clips. */
const PAPER = 0.82;

/** How much sharper than an even surface a fold has to be to become a line, and to become a full one: a right angle has about 2. */
const FOLD = [0.55, 1.4] as const;

const ADDING_FRAGMENT = /* glsl */ `
  uniform sampler2D picture;
  uniform sampler2D depth;
  uniform int mode;
  uniform bool parallel;
  uniform vec2 clip, texel;
  uniform float clipping, pixelAngle;
  varying vec2 place;

  float metresAt(vec2 at) {
    float z = texture2D(depth, at).r * 2.0 - 1.0;
    return parallel
      ? 0.5 * (z * (clip.y - clip.x) + clip.y + clip.x)
      : 2.0 * clip.x * clip.y / (clip.y + clip.x - z * (clip.y - clip.x));
  }

  /* Even surfaces are even in the inverse of their distance, however steeply they are seen: folds and rims are not. */
  float measure(vec2 at) { return parallel ? metresAt(at) : 1.0 / metresAt(at); }

  float line() {
    float here = measure(place);
    float around = measure(place + vec2(texel.x, 0.0)) + measure(place - vec2(texel.x, 0.0));
    float above = measure(place + vec2(0.0, texel.y)) + measure(place - vec2(0.0, texel.y));
    float fold = max(abs(around - 2.0 * here), abs(above - 2.0 * here));
    float scaled = parallel ? fold / pixelAngle : fold * metresAt(place) / pixelAngle;
    // Of a rim only what lies nearer has a line.
    bool behind = parallel ? around + above < 4.0 * here - 0.5 : around + above > 4.0 * here * 1.02;
    return behind ? 0.0 : smoothstep(${FOLD[0].toFixed(2)}, ${FOLD[1].toFixed(2)}, scaled);
  }

  void main() {
    vec4 light = texture2D(picture, place);
    #ifdef DRAWN
    if (mode == ${MODES['lines-over']}) light.rgb *= 1.0 - line();
    if (mode == ${MODES.lines}) {
      float ink = line();
      light = vec4(vec3(${PAPER.toFixed(2)} * clipping * (1.0 - ink)), light.a);
      light.rgb *= light.a;
    }
    if (mode == ${MODES.depth}) {
      float far = log2(metresAt(place) / ${DEPTH_SHOWN_M[0].toFixed(1)}) / log2(${DEPTH_SHOWN_M[1].toFixed(1)} / ${DEPTH_SHOWN_M[0].toFixed(1)});
      float grey = 1.0 - clamp(far, 0.0, 1.0);
      float shown = grey <= 0.04045 ? grey / 12.92 : pow((grey + 0.055) / 1.055, 2.4);
      light = vec4(vec3(shown * clipping) * light.a, light.a);
    }
    #endif
    gl_FragColor = light;
  }`;

/** Adds samples, as they are or as lines and distances. */
export class Adding {
  readonly material: ShaderMaterial;
  private isDrawn = false;

  constructor(picture: Texture, depth: Texture | null) {
    this.material = new ShaderMaterial({
      depthTest: false,
      depthWrite: false,
      toneMapped: false,
      ...ADDED,
      uniforms: {
        picture: { value: picture },
        depth: { value: depth },
        mode: { value: 0 },
        parallel: { value: false },
        clip: { value: new Vector2() },
        texel: { value: new Vector2() },
        clipping: { value: 1 },
        pixelAngle: { value: 1 },
      },
      vertexShader: FULL_VERTEX,
      fragmentShader: ADDING_FRAGMENT,
    });
  }

  /** @param clipping luminance that is white, cd/m². @param heightPx of the picture that the view fills. */
  set(view: StageView, widthPx: number, heightPx: number, clipping: number): void {
    const { shading } = view.rendering ?? AS_AT_WORK;
    const mode = shading in MODES ? MODES[shading as keyof typeof MODES] : MODES.plain;
    this.put('mode', mode);
    // The program of a plain picture has nothing of lines and distances: most of its time would go there.
    const isDrawn = mode !== MODES.plain;
    if (isDrawn !== this.isDrawn) {
      this.isDrawn = isDrawn;
      this.material.defines = isDrawn ? { DRAWN: '' } : {};
      this.material.needsUpdate = true;
    }
    if (!isDrawn) return;
    const { lens, window } = view;
    const pixelMm = (window.topMm - window.bottomMm) / heightPx;
    this.put('parallel', lens.parallelMPerMm !== null);
    this.put('clipping', clipping);
    this.put('pixelAngle', lens.parallelMPerMm === null ? pixelMm / lens.focalLengthMm : pixelMm * lens.parallelMPerMm);
    (this.material.uniforms['clip']?.value as Vector2).set(lens.nearM, lens.farM);
    (this.material.uniforms['texel']?.value as Vector2).set(1 / widthPx, 1 / heightPx);
  }

  private put(name: string, value: unknown): void {
    const uniform = this.material.uniforms[name] as IUniform | undefined;
    if (uniform) uniform.value = value;
  }
}

/** What the ground loses at each pixel: 1 less its light over what it would have with nothing on it. */
export function shadeMaterial(lit: Texture, bare: Texture): ShaderMaterial {
  const luminance = `vec3(${LUMINANCE_WEIGHTS.join(', ')})`;
  return new ShaderMaterial({
    depthTest: false,
    depthWrite: false,
    toneMapped: false,
    ...ADDED,
    uniforms: { lit: { value: lit }, bare: { value: bare } },
    vertexShader: FULL_VERTEX,
    fragmentShader: /* glsl */ `
      uniform sampler2D lit;
      uniform sampler2D bare;
      varying vec2 place;
      void main() {
        vec4 open = texture2D(bare, place);
        float whole = dot(open.rgb, ${luminance});
        float lost = whole > 0.0 ? 1.0 - dot(texture2D(lit, place).rgb, ${luminance}) / whole : 0.0;
        gl_FragColor = vec4(open.a * lost, 0.0, 0.0, 1.0);
      }`,
  });
}
