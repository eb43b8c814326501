import type { MeshLambertMaterial } from 'three';
import { MeshLambertMaterial as Lambert } from 'three';

/** Share of light that clay scatters: a little lighter than a grey card. */
const CLAY_REFLECTANCE = 0.35;

const made = new WeakMap<MeshLambertMaterial, MeshLambertMaterial>();

/** The same surface in one matt grey, with nothing painted on it and no light of its own. Goes with the one it is made of. */
export function clayOf(material: MeshLambertMaterial): MeshLambertMaterial {
  let clay = made.get(material);
  if (!clay) {
    const cut = material.alphaTest > 0 ? (material.map ?? material.emissiveMap) : null;
    clay = new Lambert({
      side: material.side,
      alphaTest: material.alphaTest,
      map: cut,
      flatShading: material.flatShading,
    });
    clay.onBeforeCompile = (shader) => {
      // What is painted on it goes once it has been cut out.
      shader.fragmentShader = shader.fragmentShader.replace(
        '#include <alphatest_fragment>',
        `#include <alphatest_fragment>\n  diffuseColor.rgb = vec3(${CLAY_REFLECTANCE.toFixed(2)});`,
      );
    };
    clay.customProgramCacheKey = () => 'clay';
    const own = clay;
    material.addEventListener('dispose', () => {
      own.dispose();
      made.delete(material);
    });
    made.set(material, clay);
  }
  return clay;
}
