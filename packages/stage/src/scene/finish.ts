import type { Material, MeshLambertMaterial } from 'three';
import { clayOf } from './clay-material';
import { leanOf } from './lean-material';

/** How surfaces are drawn: with light in each pixel, with light worked out at corners, or all in one grey. */
export type Finish = 'full' | 'lean' | 'clay';

/** A material as a finish has it. */
export function finished(material: MeshLambertMaterial, finish: Finish): MeshLambertMaterial {
  return finish === 'full' ? material : finish === 'lean' ? leanOf(material) : clayOf(material);
}

/** Which material a body has for one picture: another one, none (it is not drawn), or its own where nothing is said. */
export type Instead = (
  own: MeshLambertMaterial,
  isGround: boolean,
  placementId: string | undefined,
) => Material | 'none' | undefined;
