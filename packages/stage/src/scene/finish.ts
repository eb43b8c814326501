import type { Material, MeshLambertMaterial } from 'three';
import { clayOf } from './clay-material';
import { leanestOf, leanOf } from './lean-material';

/**
 * How surfaces are drawn: with light in each pixel, with light worked out at corners (of what mirrors in each pixel, or at corners too), or all in
 * one grey.
 */
export type Finish = 'full' | 'lean' | 'leanest' | 'clay';

/** A material as a finish has it. */
export function finished(material: MeshLambertMaterial, finish: Finish): MeshLambertMaterial {
  if (finish === 'full') return material;
  if (finish === 'clay') return clayOf(material);
  return finish === 'lean' ? leanOf(material) : leanestOf(material);
}

/** Which material a body has for one picture: another one, none (it is not drawn), or its own where nothing is said. */
export type Instead = (
  own: MeshLambertMaterial,
  isGround: boolean,
  placementId: string | undefined,
) => Material | 'none' | undefined;
