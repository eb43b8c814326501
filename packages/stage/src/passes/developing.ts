import { clippingLuminance, isNeutral, LUMINANCE_WEIGHTS, MID_TONE } from '@arvex/core';
import type { IUniform, Texture } from 'three';
import { ShaderMaterial, Vector2, Vector3, Vector4 } from 'three';
import type { StageView } from '../view';
import { AS_AT_WORK, FALSE_COLOURS, idealView } from '../view';
import { ADDED, FULL_VERTEX } from './adding';
import type { GlowTextures } from './glow';
import type { LookTables } from './look-steps';
import { LOOK_STEPS, lookDefines, lookUniforms, setLookUniforms } from './look-steps';

const COUNT = FALSE_COLOURS.length;

const glslFloat = (value: number) => (Number.isFinite(value) ? value.toFixed(3) : '1.0e9');

/** Displays by number, as the shader knows them. */
const DISPLAYS = { picture: 0, stops: 1, zebra: 2 } as const;

/** What comes out: for the screen, linear and weighted to be mixed, scene light, distance in metres. */
export type Output = 'shown' | 'mixed' | 'light' | 'depth';

const NEWTON_STEPS = 6;

/**
 * Turns summed samples into the picture: distortion, glow, edge darkening, the look, the chosen display, what is sharp. What is to be mixed stays linear
 * and gets its weight.
 */
const DEVELOPING_FRAGMENT = /* glsl */ `
  uniform sampler2D picture;
  uniform sampler2D depth;
  uniform float share, focalLength, k1, edgeStops, lookEdgeStops, cornerMm, clipping, zebraLevel, heightPx;
  uniform vec2 shift, clip, sharp, bars;
  uniform vec4 window, ideal;
  uniform int display;
  uniform bool parallel, marking;
  uniform float weight;
  uniform vec3 backdrop;
  uniform sampler2D shade;
  uniform sampler2D spread;
  uniform vec4 spreadWindow;
  varying vec2 place;
${LOOK_STEPS}

  /* What distorted coordinates are multiplied with to undo distortion, as the core does it. */
  float undistortion(vec2 distorted) {
    float wanted = length(distorted);
    #ifndef DISTORTED
    return 1.0;
    #else
    if (k1 == 0.0 || wanted == 0.0) return 1.0;
    float fold = k1 < 0.0 ? sqrt(-1.0 / (3.0 * k1)) : 1.0e9;
    if (k1 < 0.0 && wanted >= fold * (1.0 + k1 * fold * fold)) return fold / wanted;
    float r = min(wanted, fold * 0.999);
    for (int i = 0; i < ${NEWTON_STEPS}; i++) r -= (r * (1.0 + k1 * r * r) - wanted) / (1.0 + 3.0 * k1 * r * r);
    return r / wanted;
    #endif
  }

  vec4 finished(vec4 shown) {
    #ifdef SHOWN
    return shown;
    #else
    return vec4(asLight(shown.rgb), shown.a) * weight;
    #endif
  }

  /* Distance along the axis of what lies at a place. */
  float metresAt(vec2 at) {
    float z = texture2D(depth, at).r * 2.0 - 1.0;
    return parallel
      ? 0.5 * (z * (clip.y - clip.x) + clip.y + clip.x)
      : 2.0 * clip.x * clip.y / (clip.y + clip.x - z * (clip.y - clip.x));
  }

  vec3 falseColour(float stops) {
    ${FALSE_COLOURS.slice(0, COUNT - 1)
      .map(
        ({ upToStops, rgb }) => `if (stops < ${glslFloat(upToStops)}) return vec3(${rgb.map(glslFloat).join(', ')});`,
      )
      .join('\n    ')}
    return vec3(${(FALSE_COLOURS[COUNT - 1]?.rgb ?? [1, 1, 1]).map(glslFloat).join(', ')});
  }

  vec3 coloured(vec3 light, float edge) {
    #ifdef LOOKED
    return lookColour(light, edge);
    #else
    return asShown(light);
    #endif
  }

  void main() {
    vec2 film = mix(window.xy, window.zw, place);
    #ifdef BARRED
    if (abs(film.x) > bars.x || abs(film.y) > bars.y) {
      gl_FragColor = finished(vec4(0.0, 0.0, 0.0, 1.0));
      return;
    }
    #endif
    vec2 axis = film + shift;
    vec2 undone = axis * undistortion(axis / focalLength) - shift;
    vec2 at = (undone - ideal.xy) / (ideal.zw - ideal.xy);
    #ifdef DEPTH
    gl_FragColor = vec4(metresAt(at), 0.0, 0.0, 1.0);
    #else
    vec4 light = texture2D(picture, at) * share;
    float away = length(axis) / cornerMm;
    #ifdef DARKENED
    light.rgb *= exp2(-edgeStops * away * away);
    #endif
    // What the ground loses, as a share of what it would have: as alpha of black.
    #ifdef SHADED
    float lost = clamp(texture2D(shade, at).r * share, 0.0, 1.0);
    #else
    float lost = 0.0;
    #endif
    #ifdef LIGHT
    gl_FragColor = vec4(light.rgb / clipping, min(1.0, light.a + lost)) * weight;
    #else
    #ifdef INSTRUMENTS
    float value = dot(light.rgb, vec3(${LUMINANCE_WEIGHTS.join(', ')})) / clipping;
    if (display == ${DISPLAYS.stops}) {
      gl_FragColor = finished(vec4(falseColour(log2(max(value, 1.0e-6) / ${MID_TONE.toFixed(6)})) , 1.0));
      return;
    }
    #endif
    // Glow is of the picture, not of the light that is measured.
    vec3 spreads = vec3(0.0);
    #ifdef GLOWS
    spreads = texture2D(spread, (undone - spreadWindow.xy) / (spreadWindow.zw - spreadWindow.xy)).rgb;
    #endif
    float edge = exp2(-lookEdgeStops * away * away);
    #ifdef OPEN
    // Where the set covers a part of the pixel, its own colour is shown, and laid over what lies behind as one sees it.
    float cover = clamp(light.a, 0.0, 1.0);
    vec3 whole = cover > 0.0 ? light.rgb / clipping / cover + spreads : spreads;
    vec3 own = coloured(whole, edge);
    // A shadow takes light away: as one sees it, that is about the share to the power of the display.
    float dark = cover + (1.0 - pow(1.0 - lost, 1.0 / 2.2));
    gl_FragColor = vec4(own * cover, min(1.0, dark));
    #ifdef GLOWS
    // What glows before nothing covers it as much as it is bright.
    if (cover < 1.0) {
      vec3 before = coloured(spreads, edge) * (1.0 - cover);
      gl_FragColor.rgb += before;
      gl_FragColor.a = max(gl_FragColor.a, cover + max(before.r, max(before.g, before.b)));
    }
    #endif
    #else
    gl_FragColor = vec4(coloured(light.rgb / clipping + spreads, edge), 1.0);
    #endif
    #ifdef BACKED
    gl_FragColor = vec4(gl_FragColor.rgb + backdrop * (1.0 - gl_FragColor.a), 1.0);
    #endif
    #ifdef INSTRUMENTS
    if (display == ${DISPLAYS.zebra} && max(light.r, max(light.g, light.b)) / clipping >= zebraLevel) {
      float stripe = step(0.5, fract((place.x * 16.0 / 9.0 + place.y) * heightPx / 14.0));
      gl_FragColor.rgb = mix(gl_FragColor.rgb, vec3(0.93, 0.42, 0.37), stripe * 0.85);
    }
    if (marking) {
      float metres = metresAt(at);
      bool inside = metres >= sharp.x && metres <= sharp.y;
      float grey = dot(gl_FragColor.rgb, vec3(${LUMINANCE_WEIGHTS.join(', ')}));
      // What is sharp keeps its colours under a wash of iris; the rest pales.
      gl_FragColor.rgb = inside ? mix(gl_FragColor.rgb, vec3(0.64, 0.65, 1.0), 0.28) : vec3(grey) * 0.55;
    }
    #endif
    gl_FragColor = finished(gl_FragColor);
    #endif
    #endif
  }`;

/** What is made of samples. */
export interface Developed {
  readonly output: Output;
  /** Of what is mixed, or of light. 1 when left out. */
  readonly weight?: number | undefined;
  /** Light that glows and streaks, as shares of what clips; nothing where the look has none. */
  readonly glow?: GlowTextures | undefined;
  /** What the ground loses by what stands on it, added up like the picture; nothing where no shadow is caught. */
  readonly shade?: Texture | undefined;
}

/** What develops, set for a view. Its program has only what the view needs: graphics run what they are given. */
export class Developing {
  readonly material: ShaderMaterial;
  private readonly uniforms: Record<string, IUniform>;
  private defines: Record<string, string> = {};

  constructor(
    depth: Texture | null,
    private readonly tables: LookTables,
  ) {
    this.uniforms = {
      ...lookUniforms(),
      lookEdgeStops: { value: 0 },
      spread: { value: null },
      spreadWindow: { value: new Vector4() },
      picture: { value: null },
      depth: { value: depth },
      share: { value: 1 },
      focalLength: { value: 35 },
      k1: { value: 0 },
      edgeStops: { value: 0 },
      cornerMm: { value: 1 },
      clipping: { value: 1 },
      zebraLevel: { value: 1 },
      heightPx: { value: 1 },
      shift: { value: new Vector2() },
      clip: { value: new Vector2() },
      sharp: { value: new Vector2() },
      bars: { value: new Vector2() },
      window: { value: new Vector4() },
      ideal: { value: new Vector4() },
      display: { value: 0 },
      parallel: { value: false },
      marking: { value: false },
      weight: { value: 1 },
      backdrop: { value: new Vector3() },
      shade: { value: null },
    };
    this.material = new ShaderMaterial({
      depthTest: false,
      depthWrite: false,
      toneMapped: false,
      ...ADDED,
      uniforms: this.uniforms,
      vertexShader: FULL_VERTEX,
      fragmentShader: DEVELOPING_FRAGMENT,
    });
  }

  /** @param picture samples added up, so many of them. */
  set(view: StageView, picture: Texture, samples: number, heightPx: number): void {
    this.put('picture', picture);
    const { lens, window, edge, display, sharp } = view;
    const ideal = idealView(view).window;
    this.put('share', 1 / Math.max(1, samples));
    this.put('focalLength', lens.focalLengthMm);
    this.put('k1', lens.k1);
    this.put('edgeStops', edge.stops);
    // The look darkens edges where the lens has not.
    const lookEdge = edge.stops === 0 ? view.look.edgeStops : 0;
    this.put('lookEdgeStops', lookEdge);
    setLookUniforms(this.uniforms, view.look, this.tables);
    this.put('cornerMm', edge.cornerMm);
    this.put('clipping', clippingLuminance(view.ev, 0));
    this.put('zebraLevel', display.kind === 'zebra' ? display.level : 1);
    this.put('heightPx', heightPx);
    this.put('display', DISPLAYS[display.kind]);
    this.put('parallel', lens.parallelMPerMm !== null);
    this.put('marking', sharp !== undefined);
    const { backdrop } = view.rendering ?? AS_AT_WORK;
    if (backdrop.kind === 'colour') (this.uniforms['backdrop']?.value as Vector3).set(...backdrop.rgb);
    (this.uniforms['shift']?.value as Vector2).set(lens.shiftXMm * lens.squeeze, lens.shiftYMm);
    (this.uniforms['clip']?.value as Vector2).set(lens.nearM, lens.farM);
    // An infinite far limit takes the sky in, which lies at the far clip.
    (this.uniforms['sharp']?.value as Vector2).set(sharp?.nearM ?? 0, Math.min(sharp?.farM ?? 0, 1e9));
    (this.uniforms['bars']?.value as Vector2).set(view.bars?.halfWidthMm ?? 1e9, view.bars?.halfHeightMm ?? 1e9);
    (this.uniforms['window']?.value as Vector4).set(window.leftMm, window.bottomMm, window.rightMm, window.topMm);
    (this.uniforms['ideal']?.value as Vector4).set(ideal.leftMm, ideal.bottomMm, ideal.rightMm, ideal.topMm);
  }

  /** What is developed beside the samples: light that is spread, and what the ground loses; the program that all of it takes. */
  setWhat(view: StageView, { output, weight = 1, glow, shade }: Developed): void {
    this.put('weight', output === 'mixed' || output === 'light' ? weight : 1);
    const { leftMm = 0, bottomMm = 0, rightMm = 1, topMm = 1 } = glow?.window ?? {};
    (this.uniforms['spreadWindow']?.value as Vector4).set(leftMm, bottomMm, rightMm, topMm);
    this.put('spread', glow?.texture ?? null);
    this.put('shade', shade ?? null);
    this.choose(view, { output, glow, shade });
  }

  /** Chooses the program: see {@link Developing}. */
  private choose(view: StageView, { output, glow, shade }: Developed): void {
    const { edge, lens, display, sharp, bars, rendering = AS_AT_WORK } = view;
    const { look, backdrop } = rendering;
    const parts: Readonly<Record<string, boolean>> = {
      [output.toUpperCase()]: true,
      LOOKED: look,
      DISTORTED: lens.k1 !== 0,
      DARKENED: look && edge.stops !== 0,
      INSTRUMENTS: display.kind !== 'picture' || sharp !== undefined,
      GLOWS: glow !== undefined,
      SHADED: shade !== undefined,
      BARRED: bars !== undefined,
      BACKED: backdrop.kind === 'colour',
      // Where the sky is seen, what is dark is black, and no hole.
      OPEN: backdrop.kind !== 'sky' || !view.sky,
    };
    const defines = {
      ...lookDefines(view.look, edge.stops === 0 ? view.look.edgeStops : 0, this.tables),
      ...Object.fromEntries(Object.entries(parts).flatMap(([name, on]) => (on ? [[name, '']] : []))),
    };
    const names = (of: object) => Object.keys(of).join();
    if (names(defines) === names(this.defines)) return;
    this.defines = defines;
    this.material.defines = defines;
    this.material.needsUpdate = true;
  }

  private put(name: string, value: unknown): void {
    const uniform = this.uniforms[name];
    if (uniform) uniform.value = value;
  }
}

/** Whether a view can be drawn straight to the canvas, with nothing left to develop. */
export function isPlain({ lens, edge, display, sharp, bars, look: worn, rendering = AS_AT_WORK }: StageView): boolean {
  const { look, backdrop, catchesShadow, shading } = rendering;
  const isSurface = shading === 'full' || shading === 'lean' || shading === 'clay';
  if (!isNeutral(worn) || worn.glow.amount > 0 || worn.streaks.amount > 0) return false;
  if (!look || backdrop.kind !== 'sky' || catchesShadow || !isSurface) return false;
  return bars === undefined && lens.k1 === 0 && edge.stops === 0 && display.kind === 'picture' && sharp === undefined;
}
