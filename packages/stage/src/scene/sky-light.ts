import type { IUniform } from 'three';
import { Color, Vector3 } from 'three';

/** Sharpness of the glow round the sun (it falls to 1/e at 26°), and how much brighter than the sky it is. */
const GLOW_SHARPNESS = 9.9;
const GLOW_GAIN = 1.3;

/** Share of the sky's light that the ground gives back, for surfaces that look down. */
export const GROUND_SHARE = 0.25;

/** What the sky looks like, for every shader that shows it or mirrors it: set in one place, shared by all. */
export interface SkyUniforms {
  readonly towardSun: IUniform<Vector3>;
  readonly horizon: IUniform<Color>;
  readonly zenith: IUniform<Color>;
  /** cd/m². */
  readonly skyLuminance: IUniform<number>;
  /** From where a sample takes the light of the sky; nothing mirrors that as if it were a lamp. */
  readonly skySample: IUniform<Vector3>;
}

export function skyUniforms(): SkyUniforms {
  return {
    towardSun: { value: new Vector3(0, 1, 0) },
    horizon: { value: new Color() },
    zenith: { value: new Color() },
    skyLuminance: { value: 1 },
    skySample: { value: new Vector3() },
  };
}

/** `skyLight(look)`: luminance of the sky in a direction of the world, cd/m², for each of red, green and blue. */
export const SKY_LIGHT = /* glsl */ `
  uniform vec3 towardSun, horizon, zenith;
  uniform float skyLuminance;
  vec3 skyLight(vec3 look) {
    float height = sqrt(clamp(look.y, 0.0, 1.0));
    vec3 colour = mix(horizon * 1.1, zenith * 0.6, smoothstep(0.0, 0.8, height));
    float glow = exp(${GLOW_SHARPNESS.toFixed(1)} * (dot(look, towardSun) - 1.0));
    colour += horizon * ${GLOW_GAIN.toFixed(1)} * glow * (1.0 - 0.6 * height);
    return colour * skyLuminance;
  }`;
