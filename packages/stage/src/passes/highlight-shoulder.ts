import { FADE_TO_WHITE, SHOULDER_START } from '@arvex/core';
import { ShaderChunk } from 'three';

/** Name of the hook that three.js calls for `CustomToneMapping`, as its shader source has it. */
const HOOK = 'vec3 CustomToneMapping( vec3 color ) { return color; }';

/**
 * The response of the picture as GLSL, `color` being its value (1 clips): linear below the shoulder, so that the meter's mid-tone lands
 * where it should; above it the highlights of Khronos PBR Neutral (2024), which keep their hue.
 */
export const SHOULDER_BODY = /* glsl */ `
      float peak = max( color.r, max( color.g, color.b ) );
      float room = 1.0 - ${SHOULDER_START.toFixed(2)};
      if ( peak < ${SHOULDER_START.toFixed(2)} ) return color;
      float bent = 1.0 - room * room / ( peak + room - ${SHOULDER_START.toFixed(2)} );
      float fade = 1.0 - 1.0 / ( ${FADE_TO_WHITE.toFixed(2)} * ( peak - bent ) + 1.0 );
      return mix( color * bent / peak, vec3( bent ), fade );`;

/** Puts the response of the picture in three.js's tone mapping hook. */
export function installHighlightShoulder(): void {
  ShaderChunk.tonemapping_pars_fragment = ShaderChunk.tonemapping_pars_fragment.replace(
    HOOK,
    /* glsl */ `
    vec3 CustomToneMapping( vec3 color ) {
      color *= toneMappingExposure;
      ${SHOULDER_BODY}
    }`,
  );
}
