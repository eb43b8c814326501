import type { DaylightSettings, GroupLevel, Vector } from '@arvex/core';
import { blackBodyColour, daylightOf, lightFactor } from '@arvex/core';
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

/** Share of the sky's light that the ground gives back, for surfaces that look down. */
const GROUND_SHARE = 0.25;

/** Sharpness of the glow round the sun (it falls to 1/e at 26°), and how much brighter than the sky it is. */
const GLOW_SHARPNESS = 9.9;

const GLOW_GAIN = 1.3;

const SHADOW_MAP_PX = 1024;

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

const isUp = (elevationDeg: number) => elevationDeg > SUNSET_DEG;

/** Sun, sky light and the sky itself, in lux and cd/m². Colours have luminance 1, so that amounts stay true. */
export class Daylight {
  readonly group = new Group();
  private readonly sun = new DirectionalLight();
  private readonly sky = new HemisphereLight();
  private readonly dome: Mesh<SphereGeometry, ShaderMaterial>;

  private readonly toward = new Vector3(0, 1, 0);
  private readonly horizon = new Color();
  private readonly zenith = new Color();
  private readonly shadowCentre = new Vector3();
  private shadowRadiusM = 0;
  private settings: ReturnType<typeof daylightOf> | undefined;

  constructor() {
    this.sun.shadow.mapSize.set(SHADOW_MAP_PX, SHADOW_MAP_PX);
    this.sun.shadow.autoUpdate = false;
    this.dome = new Mesh(new SphereGeometry(1, 64, 48), skyMaterial());
    this.dome.frustumCulled = false;
    this.dome.renderOrder = 2; // after everything, so that only what stays sky is shaded
    this.dome.raycast = () => undefined; // nobody picks the sky
    this.group.add(this.sun, this.sun.target, this.sky, this.dome);
  }

  dispose(): void {
    this.sun.dispose();
    this.sky.dispose();
    this.dome.geometry.dispose();
    this.dome.material.dispose();
  }

  /** Sun and sky as the set has them. */
  set(settings: DaylightSettings): void {
    this.settings = daylightOf(settings);
    const { sun, sky } = this.settings;
    const up = isUp(sun.elevationDeg) ? Math.max(LOWEST_DEG, sun.elevationDeg) : sun.elevationDeg;
    const toward = sunDirection(up, sun.azimuthDeg);
    this.toward.set(...toward);
    this.horizon.setRGB(...blackBodyColour(sky.horizonKelvin));
    this.zenith.setRGB(...blackBodyColour(sky.zenithKelvin));
    (this.uniform('towardSun').value as Vector3).set(...toward);
    this.aimShadow();
  }

  /** Lets sun and sky shine as a camera's mix has their group. */
  shine(level: GroupLevel | undefined): void {
    if (!this.settings) return;
    const { sun, sky } = this.settings;
    const factor = new Color().setRGB(...lightFactor(level));
    this.sun.color.setRGB(...blackBodyColour(sun.kelvin)).multiply(factor);
    this.sun.intensity = isUp(sun.elevationDeg) ? sun.illuminanceLx : 0;
    this.sun.visible = this.sun.intensity > 0 && level?.on !== false;
    const [horizon, zenith] = [this.horizon, this.zenith].map((colour) => colour.clone().multiply(factor)) as [
      Color,
      Color,
    ];
    this.sky.color.copy(zenith).lerp(horizon, 0.4);
    this.sky.groundColor.copy(horizon).multiplyScalar(GROUND_SHARE);
    this.sky.intensity = sky.illuminanceLx;
    (this.uniform('horizon').value as Color).copy(horizon);
    (this.uniform('zenith').value as Color).copy(zenith);
    // A sky of even luminance L lights a flat surface with π·L.
    this.uniform('skyLuminance').value = sky.illuminanceLx / Math.PI;
  }

  /** Casts the sun's shadows within a ball round what stands in the set. */
  castWithin(centre: Vector3, radiusM: number): void {
    this.shadowCentre.copy(centre);
    this.shadowRadiusM = radiusM;
    this.aimShadow();
  }

  /** The sun as a light with a shadow; nothing while it does not shine. */
  get withShadow(): DirectionalLight | undefined {
    return this.sun.castShadow && this.sun.visible ? this.sun : undefined;
  }

  /** Whether the sky itself is seen. */
  set skyShown(shown: boolean) {
    this.dome.visible = shown;
  }

  private aimShadow(): void {
    const radius = this.shadowRadiusM;
    this.sun.target.position.copy(this.shadowCentre);
    this.sun.position
      .copy(this.toward)
      .multiplyScalar(2 * radius)
      .add(this.shadowCentre);
    this.sun.castShadow = radius > 0;
    const camera = this.sun.shadow.camera;
    Object.assign(camera, { left: -radius, right: radius, top: radius, bottom: -radius, near: 0.1, far: 4 * radius });
    camera.updateProjectionMatrix();
    this.sun.shadow.normalBias = (2 * radius) / SHADOW_MAP_PX;
    this.sun.target.updateMatrixWorld();
  }

  private uniform(name: string): { value: unknown } {
    return this.dome.material.uniforms[name] as { value: unknown };
  }

  /** Keeps the dome round the eye, inside its clip distances. */
  surround(position: Vector, nearM: number, farM: number): void {
    this.dome.position.set(...position);
    this.dome.scale.setScalar(Math.max(nearM * 2, farM * 0.5));
    this.dome.updateMatrixWorld();
  }
}

function skyMaterial(): ShaderMaterial {
  return new ShaderMaterial({
    side: BackSide,
    depthWrite: false,
    uniforms: {
      towardSun: { value: new Vector3(0, 1, 0) },
      horizon: { value: new Color() },
      zenith: { value: new Color() },
      skyLuminance: { value: 1 },
    },
    // The gradient is smooth: worked out at the dome's corners, it costs next to nothing at each pixel.
    vertexShader: /* glsl */ `
      uniform vec3 towardSun, horizon, zenith;
      uniform float skyLuminance;
      varying vec3 light;
      void main() {
        vec3 look = normalize(position);
        float height = sqrt(clamp(look.y, 0.0, 1.0));
        vec3 colour = mix(horizon * 1.1, zenith * 0.6, smoothstep(0.0, 0.8, height));
        float glow = exp(${GLOW_SHARPNESS.toFixed(1)} * (dot(look, towardSun) - 1.0));
        colour += horizon * ${GLOW_GAIN.toFixed(1)} * glow * (1.0 - 0.6 * height);
        light = colour * skyLuminance;
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
