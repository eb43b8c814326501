import { computed, inject, Injectable, linkedSignal, signal } from '@angular/core';
import { takeUntilDestroyed, toObservable } from '@angular/core/rxjs-interop';
import type { CameraState, LightMix, Metering as Mode } from '@arvex/core';
import { luminanceOf, meteredEv, METERING, meterLuminance, sceneEv } from '@arvex/core';
import type { Scopes } from '@arvex/stage';
import { viewOf } from '@arvex/stage/view';
import type { Observable } from 'rxjs';
import { concat, map, tap } from 'rxjs';
import { Notices, remembered } from '../../data';
import { StageHost } from '../../drawing';
import { measuredAtRest, Playhead, Viewpoint } from '../../session';
import * as z from 'zod';

/** Height of the picture that is metered, pixels: enough for a spot. */
const METERED_PX = 72;
const SCOPES_PX = 135;
/** How long the picture has to rest before it is metered, ms. */
const REST_MS = 220;

/** What scopes can count. */
const SCOPES_OF = ['light', 'look'] as const;
type ScopesOf = (typeof SCOPES_OF)[number];

/** What is to be metered, and how. */
interface Metered {
  readonly state: CameraState;
  readonly flicks: number;
  readonly mode: Mode;
  /** In the frame, 0…1. */
  readonly spot: readonly [number, number];
  /** What the scopes count; nothing where nobody looks at them. */
  readonly scopes: ScopesOf | undefined;
}

/** What the meter says. */
export interface Reading {
  readonly cameraId: string;
  readonly luminanceCdM2: number;
  /** EV that the meter would set. */
  readonly ev: number;
  /** Stops by which the setting at that time was brighter than the meter's: positive is over. */
  readonly over: number;
}

/** The light meter: reads cd/m² from what the camera looked through delivers, whenever it rests. */
@Injectable({ providedIn: 'root' })
export class Meter {
  private readonly viewpoint = inject(Viewpoint);
  private readonly playhead = inject(Playhead);
  private readonly host = inject(StageHost);
  private readonly notices = inject(Notices);

  readonly modes = METERING;
  readonly mode = remembered('metering', z.enum(METERING), 'centre');
  readonly spot = signal<readonly [number, number]>([0.5, 0.5]);
  /** What was read in another way, or at another spot, is not shown as if it were this. */
  readonly reading = linkedSignal<unknown, Reading | undefined>({
    source: () => [this.mode(), this.spot()],
    computation: () => undefined,
  });
  /** What was read last of each camera, for the checks. */
  readonly readings = signal<ReadonlyMap<string, Reading>>(new Map());
  /** Whether somebody looks at the scopes. */
  readonly scopesWanted = signal(false);
  /** Whether they count the light, or what the look makes of it. The meter itself always reads the light. */
  readonly scopesOf = remembered('scopes-of', z.enum(SCOPES_OF), 'light');
  readonly scopes = signal<Scopes | undefined>(undefined);
  /** Setting of the edited camera as the scene sees it: EV with neutral density. */
  readonly settingEv = computed(() => {
    const exposure = this.viewpoint.state()?.exposure;
    return exposure && sceneEv(exposure);
  });

  /** Stops by which the present setting is brighter than the meter's: positive is over. None where nothing was read of this camera. */
  readonly over = computed(() => {
    const [reading, ev] = [this.reading(), this.settingEv()];
    const read = reading?.cameraId === this.viewpoint.camera()?.id ? reading : undefined;
    return read && ev !== undefined ? read.ev - ev : undefined;
  });

  constructor() {
    const metered = computed<Metered | undefined>(() => {
      const state = this.viewpoint.throughState();
      if (!state || !this.viewpoint.drawnProject() || this.playhead.playing() || this.host.loading()) return undefined;
      const flicks = this.playhead.seen()?.sceneFlicks ?? 0;
      return {
        state,
        flicks,
        mode: this.mode(),
        spot: this.spot(),
        scopes: this.scopesWanted() ? this.scopesOf() : undefined,
      };
    });
    toObservable(metered)
      .pipe(
        measuredAtRest(
          (one) => this.read(one),
          (error) => this.notices.error(error),
          REST_MS,
        ),
        takeUntilDestroyed(),
      )
      .subscribe();
  }

  /** Reads a spot of the frame, 0…1. */
  spotAt(at: readonly [number, number]): void {
    this.spot.set(at);
    this.mode.set('spot');
  }

  /** What the meter reads of a camera with another light mix, cd/m²: by its mode, at its spot. */
  luminanceWith(state: CameraState, flicks: number, lightMix: LightMix): Observable<number> {
    const { view, width } = meteredView(state, flicks);
    const [mode, spot] = [this.mode(), this.spot()];
    return this.host
      .light({ ...view, lightMix }, width, METERED_PX)
      .pipe(map((light) => readingOf(state, light, width, mode, spot).luminanceCdM2));
  }

  private read({ state, flicks, mode, spot, scopes }: Metered): Observable<unknown> {
    const { widthMm, heightMm } = state.framing.used;
    const { view, width } = meteredView(state, flicks);
    const read = this.host.light(view, width, METERED_PX).pipe(
      map((light) => readingOf(state, light, width, mode, spot)),
      tap((reading) => this.keep(reading)),
    );
    if (!scopes) return read;
    const counted = this.host.scopes(view, Math.round((SCOPES_PX * widthMm) / heightMm), SCOPES_PX, scopes);
    return concat(read, counted.pipe(tap((found) => this.scopes.set(found))));
  }

  private keep(reading: Reading): void {
    this.reading.set(reading);
    this.readings.update((all) => new Map(all).set(reading.cameraId, reading));
  }
}

function meteredView(state: CameraState, flicks: number) {
  const { widthMm, heightMm } = state.framing.used;
  const width = Math.max(8, Math.round((METERED_PX * widthMm) / heightMm));
  return { view: viewOf(state, flicks, undefined, { aperture: undefined }), width };
}

function readingOf(
  { cameraId, exposure }: CameraState,
  light: Float32Array,
  widthPx: number,
  mode: Mode,
  spot: readonly [number, number],
): Reading {
  const luminances = Float32Array.from({ length: light.length / 4 }, (_, i) => luminanceAt(light, i));
  const luminanceCdM2 = meterLuminance(luminances, widthPx, METERED_PX, mode, spot);
  const ev = meteredEv(Math.max(1e-6, luminanceCdM2));
  return { cameraId, luminanceCdM2, ev, over: ev - sceneEv(exposure) };
}

function luminanceAt(light: Float32Array, pixel: number): number {
  return luminanceOf([light[pixel * 4] ?? 0, light[pixel * 4 + 1] ?? 0, light[pixel * 4 + 2] ?? 0]);
}
