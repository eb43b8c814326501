import { computed, effect, inject, Injectable, signal, untracked } from '@angular/core';
import type { CameraState, Metering as Mode } from '@arvex/core';
import { luminanceOf, meteredEv, METERING, meterLuminance } from '@arvex/core';
import type { Scopes } from '@arvex/stage';
import { viewOf } from '@arvex/stage/view';
import { StageHost } from '../../drawing';
import { Playhead, remembered, Viewpoint } from '../../session';
import * as z from 'zod';

/** Height of the picture that is metered, pixels: enough for a spot. */
const METERED_PX = 72;
const SCOPES_PX = 135;
/** How long the picture has to rest before it is metered, ms. */
const REST_MS = 220;

/** What the meter says. */
export interface Reading {
  readonly cameraId: string;
  readonly luminanceCdM2: number;
  /** EV that the meter would set. */
  readonly ev: number;
  /** Stops by which the present setting is brighter than the meter's: positive is over. */
  readonly over: number;
}

/** The light meter: reads cd/m² from what the camera looked through delivers, whenever it rests. */
@Injectable({ providedIn: 'root' })
export class Meter {
  private readonly viewpoint = inject(Viewpoint);
  private readonly playhead = inject(Playhead);
  private readonly host = inject(StageHost);
  private timer: ReturnType<typeof setTimeout> | undefined;
  private turn = 0;

  readonly modes = METERING;
  readonly mode = remembered('metering', z.enum(METERING), 'centre');
  readonly spot = signal<readonly [number, number]>([0.5, 0.5]);
  readonly reading = signal<Reading | undefined>(undefined);
  /** What was read last of each camera, for the checks. */
  readonly readings = signal<ReadonlyMap<string, Reading>>(new Map());
  /** Whether somebody looks at the scopes. */
  readonly scopesWanted = signal(false);
  readonly scopes = signal<Scopes | undefined>(undefined);
  /** Setting of the edited camera as the scene sees it: EV with neutral density. */
  readonly settingEv = computed(() => {
    const exposure = this.viewpoint.state()?.exposure;
    return exposure && exposure.ev100 + exposure.ndStops;
  });

  constructor() {
    // What was read in another way is not shown as if it were this.
    effect(() => {
      this.mode();
      this.spot();
      untracked(() => this.reading.set(undefined));
    });
    effect(() => {
      const state = this.viewpoint.throughState();
      this.viewpoint.drawnProject();
      const wanted = { mode: this.mode(), spot: this.spot(), scopes: this.scopesWanted() };
      const flicks = this.playhead.seen()?.sceneFlicks ?? 0;
      const busy = this.playhead.playing() || this.host.loading();
      untracked(() => this.soon(busy ? undefined : state, flicks, wanted));
    });
  }

  /** Reads a spot of the frame, 0…1. */
  spotAt(at: readonly [number, number]): void {
    this.spot.set(at);
    this.mode.set('spot');
  }

  private soon(
    state: CameraState | undefined,
    flicks: number,
    wanted: { mode: Mode; spot: readonly [number, number]; scopes: boolean },
  ) {
    clearTimeout(this.timer);
    if (state) this.timer = setTimeout(() => void this.read(state, flicks, wanted), REST_MS);
  }

  private async read(
    state: CameraState,
    flicks: number,
    { mode, spot, scopes }: { mode: Mode; spot: readonly [number, number]; scopes: boolean },
  ): Promise<void> {
    const turn = ++this.turn;
    const { widthMm, heightMm } = state.framing.used;
    const width = Math.max(8, Math.round((METERED_PX * widthMm) / heightMm));
    const view = viewOf(state, flicks, undefined, { aperture: undefined });
    const light = await this.host.light(view, width, METERED_PX);
    if (turn !== this.turn) return;
    const luminances = Float32Array.from({ length: width * METERED_PX }, (_, i) => luminanceAt(light, i));
    const luminanceCdM2 = meterLuminance(luminances, width, METERED_PX, mode, spot);
    const ev = meteredEv(Math.max(1e-6, luminanceCdM2));
    const over = ev - (state.exposure.ev100 + state.exposure.ndStops);
    const reading = { cameraId: state.cameraId, luminanceCdM2, ev, over };
    this.reading.set(reading);
    this.readings.update((all) => new Map(all).set(state.cameraId, reading));
    if (!scopes) return;
    const counted = await this.host.scopes(view, Math.round((SCOPES_PX * widthMm) / heightMm), SCOPES_PX);
    if (turn === this.turn) this.scopes.set(counted);
  }
}

function luminanceAt(light: Float32Array, pixel: number): number {
  return luminanceOf([light[pixel * 4] ?? 0, light[pixel * 4 + 1] ?? 0, light[pixel * 4 + 2] ?? 0]);
}
