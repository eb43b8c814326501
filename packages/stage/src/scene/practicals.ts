import type { LightMix, Placement } from '@arvex/core';
import { blackBodyColour, lightFactor } from '@arvex/core';
import type { Matrix4 } from 'three';
import { Group, PointLight, SpotLight } from 'three';

type PracticalPiece = Extract<Placement['piece'], { kind: 'practical' }>;

interface Practical {
  readonly light: PointLight | SpotLight;
  readonly piece: PracticalPiece;
  readonly lightGroupId: string | null;
}

const SHADOW_MAP_PX = 512;

const HALF_PI = Math.PI / 2;

/** The lamps of a set: points, spots and panels, in lumen and kelvin. */
export class Practicals {
  readonly group = new Group();
  private readonly lamps = new Map<string, Practical>();

  /** Hangs up these lamps and no others. */
  set(placements: readonly Placement[]): void {
    const wanted = new Map(placements.map((placement) => [placement.id, placement]));
    for (const [id, { light, piece }] of this.lamps) {
      const next = wanted.get(id)?.piece;
      if (next?.kind === 'practical' && sameKind(next, piece)) continue;
      this.group.remove(light);
      light.dispose();
      this.lamps.delete(id);
    }
    for (const { id, piece, lightGroupId } of placements) {
      if (piece.kind !== 'practical') continue;
      const light = this.lamps.get(id)?.light ?? this.hang(piece);
      tune(light, piece);
      this.lamps.set(id, { light, piece, lightGroupId });
    }
  }

  dispose(): void {
    this.set([]);
  }

  place(placementId: string, world: Matrix4): void {
    const light = this.lamps.get(placementId)?.light;
    if (!light) return;
    light.position.setFromMatrixPosition(world);
    if (light instanceof SpotLight) light.target.position.set(0, 0, -1).applyMatrix4(world);
  }

  /** Lets the lamps burn as a camera's mix has it. One that is off costs nothing. */
  shine(mix: LightMix): void {
    for (const { light, piece, lightGroupId } of this.lamps.values()) {
      const factor = lightFactor(lightGroupId === null ? undefined : mix[lightGroupId]);
      const [r, g, b] = blackBodyColour(piece.kelvin);
      light.visible = piece.lumen > 0 && factor.some((part) => part > 0);
      light.color.setRGB(r * factor[0], g * factor[1], b * factor[2]);
    }
  }

  /** Lamps whose shadows are drawn. */
  get withShadow(): (PointLight | SpotLight)[] {
    return [...this.lamps.values()].map(({ light }) => light).filter((light) => light.castShadow);
  }

  private hang(piece: PracticalPiece): PointLight | SpotLight {
    const light = piece.lamp === 'point' ? new PointLight() : new SpotLight();
    light.shadow.mapSize.set(SHADOW_MAP_PX, SHADOW_MAP_PX);
    light.shadow.bias = -0.002;
    light.shadow.autoUpdate = false;
    this.group.add(light);
    if (light instanceof SpotLight) this.group.add(light.target);
    return light;
  }
}

function sameKind(a: PracticalPiece, b: PracticalPiece): boolean {
  return a.lamp === b.lamp && a.shadow === b.shadow;
}

/** Intensity in cd and the shape of the beam. */
function tune(light: PointLight | SpotLight, piece: PracticalPiece): void {
  light.castShadow = piece.shadow;
  light.decay = 2;
  light.distance = 0;
  if (light instanceof PointLight) {
    light.intensity = piece.lumen / (4 * Math.PI);
    return;
  }
  const panel = piece.lamp === 'area';
  light.angle = panel ? HALF_PI : Math.min(HALF_PI, (piece.coneDeg * Math.PI) / 360);
  light.penumbra = panel ? 1 : piece.softness;
  light.intensity = piece.lumen / beamSolidAngle(light.angle, light.penumbra);
}

/**
 * Solid angle of a beam, each direction counted with its share of full strength, sr. The fade between the inner cone and
 * the edge is a smoothstep in the cosine, whose mean is one half. A panel (90°, wholly soft) gives π, as Lambert's law does.
 */
export function beamSolidAngle(angle: number, softness: number): number {
  const [outer, inner] = [Math.cos(angle), Math.cos(angle * (1 - softness))];
  return 2 * Math.PI * (1 - inner + (inner - outer) / 2);
}
