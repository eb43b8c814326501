import { clippingLuminance, isNeutral, LUMINANCE_WEIGHTS, MID_TONE } from '@arvex/core';
import type { IUniform, Texture } from 'three';
import { ShaderMaterial, Vector2, Vector3, Vector4 } from 'three';
import type { StageView } from '../view';
import { AS_AT_WORK, FALSE_COLOURS, idealView } from '../view';
import { ADDED, FULL_VERTEX } from './adding';
import type { GlowTextures } from './glow';
import { WIDE_SHARE } from './glow';
import type { LookTables } from './look-steps';
import { LOOK_STEPS, lookDefines, lookUniforms, setLookUniforms } from './look-steps';

const COUNT = FALSE_COLOURS.length;

const glslFloat = (value: number) => (Number.isFinite(value) ? value.toFixed(3) : '1.0e9');

/** Displays by number, as the shader knows them. */
const DISPLAYS = { picture: 0, stops: 1, zebra: 2 } as const;

/** What comes out, as the shader knows it: for the screen, linear and weighted to be mixed, scene light, distance in metres. */
const OUTPUTS = { shown: 0, mixed: 1, light: 2, depth: 3 } as const;
export type Output = keyof typeof OUTPUTS;

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
  uniform bool parallel, marking, looked, backed, opaque;
  uniform int outcome;
  uniform float weight;
  uniform vec3 backdrop;
  uniform sampler2D shade;
  uniform bool shaded;
  uniform sampler2D glow, glowWide, streaks;
  uniform vec4 glowWindow;
  uniform float glowAmount, streakAmount;
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
    return outcome == ${OUTPUTS.shown} ? shown : vec4(asLight(shown.rgb), shown.a) * weight;
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

  /* Light that is spread: most of it near, some of it wide. */
  vec3 spread(vec2 at) {
    return mix(texture2D(glow, at).rgb, texture2D(glowWide, at).rgb, ${WIDE_SHARE.toFixed(2)});
  }

  void main() {
    vec2 film = mix(window.xy, window.zw, place);
    if (abs(film.x) > bars.x || abs(film.y) > bars.y) {
      gl_FragColor = finished(vec4(0.0, 0.0, 0.0, 1.0));
      return;
    }
    vec2 axis = film + shift;
    vec2 undone = axis * undistortion(axis / focalLength) - shift;
    vec2 at = (undone - ideal.xy) / (ideal.zw - ideal.xy);
    if (outcome == ${OUTPUTS.depth}) {
      gl_FragColor = vec4(metresAt(at), 0.0, 0.0, 1.0);
      return;
    }
    vec4 light = texture2D(picture, at) * share;
    float away = length(axis) / cornerMm;
    if (looked) light.rgb *= exp2(-edgeStops * away * away);
    // What the ground loses, as a share of what it would have: as alpha of black.
    float lost = shaded ? clamp(texture2D(shade, at).r * share, 0.0, 1.0) : 0.0;
    if (outcome == ${OUTPUTS.light}) {
      gl_FragColor = vec4(light.rgb / clipping, min(1.0, light.a + lost)) * weight;
      return;
    }
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
    vec2 glowAt = (undone - glowWindow.xy) / (glowWindow.zw - glowWindow.xy);
    if (looked && glowAmount > 0.0) spreads += glowAmount * spread(glowAt);
    if (looked && streakAmount > 0.0) spreads += streakAmount * texture2D(streaks, glowAt).rgb;
    #endif
    // Where the set covers a part of the pixel, its own colour is shown, and laid over what lies behind as one sees it.
    float cover = opaque ? 1.0 : clamp(light.a, 0.0, 1.0);
    float edge = exp2(-lookEdgeStops * away * away);
    vec3 whole = cover > 0.0 ? light.rgb / clipping / cover + spreads : spreads;
    vec3 own = looked ? lookColour(whole, edge) : asShown(whole);
    // A shadow takes light away: as one sees it, that is about the share to the power of the display.
    float dark = cover + (1.0 - pow(1.0 - lost, 1.0 / 2.2));
    gl_FragColor = vec4(own * cover, min(1.0, dark));
    #ifdef GLOWS
    // What glows before nothing covers it as much as it is bright.
    if (cover < 1.0) {
      vec3 before = (looked ? lookColour(spreads, edge) : vec3(0.0)) * (1.0 - cover);
      gl_FragColor.rgb += before;
      gl_FragColor.a = max(gl_FragColor.a, cover + max(before.r, max(before.g, before.b)));
    }
    #endif
    if (backed) gl_FragColor = vec4(gl_FragColor.rgb + backdrop * (1.0 - gl_FragColor.a), 1.0);
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
  }`;

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
      glow: { value: null },
      glowWide: { value: null },
      streaks: { value: null },
      glowWindow: { value: new Vector4() },
      glowAmount: { value: 0 },
      streakAmount: { value: 0 },
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
      looked: { value: true },
      backed: { value: false },
      opaque: { value: false },
      outcome: { value: 0 },
      weight: { value: 1 },
      backdrop: { value: new Vector3() },
      shade: { value: null },
      shaded: { value: false },
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
    const { look, backdrop } = view.rendering ?? AS_AT_WORK;
    this.put('looked', look);
    this.put('backed', backdrop.kind === 'colour');
    // Where the sky is seen, what is dark is black, and no hole.
    this.put('opaque', backdrop.kind === 'sky' && view.sky);
    if (backdrop.kind === 'colour') (this.uniforms['backdrop']?.value as Vector3).set(...backdrop.rgb);
    (this.uniforms['shift']?.value as Vector2).set(lens.shiftXMm * lens.squeeze, lens.shiftYMm);
    (this.uniforms['clip']?.value as Vector2).set(lens.nearM, lens.farM);
    // An infinite far limit takes the sky in, which lies at the far clip.
    (this.uniforms['sharp']?.value as Vector2).set(sharp?.nearM ?? 0, Math.min(sharp?.farM ?? 0, 1e9));
    (this.uniforms['bars']?.value as Vector2).set(view.bars?.halfWidthMm ?? 1e9, view.bars?.halfHeightMm ?? 1e9);
    (this.uniforms['window']?.value as Vector4).set(window.leftMm, window.bottomMm, window.rightMm, window.topMm);
    (this.uniforms['ideal']?.value as Vector4).set(ideal.leftMm, ideal.bottomMm, ideal.rightMm, ideal.topMm);
  }

  /** Chooses the program: see {@link Developing}. */
  private choose(view: StageView, glows: boolean): void {
    const { look, edge, lens, display, sharp } = view;
    const defines = {
      ...lookDefines(look, edge.stops === 0 ? look.edgeStops : 0, this.tables),
      ...(lens.k1 !== 0 && { DISTORTED: '' }),
      ...((display.kind !== 'picture' || sharp !== undefined) && { INSTRUMENTS: '' }),
      ...(glows && { GLOWS: '' }),
    };
    const names = (of: object) => Object.keys(of).join();
    if (names(defines) === names(this.defines)) return;
    this.defines = defines;
    this.material.defines = defines;
    this.material.needsUpdate = true;
  }

  /** What comes out, with so much weight where it is to be mixed. */
  setOutput(output: Output, weight = 1): void {
    this.put('outcome', OUTPUTS[output]);
    this.put('weight', output === 'mixed' || output === 'light' ? weight : 1);
  }

  /** Light that glows and streaks, as shares of what clips; nothing where the look has none. */
  setGlow(view: StageView, of: GlowTextures | undefined): void {
    this.choose(view, of !== undefined);
    const { leftMm = 0, bottomMm = 0, rightMm = 1, topMm = 1 } = of?.window ?? {};
    (this.uniforms['glowWindow']?.value as Vector4).set(leftMm, bottomMm, rightMm, topMm);
    this.put('glow', of?.glow?.near ?? null);
    this.put('glowWide', of?.glow?.wide ?? null);
    this.put('glowAmount', of?.glow?.amount ?? 0);
    this.put('streaks', of?.streaks?.texture ?? null);
    this.put('streakAmount', of?.streaks?.amount ?? 0);
  }

  /** What the ground loses by what stands on it, added up like the picture; nothing where no shadow is caught. */
  setShade(shade: Texture | undefined): void {
    this.put('shade', shade ?? null);
    this.put('shaded', shade !== undefined);
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
