import type { MeshLambertMaterial, WebGLProgramParametersWithUniforms } from 'three';
import type { SkyUniforms } from './sky-light';
import { GROUND_SHARE, SKY_LIGHT } from './sky-light';

/** Share of light that water, glass and varnish mirror straight ahead: ((n − 1) / (n + 1))² with n = 1.4 (Fresnel). */
const STRAIGHT_SHARE = 0.028;

/** Rougher than this, a surface is matt: what it mirrors is not told from what it scatters. */
export const MATT_FROM = 0.95;

/** A sharper mirror than this would show the sun in less than a pixel. */
const SMOOTHEST = 0.04;

/** Whether a material mirrors. */
export const isSmooth = (material: MeshLambertMaterial) => material.userData['roughness'] !== undefined;

/**
 * Lets a material mirror sky, sun and lamps as a smooth surface does: Fresnel's share of it by Schlick's approximation (1994), lights
 * spread by its roughness (GGX, Walter et al. 2007), and the sky taken from a direction bent toward the normal as it gets rougher.
 * What is mirrored is not scattered.
 * @param roughness 0 mirrors sharply, 1 not at all.
 */
export function smoothed(material: MeshLambertMaterial, roughness: number, sky: SkyUniforms): void {
  if (roughness >= MATT_FROM) return;
  material.userData['roughness'] = roughness;
  skies.set(material, sky);
  material.onBeforeCompile = (shader) => mirror(shader, Math.max(SMOOTHEST, roughness), sky);
  material.customProgramCacheKey = () => 'smooth';
}

const skies = new WeakMap<MeshLambertMaterial, SkyUniforms>();

/** Where three.js adds up the light of a Lambert surface. */
const SUMMED = 'vec3 outgoingLight = reflectedLight.directDiffuse + reflectedLight.indirectDiffuse';

const SHARE = /* glsl */ `
      vec3 toEye = isOrthographic ? vec3(0.0, 0.0, 1.0) : normalize(vViewPosition);
      float mirrored = mirroredShare(saturate(dot(normal, toEye)));`;

/** Lets a copy of a smooth material mirror the sky alone: no sun and no lamp is looked for in it. */
export function mirrorSky(material: MeshLambertMaterial, shader: WebGLProgramParametersWithUniforms): void {
  const roughness = Math.max(SMOOTHEST, (material.userData['roughness'] as number | undefined) ?? 1);
  Object.assign(shader.uniforms, skies.get(material), { roughness: { value: roughness } });
  shader.fragmentShader = shader.fragmentShader
    .replace('#include <lights_lambert_pars_fragment>', `#include <lights_lambert_pars_fragment>\n${MIRRORED_SKY}`)
    .replace(
      SUMMED,
      /* glsl */ `${SHARE}
      vec3 outgoingLight = (reflectedLight.directDiffuse + reflectedLight.indirectDiffuse) * (1.0 - mirrored)
        + mirrored * mirroredSky(normal, toEye)`,
    );
}

function mirror(shader: WebGLProgramParametersWithUniforms, roughness: number, sky: SkyUniforms): void {
  Object.assign(shader.uniforms, sky, { roughness: { value: roughness } });
  shader.fragmentShader = shader.fragmentShader
    .replace('#include <lights_lambert_pars_fragment>', `#include <lights_lambert_pars_fragment>\n${MIRRORING}`)
    .replace(
      SUMMED,
      /* glsl */ `${SHARE}
      vec3 outgoingLight = (reflectedLight.directDiffuse + reflectedLight.indirectDiffuse) * (1.0 - mirrored)
        + reflectedLight.directSpecular + mirrored * mirroredSky(normal, toEye)`,
    );
}

/** What a smooth surface mirrors of the sky, and how much of it. */
const MIRRORED_SKY = /* glsl */ `
  ${SKY_LIGHT}
  uniform vec3 skySample;
  uniform float roughness;

  float mirroredShare(float cosine) {
    float grazing = max(1.0 - roughness, ${STRAIGHT_SHARE});
    return ${STRAIGHT_SHARE} + (grazing - ${STRAIGHT_SHARE}) * pow(1.0 - cosine, 5.0);
  }

  vec3 mirroredSky(vec3 normal, vec3 toEye) {
    vec3 away = normalize(mix(reflect(-toEye, normal), normal, roughness * roughness));
    vec3 look = (vec4(away, 0.0) * viewMatrix).xyz;
    vec3 ground = horizon * skyLuminance * ${GROUND_SHARE};
    return mix(ground, skyLight(look), smoothstep(-0.1, 0.0, look.y));
  }

`;

const MIRRORING = /* glsl */ `
  ${MIRRORED_SKY}
  void mirrorLight(
    const in IncidentLight from, const in vec3 position, const in vec3 normal, const in vec3 toEye,
    const in vec3 unused, const in LambertMaterial material, inout ReflectedLight reflected
  ) {
    RE_Direct_Lambert(from, position, normal, toEye, unused, material, reflected);
    if (dot(from.direction, (viewMatrix * vec4(skySample, 0.0)).xyz) > 0.99999) return;
    vec3 between = normalize(from.direction + toEye);
    float nl = saturate(dot(normal, from.direction));
    float nv = max(dot(normal, toEye), 0.02);
    float nh = saturate(dot(normal, between));
    float a = roughness * roughness;
    float spread = nh * nh * (a * a - 1.0) + 1.0;
    float lobe = a * a / (PI * spread * spread);
    float hidden = 0.5 / max(mix(2.0 * nl * nv, nl + nv, a), 1.0e-4);
    reflected.directSpecular += from.color * nl * lobe * hidden * mirroredShare(saturate(dot(between, toEye)));
  }
  #undef RE_Direct
  #define RE_Direct mirrorLight`;
