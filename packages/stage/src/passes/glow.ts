import type { FilmWindow, LookSettings } from '@arvex/core';
import { linearFromSrgb } from '@arvex/core';
import type { IUniform, Texture, WebGLRenderer } from 'three';
import {
  HalfFloatType,
  LinearFilter,
  Mesh,
  OrthographicCamera,
  PlaneGeometry,
  Scene,
  ShaderMaterial,
  Vector2,
  Vector3,
  Vector4,
  WebGLRenderTarget,
} from 'three';
import type { StageView } from '../view';
import { idealView } from '../view';
import { ADDED, FULL_VERTEX } from './adding';
import { ARM, BLUR, GATHER, SHRINK, SPREAD, STREAK_LOOKS, STREAK_STEPS } from './glow-programs';

/** Cells of the frame's width in which glowing light is gathered, whatever the picture's size: so all sizes glow alike. */
const GRID = 320;
/** Cells of a blur's own grid that its deviation takes: it costs the same however wide it is. */
const SIGMA_CELLS = 3;
/** Of the glow so much lies wide, and how much wider. */
const WIDE_SHARE = 0.35;
const WIDER = 3.5;
/** What an arm has lost at its length. */
const STREAK_LEFT = 0.01;
/** Looks along each side of a cell at most. */
const MOST_LOOKS = 8;

/** Light that is spread, as shares of what clips. */
export interface GlowTextures {
  /** The part of the film plane that it lies on, before distortion bends it. */
  readonly window: FilmWindow;
  readonly texture: Texture;
}

/** Where light is gathered from. */
export interface GlowSource {
  /** Samples added up, and what one share of them is. */
  readonly picture: Texture;
  /** Stands for exactly these samples: another object once there are others. */
  readonly samples: object;
  readonly share: number;
  readonly widthPx: number;
  readonly heightPx: number;
  readonly clipping: number;
  /** White where what is there may glow; everything may without one. */
  readonly mask: Texture | undefined;
}

/** Whether a look spreads any light. */
export function glows({ glow, streaks }: LookSettings): boolean {
  return glow.amount > 0 || streaks.amount > 0;
}

/** Size in cells of the grid in which a view's glowing light is gathered. */
export function glowGrid(view: StageView): { readonly width: number; readonly height: number } {
  const { window } = idealView(view);
  const cellMm = (view.frame.rightMm - view.frame.leftMm) / GRID;
  const cells = (mm: number) => Math.max(4, Math.min(MOST_CELLS, Math.round(mm / cellMm)));
  return { width: cells(window.rightMm - window.leftMm), height: cells(window.topMm - window.bottomMm) };
}

const MOST_CELLS = 1024;

/** Spreads the bright light of a picture: glow, and streaks. */
export class Glow {
  private readonly camera = new OrthographicCamera();
  private readonly scene = new Scene();
  private readonly plane = new Mesh<PlaneGeometry, ShaderMaterial>(new PlaneGeometry(2, 2));
  private readonly targets = new Map<string, WebGLRenderTarget>();
  /** What was spread last: a look that spreads the same of the same samples has it at once. */
  private last: { readonly samples: object; readonly wanted: string; readonly spread: GlowTextures } | undefined;
  private readonly gather = material(GATHER, {
    picture: null,
    mask: null,
    share: 1,
    threshold: 1,
    looks: 1,
    inside: new Vector4(),
    cell: new Vector2(),
  });
  private readonly shrink = material(SHRINK, { picture: null, looks: new Vector2(), cell: new Vector2() });
  private readonly blur = material(BLUR, { picture: null, along: new Vector2(), sigma: SIGMA_CELLS });
  private readonly arm = material(ARM, {
    picture: null,
    along: new Vector2(),
    kept: new Vector3(),
    gain: new Vector3(1, 1, 1),
  });
  private readonly lastArm: ShaderMaterial;
  private readonly all = material(SPREAD, {
    near: null,
    wide: null,
    streaks: null,
    glow: 0,
    wideShare: WIDE_SHARE,
    streak: 0,
  });

  constructor() {
    this.plane.frustumCulled = false;
    this.scene.add(this.plane);
    this.lastArm = this.arm.clone();
    Object.assign(this.lastArm, ADDED);
    // Both materials share one set of values.
    this.lastArm.uniforms = this.arm.uniforms;
  }

  /** What a view's look spreads of its light. */
  spread(renderer: WebGLRenderer, view: StageView, source: GlowSource): GlowTextures {
    const { glow, streaks } = view.look;
    const { window } = idealView(view);
    const wanted = JSON.stringify([glow, streaks, window, view.frame, source.clipping]);
    if (this.last?.samples === source.samples && this.last.wanted === wanted) return this.last.spread;
    const grid = glowGrid(view);
    const bright = this.gathered(renderer, view, source, grid);
    const near = glow.amount > 0 ? this.blurred(renderer, bright, grid, glow.size, 'near') : undefined;
    const wide = near && this.blurred(renderer, bright, grid, glow.size * WIDER, 'wide');
    const streaked = streaks.amount > 0 ? this.streaked(renderer, bright, grid, view.look) : undefined;
    // Where there is none of a kind, it has no weight.
    put(this.all, { near: near ?? bright, wide: wide ?? bright, streaks: streaked ?? bright });
    put(this.all, { glow: glow.amount, streak: streaks.amount });
    const texture = this.drawn(renderer, this.all, 'spread', grid);
    renderer.setRenderTarget(null);
    const spread = { window, texture };
    this.last = { samples: source.samples, wanted, spread };
    return spread;
  }

  dispose(): void {
    for (const target of this.targets.values()) target.dispose();
    for (const one of [this.gather, this.shrink, this.blur, this.arm, this.lastArm, this.all]) one.dispose();
    this.plane.geometry.dispose();
  }

  private gathered(renderer: WebGLRenderer, view: StageView, source: GlowSource, grid: Grid): Texture {
    const { window } = idealView(view);
    const { frame } = view;
    const [width, height] = [window.rightMm - window.leftMm, window.topMm - window.bottomMm];
    const looks = Math.min(MOST_LOOKS, Math.max(1, Math.ceil(source.widthPx / grid.width)));
    put(this.gather, {
      picture: source.picture,
      mask: source.mask ?? null,
      share: source.share / source.clipping,
      threshold: view.look.glow.threshold,
      looks,
    });
    this.maskGathered(source.mask !== undefined);
    vector2(this.gather, 'cell').set(1 / grid.width, 1 / grid.height);
    // What is not in the delivered frame does not glow into it: it would not in what is delivered.
    (this.gather.uniforms['inside']?.value as Vector4).set(
      (frame.leftMm - window.leftMm) / width,
      (frame.bottomMm - window.bottomMm) / height,
      (frame.rightMm - window.leftMm) / width,
      (frame.topMm - window.bottomMm) / height,
    );
    return this.drawn(renderer, this.gather, 'bright', grid);
  }

  /** Whether only what a mask has white glows: another program. */
  private maskGathered(masked: boolean): void {
    if ('MASKED' in this.gather.defines === masked) return;
    this.gather.defines = masked ? { MASKED: '' } : {};
    this.gather.needsUpdate = true;
  }

  /** Blurred by a share of the frame's width as deviation, in a grid as coarse as that allows. */
  private blurred(renderer: WebGLRenderer, bright: Texture, grid: Grid, size: number, name: string): Texture {
    const scale = Math.max(1, (size * GRID) / SIGMA_CELLS);
    const small = { width: shrunk(grid.width, scale), height: shrunk(grid.height, scale) };
    put(this.shrink, { picture: bright });
    vector2(this.shrink, 'cell').set(1 / small.width, 1 / small.height);
    vector2(this.shrink, 'looks').set(
      Math.min(MOST_SHRINK_LOOKS, Math.ceil(grid.width / small.width)),
      Math.min(MOST_SHRINK_LOOKS, Math.ceil(grid.height / small.height)),
    );
    const begun = this.drawn(renderer, this.shrink, `${name} shrunk`, small);
    const cells = size * GRID * (small.width / grid.width);
    put(this.blur, { picture: begun, sigma: Math.max(0.3, cells) });
    vector2(this.blur, 'along').set(1 / small.width, 0);
    const across = this.drawn(renderer, this.blur, `${name} across`, small);
    put(this.blur, { picture: across });
    vector2(this.blur, 'along').set(0, 1 / small.height);
    return this.drawn(renderer, this.blur, name, small);
  }

  /** Arms of light, added to each other: each the sum of what lies back along it, less and less. */
  private streaked(renderer: WebGLRenderer, bright: Texture, grid: Grid, { streaks }: LookSettings): Texture {
    const { arms, angleDeg, length, spread, tint } = streaks;
    const target = this.target('streaks', grid);
    renderer.setRenderTarget(target);
    renderer.clear();
    const cells = length * GRID;
    const stretched = [1 + spread, 1, 1 - spread * MOST_SHORTENED] as const;
    const kept = stretched.map((by) => STREAK_LEFT ** (1 / Math.max(1, cells * by)));
    const colour = [1, 3, 5].map((at) => linearFromSrgb(parseInt(tint.slice(at, at + 2), 16) / 255));
    for (let i = 0; i < arms; i++) {
      const angle = ((angleDeg + (360 * i) / arms) * Math.PI) / 180;
      let picture = bright;
      for (let step = 0; step < STREAK_STEPS; step++) {
        const by = STREAK_LOOKS ** step;
        const last = step === STREAK_STEPS - 1;
        put(this.arm, { picture });
        vector2(this.arm, 'along').set((Math.cos(angle) * by) / grid.width, (Math.sin(angle) * by) / grid.height);
        vector3(this.arm, 'kept').fromArray(kept.map((share) => share ** by));
        // As bright at its root, however long it is.
        vector3(this.arm, 'gain').fromArray(last ? colour.map((part) => part * STREAK_ROOT) : [1, 1, 1]);
        if (last) this.drawInto(renderer, this.lastArm, target);
        else picture = this.drawn(renderer, this.arm, `arm ${step % 2}`, grid);
      }
    }
    return target.texture;
  }

  private drawn(renderer: WebGLRenderer, how: ShaderMaterial, name: string, grid: Grid): Texture {
    const target = this.target(name, grid);
    this.drawInto(renderer, how, target);
    return target.texture;
  }

  /** All of a target is drawn over: there is nothing to clear. */
  private drawInto(renderer: WebGLRenderer, how: ShaderMaterial, target: WebGLRenderTarget): void {
    this.plane.material = how;
    renderer.setRenderTarget(target);
    renderer.autoClear = false;
    renderer.render(this.scene, this.camera);
    renderer.autoClear = true;
  }

  private target(name: string, { width, height }: Grid): WebGLRenderTarget {
    let target = this.targets.get(name);
    if (!target) {
      // Halves can be looked up between cells everywhere.
      target = new WebGLRenderTarget(width, height, {
        type: HalfFloatType,
        minFilter: LinearFilter,
        magFilter: LinearFilter,
        depthBuffer: false,
      });
      this.targets.set(name, target);
    }
    target.setSize(width, height);
    return target;
  }
}

interface Grid {
  readonly width: number;
  readonly height: number;
}

const MOST_SHRINK_LOOKS = 24;
/** Blue goes so much less far than red at most. */
const MOST_SHORTENED = 0.8;
/** How bright an arm is where it begins, of what glows there: looks of one light add up along it. */
const STREAK_ROOT = 0.06;

const shrunk = (cells: number, scale: number) => Math.max(4, Math.ceil(cells / scale));

function material(fragmentShader: string, values: Record<string, unknown>): ShaderMaterial {
  const uniforms = Object.fromEntries(Object.entries(values).map(([name, value]) => [name, { value }]));
  return new ShaderMaterial({
    depthTest: false,
    depthWrite: false,
    toneMapped: false,
    uniforms,
    vertexShader: FULL_VERTEX,
    fragmentShader,
  });
}

function put({ uniforms }: ShaderMaterial, values: Record<string, unknown>): void {
  for (const [name, value] of Object.entries(values)) {
    const uniform = uniforms[name] as IUniform | undefined;
    if (uniform) uniform.value = value;
  }
}

const vector2 = ({ uniforms }: ShaderMaterial, name: string) => uniforms[name]?.value as Vector2;
const vector3 = ({ uniforms }: ShaderMaterial, name: string) => uniforms[name]?.value as Vector3;
