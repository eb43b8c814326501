import type { DaylightSettings, GroupLevel, Vector } from '@arvex/core';
import { lightColour, daylightOf, lightFactor } from '@arvex/core';
import {
  BackSide,
  Color,
  DirectionalLight,
  Group,
  HemisphereLight,
  Mesh,
  ShaderMaterial,
  SphereGeometry,
  Vector3,
} from 'three';
import { discPoint, skyDirection } from '../view';
import type { SkyUniforms } from './sky-light';
import { GROUND_SHARE, SKY_LIGHT, skyUniforms } from './sky-light';

const SHADOW_MAP_PX = 1024;

/** So far below what stands highest shadows still fall on the ground, metres. */
const BELOW_M = 120;

/** Half the angle that the sun has in the sky, degrees: 0.53° in all (Allen's Astrophysical Quantities, 4th ed., 14.1). */
const SUN_RADIUS_DEG = 0.2666;

/** Unit vector toward the sun: azimuth clockwise from −Z (north), both in degrees. */
function sunDirection(elevationDeg: number, azimuthDeg: number): Vector {
  const elevation = (elevationDeg * Math.PI) / 180;
  const azimuth = (azimuthDeg * Math.PI) / 180;
  return [Math.sin(azimuth) * Math.cos(elevation), Math.sin(elevation), -Math.cos(azimuth) * Math.cos(elevation)];
}

/** The air lifts the sun: its upper edge is seen until its middle is so far below the horizon, degrees. */
const SUNSET_DEG = -0.833;

/** So low it then shines over the ground, degrees. */
const LOWEST_DEG = 0.3;

/** Later than anything of the set. */
const LAST = 1e9;

const isUp = (elevationDeg: number) => elevationDeg > SUNSET_DEG;

/** Sun, sky light and the sky itself, in lux and cd/m². Colours have luminance 1, so that amounts stay true. */
export class Daylight {
  readonly group = new Group();
  private readonly sun = new DirectionalLight();
  private readonly sky = new HemisphereLight();
  /**
   * The light of one direction of the sky as a sample sees it, with what keeps it off, and the same taken off without that: the sum of
   * both is what is kept off. So what lies open is lit as the whole sky lights it, however few samples are taken.
   */
  private readonly skySeen = new DirectionalLight();
  private readonly skyTaken = new DirectionalLight();
  private readonly dome: Mesh<SphereGeometry, ShaderMaterial>;
  /** What the sky looks like, for whatever mirrors it. */
  readonly uniforms = skyUniforms();

  /** Which sample shines; none is the quick light, all of the sun from its middle and all of the sky. */
  private sample: number | undefined;
  private readonly toward = new Vector3(0, 1, 0);
  private readonly shadowCentre = new Vector3();
  private shadowRadiusM = 0;
  private settings: ReturnType<typeof daylightOf> | undefined;

  constructor() {
    for (const light of [this.sun, this.skySeen]) {
      light.shadow.mapSize.set(SHADOW_MAP_PX, SHADOW_MAP_PX);
      light.shadow.autoUpdate = false;
    }
    this.skySeen.visible = this.skyTaken.visible = false;
    this.dome = new Mesh(new SphereGeometry(1, 64, 48), skyMaterial(this.uniforms));
    this.dome.frustumCulled = false;
    this.dome.renderOrder = LAST; // after everything, so that only what stays sky is shaded
    this.dome.raycast = () => undefined; // nobody picks the sky
    const parts = [this.sun, this.skySeen, this.skyTaken].flatMap((light) => [light, light.target]);
    this.group.add(...parts, this.sky, this.dome);
  }

  dispose(): void {
    for (const light of [this.sun, this.sky, this.skySeen, this.skyTaken]) light.dispose();
    this.dome.geometry.dispose();
    this.dome.material.dispose();
  }

  /** Sun and sky as the set has them. */
  set(settings: DaylightSettings): void {
    this.settings = daylightOf(settings);
    const { sun } = this.settings;
    const up = isUp(sun.elevationDeg) ? Math.max(LOWEST_DEG, sun.elevationDeg) : sun.elevationDeg;
    const toward = sunDirection(up, sun.azimuthDeg);
    this.toward.set(...toward);
    this.uniforms.towardSun.value.set(...toward);
    this.aimShadows();
  }

  /** Lets sun and sky shine as a camera's mix has their group. @param burns false lets them be there without light. */
  shine(level: GroupLevel | undefined, burns = true): void {
    if (!this.settings) return;
    const { sun, sky } = this.settings;
    const factor = burns ? new Color().setRGB(...lightFactor(level)) : new Color(0, 0, 0);
    this.sun.color.setRGB(...lightColour(sun.kelvin)).multiply(factor);
    this.sun.intensity = isUp(sun.elevationDeg) ? sun.illuminanceLx : 0;
    this.sun.visible = this.sun.intensity > 0 && level?.on !== false;
    const horizon = this.uniforms.horizon.value.setRGB(...lightColour(sky.horizonKelvin)).multiply(factor);
    const zenith = this.uniforms.zenith.value.setRGB(...lightColour(sky.zenithKelvin)).multiply(factor);
    this.sky.color.copy(zenith).lerp(horizon, 0.4);
    this.sky.groundColor.copy(horizon).multiplyScalar(GROUND_SHARE);
    this.sky.intensity = sky.illuminanceLx;
    // A sky of even luminance L lights a flat surface with π·L, and one direction for all of its 2π sr shines with 2π·L.
    this.uniforms.skyLuminance.value = sky.illuminanceLx / Math.PI;
    this.skySeen.color.copy(this.sky.color);
    this.skyTaken.color.copy(this.sky.color);
    this.skySeen.intensity = 2 * sky.illuminanceLx;
    this.skyTaken.intensity = -this.skySeen.intensity;
    const sampled = this.sample !== undefined && this.shadowRadiusM > 0 && sky.illuminanceLx > 0 && level?.on !== false;
    this.skySeen.visible = this.skyTaken.visible = sampled;
  }

  /** Lets sun and sky shine as one sample of a finer picture sees them: from a point of the sun's disc, from a direction of the sky. */
  shineFor(sample: number | undefined): void {
    if (sample === this.sample) return;
    this.sample = sample;
    this.aimShadows();
  }

  /** Casts the sun's shadows within a ball round what stands in the set. */
  castWithin(centre: Vector3, radiusM: number): void {
    this.shadowCentre.copy(centre);
    this.shadowRadiusM = radiusM;
    this.aimShadows();
  }

  /** Lights that cast a shadow now. */
  *withShadow(): Generator<DirectionalLight> {
    if (this.sun.castShadow && this.sun.visible) yield this.sun;
    if (this.skySeen.visible) yield this.skySeen;
  }

  /** Draws the set as sun and sky light it with nothing in their way. */
  withoutShadows(draw: () => void): void {
    const before = [this.sun, this.skySeen, this.skyTaken].map((light) => ({
      light,
      visible: light.visible,
      casts: light.castShadow,
    }));
    this.sun.castShadow = false;
    // What the sky's samples keep off comes to nothing where nothing is in the way.
    this.skySeen.visible = this.skyTaken.visible = false;
    draw();
    for (const { light, visible, casts } of before) Object.assign(light, { visible, castShadow: casts });
  }

  /** Whether the sky itself is seen. */
  set skyShown(shown: boolean) {
    this.dome.visible = shown;
  }

  private aimShadows(): void {
    this.aimShadow(this.sun, this.sunSeen());
    if (this.sample === undefined) return;
    const from = this.uniforms.skySample.value.set(...skyDirection(this.sample));
    this.aimShadow(this.skySeen, from);
    this.skyTaken.target.position.copy(this.skySeen.target.position);
    this.skyTaken.position.copy(this.skySeen.position);
    this.skyTaken.target.updateMatrixWorld();
  }

  /** Toward the point of the sun that the sample sees. */
  private sunSeen(): Vector3 {
    if (this.sample === undefined) return scratch.copy(this.toward);
    const { x, y } = discPoint(this.sample);
    const radius = Math.tan((SUN_RADIUS_DEG * Math.PI) / 180);
    across.set(0, 1, 0).cross(this.toward);
    if (across.lengthSq() < 1e-6) across.set(1, 0, 0);
    across.normalize();
    upward.crossVectors(this.toward, across);
    return scratch
      .copy(this.toward)
      .addScaledVector(across, x * radius)
      .addScaledVector(upward, y * radius)
      .normalize();
  }

  private aimShadow(light: DirectionalLight, toward: Vector3): void {
    const radius = this.shadowRadiusM;
    light.target.position.copy(this.shadowCentre);
    light.position
      .copy(toward)
      // Where nothing stands that casts a shadow it still shines from its direction.
      .multiplyScalar(2 * Math.max(1, radius))
      .add(this.shadowCentre);
    light.castShadow = radius > 0;
    const { camera } = light.shadow;
    camera.left = camera.bottom = -radius;
    camera.right = camera.top = radius;
    camera.near = 0.1;
    camera.far = 4 * radius + BELOW_M;
    camera.updateProjectionMatrix();
    light.shadow.normalBias = (2 * radius) / SHADOW_MAP_PX;
    light.target.updateMatrixWorld();
  }

  /** Keeps the dome round the eye, inside its clip distances. */
  surround(position: Vector, nearM: number, farM: number): void {
    this.dome.position.set(...position);
    this.dome.scale.setScalar(Math.max(nearM * 2, farM * 0.5));
    this.dome.updateMatrixWorld();
  }
}

const scratch = new Vector3();
const across = new Vector3();
const upward = new Vector3();

function skyMaterial(uniforms: SkyUniforms): ShaderMaterial {
  return new ShaderMaterial({
    side: BackSide,
    depthWrite: false,
    uniforms: { ...uniforms },
    // The gradient is smooth: worked out at the dome's corners, it costs next to nothing at each pixel.
    vertexShader: /* glsl */ `
      ${SKY_LIGHT}
      varying vec3 light;
      void main() {
        light = skyLight(normalize(position));
        gl_Position = (projectionMatrix * viewMatrix * modelMatrix * vec4(position, 1.0)).xyww; // at the far plane
      }`,
    fragmentShader: /* glsl */ `
      varying vec3 light;
      void main() {
        gl_FragColor = vec4(light, 1.0);
        #include <tonemapping_fragment>
        #include <colorspace_fragment>
      }`,
  });
}
