import { inject, Injectable } from '@angular/core';
import type { CameraState, ChannelValues, Project } from '@arvex/core';
import { appearanceAt, cameraAt, fingerprintOf } from '@arvex/core';
import { viewOf } from '@arvex/stage/view';
import type { Observable } from 'rxjs';
import { concat, concatMap, defer, EMPTY, finalize, from, map, of, share, take, tap } from 'rxjs';
import { Pictures } from './pictures';
import { ThumbnailDatabase } from './thumbnail-database';

/** Width of a thumbnail, pixels; shown smaller. */
const WIDTH_PX = 208;
const MOST_KEPT = 600;

/** What a thumbnail shows. */
export interface Shown {
  readonly cameraId: string;
  readonly atFlicks: number;
  readonly trial: ChannelValues | undefined;
  /** The variation that the camera is seen with; the one that it wears without. */
  readonly variationId?: string | null | undefined;
}

/** Small pictures of cameras at times: kept while they are true, in this browser too; drawn where there is none yet. */
@Injectable({ providedIn: 'root' })
export class Thumbnails {
  private readonly pictures = inject(Pictures);
  private readonly database = inject(ThumbnailDatabase);
  /** Addresses of pictures that are here, those used last at the end. */
  private readonly kept = new Map<string, string>();
  /** Those on their way, each drawn once for all who wait for it, and given up when nobody does. */
  private readonly coming = new Map<string, Observable<string>>();

  /** The address of the picture, once it is here. */
  of(project: Project, { cameraId, atFlicks, trial, variationId }: Shown): Observable<string> {
    const state = cameraAt(project, cameraId, atFlicks, trial, variationId);
    const key = fingerprintOf([FORM, appearanceAt(project, atFlicks), { ...state, cameraId: 0 }]);
    const known = this.kept.get(key);
    if (known !== undefined) {
      this.kept.delete(key);
      this.kept.set(key, known);
      return of(known);
    }
    let coming = this.coming.get(key);
    if (!coming) {
      coming = concat(this.read(key), this.draw(state, atFlicks, key)).pipe(
        take(1),
        map((picture) => this.keep(key, picture)),
        finalize(() => this.coming.delete(key)),
        share(),
      );
      this.coming.set(key, coming);
    }
    return coming;
  }

  private read(key: string): Observable<Blob> {
    return defer(() => from(this.database.get(key))).pipe(concatMap((picture) => (picture ? of(picture) : EMPTY)));
  }

  private draw(state: CameraState, atFlicks: number, key: string): Observable<Blob> {
    const { widthMm, heightMm } = state.framing.used;
    const height = Math.max(2, Math.round((WIDTH_PX * heightMm) / widthMm));
    // Nothing is made before the picture itself stands there.
    return this.pictures.first$.pipe(
      concatMap(() => this.pictures.thumbnail(viewOf(state, atFlicks), WIDTH_PX, height)),
      tap((picture) => void this.database.put(key, picture)),
    );
  }

  private keep(key: string, picture: Blob): string {
    const [oldest] = this.kept;
    if (this.kept.size >= MOST_KEPT && oldest) {
      this.kept.delete(oldest[0]);
      URL.revokeObjectURL(oldest[1]);
    }
    const address = URL.createObjectURL(picture);
    this.kept.set(key, address);
    return address;
  }
}

/** Changes when the same things are drawn in another way. */
const FORM = 1;
