import type { LightMix, Placement } from '@arvex/core';
import { lightColour, LAMP_RADIUS_M, lightFactor, NO_GROUP } from '@arvex/core';
import { Group, Matrix4, PointLight, SpotLight, Vector3 } from 'three';
import { areaPoint, discPoint } from '../view';
import { lambertWhereHalfASpace } from './panel-light';

lambertWhereHalfASpace();

type PracticalPiece = Extract<Placement['piece'], { kind: 'practical' }>;

interface Practical {
  readonly light: PointLight | SpotLight;
  readonly piece: PracticalPiece;
  readonly lightGroupId: string | null;
  /** Where it hangs. */
  readonly world: Matrix4;
}

const SHADOW_MAP_PX = 512;

const HALF_PI = Math.PI / 2;

/** Half the angle of the widest map of shadows, radians. */
const WIDEST_SHADOW = (80 * Math.PI) / 180;

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
      if (light instanceof SpotLight) this.group.remove(light.target);
      light.dispose();
      this.lamps.delete(id);
    }
    const hung = new Map(this.lamps);
    this.lamps.clear();
    for (const { id, piece, lightGroupId } of placements) {
      if (piece.kind !== 'practical') continue;
      const before = hung.get(id);
      const light = before?.light ?? newLamp(piece);
      tune(light, piece);
      // Added anew in their order: shaders add up lamps as they come.
      const parts = light instanceof SpotLight ? [light, light.target] : [light];
      this.group.remove(...parts).add(...parts);
      this.lamps.set(id, { light, piece, lightGroupId, world: before?.world ?? new Matrix4() });
    }
  }

  /** Whether there is any of a light group. */
  hasAny(lightGroupId: string | null): boolean {
    return [...this.lamps.values()].some((lamp) => lamp.lightGroupId === lightGroupId);
  }

  dispose(): void {
    this.set([]);
  }

  place(placementId: string, world: Matrix4): void {
    const lamp = this.lamps.get(placementId);
    if (!lamp) return;
    lamp.world.copy(world);
    shineFrom(lamp, NOWHERE);
  }

  /**
   * Lets each lamp shine from one point of its body: a bulb's disc, a panel's face. With the first sample all get one, so that a picture
   * is the same whatever was drawn before it. Then of those that cast shadows one of each light group after another gets another, as a
   * shadow has to be drawn for it, so that a group's light is the same whichever others burn; none goes back to the middle.
   * @returns whose shadows have to be drawn.
   */
  shineFor(sample: number | undefined): readonly (PointLight | SpotLight)[] {
    const casting = [...this.lamps.values()].filter(({ light }) => light.castShadow && light.visible);
    if (sample === undefined) {
      for (const lamp of this.lamps.values()) shineFrom(lamp, NOWHERE);
      return casting.map(({ light }) => light);
    }
    const turns = new Set(sample === 0 ? casting.map(({ light }) => light) : []);
    for (const lightGroupId of new Set(casting.map((lamp) => lamp.lightGroupId))) {
      const own = casting.filter((lamp) => lamp.lightGroupId === lightGroupId);
      const turn = own[sample % own.length];
      if (turn) turns.add(turn.light);
    }
    for (const lamp of this.lamps.values()) {
      if (!lamp.light.castShadow || turns.has(lamp.light)) shineFrom(lamp, pointOf(lamp.piece, sample));
    }
    return [...turns];
  }

  /** Draws the set as lamps light it with nothing in their way. */
  withoutShadows(draw: () => void): void {
    const casting = this.withShadow;
    for (const light of casting) light.castShadow = false;
    draw();
    for (const light of casting) light.castShadow = true;
  }

  /** Lets the lamps burn as a camera's mix has it. One that is off costs nothing; `burns` lets those of other groups be there without light. */
  shine(mix: LightMix, burns: (lightGroupId: string | null) => boolean): void {
    for (const { light, piece, lightGroupId } of this.lamps.values()) {
      const factor = lightFactor(mix[lightGroupId ?? NO_GROUP]);
      const [r, g, b] = burns(lightGroupId) ? lightColour(piece.kelvin) : [0, 0, 0];
      light.visible = piece.lumen > 0 && factor.some((part) => part > 0);
      light.color.setRGB(r * factor[0], g * factor[1], b * factor[2]);
    }
  }

  /** Lamps whose shadows are drawn. */
  get withShadow(): (PointLight | SpotLight)[] {
    return [...this.lamps.values()].map(({ light }) => light).filter((light) => light.castShadow && light.visible);
  }
}

function newLamp(piece: PracticalPiece): PointLight | SpotLight {
  const light = piece.lamp === 'point' ? new PointLight() : new SpotLight();
  light.shadow.mapSize.set(SHADOW_MAP_PX, SHADOW_MAP_PX);
  light.shadow.bias = -0.002;
  light.shadow.autoUpdate = false;
  return light;
}

const NOWHERE = new Vector3();

const point = new Vector3();

/** A point of a lamp's body, in its own axes, metres: it looks toward −Z. */
function pointOf(piece: PracticalPiece, sample: number): Vector3 {
  const panel = piece.lamp === 'area';
  const { x, y } = panel ? areaPoint(sample) : discPoint(sample);
  return point.set(x * (panel ? piece.widthM : LAMP_RADIUS_M), y * (panel ? piece.heightM : LAMP_RADIUS_M), 0);
}

function shineFrom({ light, world }: Practical, at: Vector3): void {
  light.position.copy(at).applyMatrix4(world);
  if (light instanceof SpotLight) light.target.position.set(at.x, at.y, at.z - 1).applyMatrix4(world);
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
  // A map of shadows cannot see half a space: at the rim of a wider beam nothing is kept off.
  light.shadow.focus = Math.min(1, WIDEST_SHADOW / light.angle);
  light.intensity = piece.lumen / beamSolidAngle(light.angle, light.penumbra);
}

/**
 * Solid angle of a beam, each direction counted with its share of full strength, sr. The fade between the inner cone and
 * the edge is a smoothstep in the cosine, whose mean is one half. A panel (90°, wholly soft) follows Lambert's law instead, which gives π too.
 */
export function beamSolidAngle(angle: number, softness: number): number {
  const [outer, inner] = [Math.cos(angle), Math.cos(angle * (1 - softness))];
  return 2 * Math.PI * (1 - inner + (inner - outer) / 2);
}
