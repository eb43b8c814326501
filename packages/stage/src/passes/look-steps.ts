import type { LookSettings, Lut } from '@arvex/core';
import {
  isNeutral,
  LOOK_DEFAULTS,
  lookNumbers,
  LUMINANCE_WEIGHTS,
  NEUTRAL_RESPONSE,
  RESPONSE_STEPS,
} from '@arvex/core';
import type { IUniform, Texture } from 'three';
import { Data3DTexture, DataTexture, FloatType, Matrix3, NearestFilter, RGBAFormat, Vector3 } from 'three';
import { SHOULDER_BODY } from './highlight-shoulder';

/**
 * The way of light in the graphics, step by step as the core has it (`shownColour`): `lookColour` takes light as a share of what clips,
 * and the share that edge darkening leaves, to what is shown. Steps that a look does not take are left out of the program: see
 * {@link lookDefines}.
 */
export const LOOK_STEPS = /* glsl */ `
  uniform mat3 lookMatrix;
  uniform vec3 cdlSlope, cdlOffset, cdlPower, greyWeights, lutFrom, lutTo;
  uniform float cdlSaturation, contrast, pivot, lift, lutShare, lutSize;
  uniform bool isGrey;
  uniform sampler2D responseTable;
  uniform highp sampler3D lut;

  vec3 shoulder(vec3 color) {
    ${SHOULDER_BODY}
  }

  vec3 asShown(vec3 light) {
    vec3 held = clamp(light, 0.0, 1.0);
    return mix(1.055 * pow(held, vec3(1.0 / 2.4)) - 0.055, 12.92 * held, vec3(lessThanEqual(held, vec3(0.0031308))));
  }

  /* A display value as light, the inverse of the transfer function. */
  vec3 asLight(vec3 shown) {
    return mix(pow((shown + 0.055) / 1.055, vec3(2.4)), shown / 12.92, vec3(lessThanEqual(shown, vec3(0.04045))));
  }

  vec3 toned(vec3 value) {
    vec3 held = max(value, 0.0);
    vec3 bent = contrast == 1.0 ? held : pivot * pow(held / pivot, vec3(contrast));
    vec3 dark = max(vec3(0.0), 1.0 - bent / pivot);
    return max(vec3(0.0), bent + lift * dark * dark);
  }

  float throughTable(float value, int part) {
    float at = clamp(value, 0.0, 1.0) * ${(RESPONSE_STEPS - 1).toFixed(1)};
    int low = min(${RESPONSE_STEPS - 2}, int(at));
    float a = texelFetch(responseTable, ivec2(low, 0), 0)[part];
    float b = texelFetch(responseTable, ivec2(low + 1, 0), 0)[part];
    return mix(a, b, at - float(low));
  }

  /* Between its points as the corners of the tetrahedron have it in which it lies. */
  vec3 throughLut(vec3 colour) {
    float most = lutSize - 1.0;
    vec3 at = clamp((colour - lutFrom) / (lutTo - lutFrom), 0.0, 1.0) * most;
    vec3 base = min(vec3(most - 1.0), floor(at));
    vec3 f = at - base;
    ivec3 from = ivec3(base);
    bvec3 first = bvec3(f.x >= f.y && f.x >= f.z, f.y > f.x && f.y >= f.z, f.z > f.x && f.z > f.y);
    ivec3 one = ivec3(first);
    vec3 rest = mix(f, vec3(-1.0), vec3(first));
    bvec3 second = bvec3(
      !first.x && rest.x >= rest.y && rest.x >= rest.z,
      !first.y && (first.x || rest.y > rest.x) && rest.y >= rest.z,
      false);
    second.z = !second.x && !second.y;
    ivec3 two = one + ivec3(second);
    float high = max(f.x, max(f.y, f.z));
    float low = min(f.x, min(f.y, f.z));
    float middle = f.x + f.y + f.z - high - low;
    return (1.0 - high) * texelFetch(lut, from, 0).rgb + (high - middle) * texelFetch(lut, from + one, 0).rgb
      + (middle - low) * texelFetch(lut, from + two, 0).rgb + low * texelFetch(lut, from + ivec3(1), 0).rgb;
  }

  vec3 lookColour(vec3 light, float edge) {
    vec3 colour = light;
    #ifdef GRADED
    colour = lookMatrix * light;
    colour = max(colour * cdlSlope + cdlOffset, 0.0);
    #ifdef POWERED
    colour = pow(colour, cdlPower);
    #endif
    float grey = dot(colour, vec3(${LUMINANCE_WEIGHTS.join(', ')}));
    colour = grey + cdlSaturation * (colour - grey);
    #ifdef TONED
    colour = toned(colour);
    #else
    colour = max(colour, 0.0);
    #endif
    if (isGrey) colour = vec3(max(0.0, dot(colour, greyWeights)));
    #endif
    vec3 shown = asShown(shoulder(colour));
    #ifdef BENDS
    shown = vec3(throughTable(shown.r, 0), throughTable(shown.g, 1), throughTable(shown.b, 2));
    #endif
    #ifdef EDGED
    if (edge < 1.0) shown = asShown(asLight(shown) * edge);
    #endif
    #ifdef TABLED
    shown = clamp(mix(shown, throughLut(shown), lutShare), 0.0, 1.0);
    #endif
    return shown;
  }`;

/** Tables of looks as the graphics hold them: made when they are first shown, given up when others took their place. */
export class LookTables {
  private readonly responses = new Map<ArrayLike<number>, DataTexture>();
  private readonly luts = new Map<string, { readonly lut: Lut; readonly texture: Data3DTexture }>();

  /** A response's table. */
  response(table: Float32Array): Texture {
    let texture = this.responses.get(table);
    if (!texture) {
      const values = new Float32Array(RESPONSE_STEPS * 4);
      for (let i = 0; i < RESPONSE_STEPS; i++) values.set(table.subarray(i * 3, i * 3 + 3), i * 4);
      texture = new DataTexture(values, RESPONSE_STEPS, 1, RGBAFormat, FloatType);
      texture.needsUpdate = true;
      this.responses.set(table, texture);
      const [oldest] = this.responses;
      if (oldest && this.responses.size > MOST_RESPONSES) {
        oldest[1].dispose();
        this.responses.delete(oldest[0]);
      }
    }
    return texture;
  }

  /** Holds these 3D tables, by the ids of their assets, and no others. */
  keep(luts: ReadonlyMap<string, Lut>): void {
    for (const [id, { lut, texture }] of this.luts) {
      if (luts.get(id) === lut) continue;
      texture.dispose();
      this.luts.delete(id);
    }
    for (const [id, lut] of luts) if (!this.luts.has(id)) this.luts.set(id, { lut, texture: textureOf(lut) });
  }

  lut(assetId: string): { readonly lut: Lut; readonly texture: Texture } | undefined {
    return this.luts.get(assetId);
  }

  dispose(): void {
    for (const texture of this.responses.values()) texture.dispose();
    this.responses.clear();
    this.keep(new Map());
  }
}

/** While a curve is dragged each step has a table of its own. */
const MOST_RESPONSES = 16;

function textureOf({ size, values }: Lut): Data3DTexture {
  const rgba = new Float32Array(size ** 3 * 4);
  for (let i = 0; i < size ** 3; i++) rgba.set(values.subarray(i * 3, i * 3 + 3), i * 4);
  const texture = new Data3DTexture(rgba, size, size, size);
  texture.type = FloatType;
  texture.format = RGBAFormat;
  texture.minFilter = texture.magFilter = NearestFilter;
  texture.unpackAlignment = 1;
  texture.needsUpdate = true;
  return texture;
}

/** Uniforms of {@link LOOK_STEPS}. */
export function lookUniforms(): Record<string, IUniform> {
  return {
    lookMatrix: { value: new Matrix3() },
    cdlSlope: { value: new Vector3(1, 1, 1) },
    cdlOffset: { value: new Vector3() },
    cdlPower: { value: new Vector3(1, 1, 1) },
    cdlSaturation: { value: 1 },
    contrast: { value: 1 },
    pivot: { value: LOOK_DEFAULTS.tone.pivot },
    lift: { value: 0 },
    isGrey: { value: false },
    greyWeights: { value: new Vector3() },
    responseTable: { value: null },
    lutShare: { value: 0 },
    lutSize: { value: 2 },
    lutFrom: { value: new Vector3() },
    lutTo: { value: new Vector3(1, 1, 1) },
    lut: { value: null },
  };
}

/** The steps of {@link LOOK_STEPS} that a look takes: each combination is a program of its own, as graphics run what they need not. */
export function lookDefines(look: LookSettings, edgeStops: number, tables: LookTables): Record<string, string> {
  const { table, lutShare, cdl, contrast, lift } = lookNumbers(look);
  const plain = { ...look, response: { ...NEUTRAL_RESPONSE, grey: look.response.grey }, edgeStops: 0, lut: null };
  return {
    ...(!isNeutral(plain) && { GRADED: '' }),
    ...(cdl.power.some((part) => part !== 1) && { POWERED: '' }),
    ...((contrast !== 1 || lift !== 0) && { TONED: '' }),
    ...(table && { BENDS: '' }),
    ...(edgeStops > 0 && { EDGED: '' }),
    ...(look.lut && lutShare > 0 && tables.lut(look.lut.assetId) && { TABLED: '' }),
  };
}

/** Sets them for a look. What is named but not there yet is left out. */
export function setLookUniforms(uniforms: Record<string, IUniform>, look: LookSettings, tables: LookTables): void {
  const put = (name: string, value: unknown) => {
    const uniform = uniforms[name];
    if (uniform) uniform.value = value;
  };
  const triple = (name: string, of: readonly [number, number, number]) => (uniforms[name]?.value as Vector3).set(...of);
  const { matrix, cdl, contrast, pivot, lift, grey, table, lutShare } = lookNumbers(look);
  (uniforms['lookMatrix']?.value as Matrix3).set(...matrix[0], ...matrix[1], ...matrix[2]);
  triple('cdlSlope', cdl.slope);
  triple('cdlOffset', cdl.offset);
  triple('cdlPower', cdl.power);
  put('cdlSaturation', cdl.saturation);
  put('contrast', contrast);
  put('pivot', pivot);
  put('lift', lift);
  put('isGrey', grey !== undefined);
  triple('greyWeights', grey ?? [0, 0, 0]);
  put('responseTable', table ? tables.response(table) : null);
  const held = look.lut ? tables.lut(look.lut.assetId) : undefined;
  put('lutShare', held ? lutShare : 0);
  put('lut', held?.texture ?? null);
  put('lutSize', held?.lut.size ?? 2);
  triple('lutFrom', held?.lut.from ?? [0, 0, 0]);
  triple('lutTo', held?.lut.to ?? [1, 1, 1]);
}
