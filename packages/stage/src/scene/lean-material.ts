import type { MeshLambertMaterial, WebGLProgramParametersWithUniforms } from 'three';
import { isSmooth, mirrorSky } from './smooth-surface';

/** Where three.js's Lambert shader works out light in each pixel, from its first line to its last. */
const PIXEL_LIGHT = /#include <lights_lambert_fragment>[\s\S]*#include <lights_fragment_end>/;

const CORNER_LIGHT = /* glsl */ `
  #include <lights_pars_begin>
  varying vec3 vCornerLight;
  #ifdef DOUBLE_SIDED
    varying vec3 vBackLight;
  #endif

  /* Light that falls on a surface at a place of the view, lux. */
  vec3 lightOn(vec3 place, vec3 normal) {
    vec3 light = ambientLightColor;
    IncidentLight from;
    #if NUM_DIR_LIGHTS > 0
      #pragma unroll_loop_start
      for (int i = 0; i < NUM_DIR_LIGHTS; i++) {
        getDirectionalLightInfo(directionalLights[i], from);
        light += saturate(dot(normal, from.direction)) * from.color;
      }
      #pragma unroll_loop_end
    #endif
    #if NUM_POINT_LIGHTS > 0
      #pragma unroll_loop_start
      for (int i = 0; i < NUM_POINT_LIGHTS; i++) {
        getPointLightInfo(pointLights[i], place, from);
        light += saturate(dot(normal, from.direction)) * from.color;
      }
      #pragma unroll_loop_end
    #endif
    #if NUM_SPOT_LIGHTS > 0
      #pragma unroll_loop_start
      for (int i = 0; i < NUM_SPOT_LIGHTS; i++) {
        getSpotLightInfo(spotLights[i], place, from);
        light += saturate(dot(normal, from.direction)) * from.color;
      }
      #pragma unroll_loop_end
    #endif
    #if NUM_HEMI_LIGHTS > 0
      #pragma unroll_loop_start
      for (int i = 0; i < NUM_HEMI_LIGHTS; i++) {
        light += getHemisphereLightIrradiance(hemisphereLights[i], normal);
      }
      #pragma unroll_loop_end
    #endif
    return light;
  }`;

const FROM_CORNERS = /* glsl */ `
  varying vec3 vCornerLight;
  #ifdef DOUBLE_SIDED
    varying vec3 vBackLight;
  #endif`;

const PIXEL_NORMAL = /#include <normal_fragment_begin>\s*#include <normal_fragment_maps>/;

const lean = new WeakMap<MeshLambertMaterial, MeshLambertMaterial>();

/**
 * The same material with its light worked out at corners and spread between them, without shadows. Goes with the one it is made of.
 * What mirrors stays as it is: a glint lies between corners.
 */
export function leanOf(material: MeshLambertMaterial): MeshLambertMaterial {
  if (isSmooth(material)) return material;
  let made = lean.get(material);
  if (!made) {
    made = material.clone();
    made.onBeforeCompile = (shader) => lightAtCorners(shader);
    made.customProgramCacheKey = () => 'lean';
    const own = made;
    material.addEventListener('dispose', () => {
      own.dispose();
      lean.delete(material);
    });
    lean.set(material, made);
  }
  made.emissive.copy(material.emissive);
  made.emissiveIntensity = material.emissiveIntensity;
  return made;
}

const leanest = new WeakMap<MeshLambertMaterial, MeshLambertMaterial>();

/** The same with what mirrors mirroring the sky alone: the quickest of all. */
export function leanestOf(material: MeshLambertMaterial): MeshLambertMaterial {
  if (!isSmooth(material)) return leanOf(material);
  let made = leanest.get(material);
  if (!made) {
    made = material.clone();
    made.onBeforeCompile = (shader) => {
      lightAtCorners(shader, true);
      mirrorSky(material, shader);
    };
    made.customProgramCacheKey = () => 'leanest';
    const own = made;
    material.addEventListener('dispose', () => {
      own.dispose();
      leanest.delete(material);
    });
    leanest.set(material, made);
  }
  made.emissive.copy(material.emissive);
  made.emissiveIntensity = material.emissiveIntensity;
  return made;
}

/** @param keepsNormal of each pixel, for what mirrors. */
function lightAtCorners(shader: WebGLProgramParametersWithUniforms, keepsNormal = false): void {
  shader.vertexShader = shader.vertexShader
    .replace('#include <shadowmap_pars_vertex>', CORNER_LIGHT)
    .replace('#include <shadowmap_vertex>', '')
    .replace(
      '#include <fog_vertex>',
      /* glsl */ `
      vec3 cornerNormal = normalize(transformedNormal);
      vCornerLight = lightOn(mvPosition.xyz, cornerNormal);
      #ifdef DOUBLE_SIDED
        vBackLight = lightOn(mvPosition.xyz, -cornerNormal);
      #endif`,
    );
  shader.fragmentShader = shader.fragmentShader
    .replace(keepsNormal ? '' : PIXEL_NORMAL, '')
    .replace('#include <shadowmap_pars_fragment>', '')
    .replace('void main() {', `${FROM_CORNERS}\nvoid main() {`)
    .replace(
      PIXEL_LIGHT,
      /* glsl */ `
      vec3 cornerLight = vCornerLight;
      #ifdef DOUBLE_SIDED
        if (!gl_FrontFacing) cornerLight = vBackLight;
      #endif
      reflectedLight.indirectDiffuse = cornerLight * BRDF_Lambert(diffuseColor.rgb);`,
    );
}
