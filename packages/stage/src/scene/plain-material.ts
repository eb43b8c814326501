import type { MeshLambertMaterial, Texture } from 'three';
import { MeshBasicMaterial, NoBlending } from 'three';

/** What a body leaves of itself in a picture that is not of it: a hole, or a flat white that is multiplied with its instance's colour. */
export type Plain = 'hole' | 'white';

const made = new WeakMap<MeshLambertMaterial, Map<Plain, MeshBasicMaterial>>();

/** A material in the place of another, cut out as that one is. Goes with the one it is made of. */
export function plainOf(material: MeshLambertMaterial, kind: Plain): MeshBasicMaterial {
  const known = made.get(material) ?? new Map<Plain, MeshBasicMaterial>();
  made.set(material, known);
  const before = known.get(kind);
  if (before) return before;
  const cut: Texture | null = material.alphaTest > 0 ? (material.map ?? material.emissiveMap) : null;
  const plain = new MeshBasicMaterial({
    color: '#ffffff',
    side: material.side,
    alphaTest: material.alphaTest,
    map: cut,
    toneMapped: false,
    blending: NoBlending,
  });
  plain.onBeforeCompile = (shader) => {
    const colour = kind === 'hole' ? 'vec4(0.0)' : 'vec4(vColor.rgb, 1.0)';
    const shown =
      kind === 'white'
        ? `#ifdef USE_COLOR\ngl_FragColor = ${colour};\n#else\ngl_FragColor = vec4(1.0);\n#endif`
        : `gl_FragColor = ${colour};`;
    shader.fragmentShader = shader.fragmentShader.replace('#include <opaque_fragment>', shown);
  };
  plain.customProgramCacheKey = () => kind;
  material.addEventListener('dispose', () => {
    plain.dispose();
    known.delete(kind);
  });
  known.set(kind, plain);
  return plain;
}
