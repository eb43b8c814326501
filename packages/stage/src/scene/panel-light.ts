import { ShaderChunk } from 'three';

const FADE = 'return smoothstep( coneCosine, penumbraCosine, angleCosine );';

/** A cone is taken as half a space when the cosine of its half angle is below this. */
const HALF_A_SPACE = '1e-6';

/**
 * Lets light of a beam that fills half a space and is soft all over (a panel) fall off with the cosine, as Lambert's law says, in all of
 * three.js's shaders. They fade beams by a smoothstep in the cosine, which is 0.17 stops too bright at 45° and 0.7 too dark at 76°.
 */
export function lambertWhereHalfASpace(): void {
  const chunk = ShaderChunk.lights_pars_begin;
  if (chunk.includes(HALF_A_SPACE)) return;
  if (!chunk.includes(FADE))
    throw new Error('three.js fades the beams of lamps in another way than panels were fitted to.');
  ShaderChunk.lights_pars_begin = chunk.replace(
    FADE,
    `return coneCosine < ${HALF_A_SPACE} && penumbraCosine > 1.0 - ${HALF_A_SPACE} ? max( angleCosine, 0.0 ) : ${FADE.slice(7)}`,
  );
}
