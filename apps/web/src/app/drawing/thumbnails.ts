import { computed, inject, Injectable, signal } from '@angular/core';
import type { CameraState, ChannelValues } from '@arvex/core';
import { cameraAt, fingerprintOf, isMoving } from '@arvex/core';
import { viewOf } from '@arvex/stage/view';
import { finalize, switchMap } from 'rxjs';
import { ProjectStore } from '../data';
import { Pictures } from './pictures';

/** Width of a drawn thumbnail, pixels; shown smaller. */
const WIDTH_PX = 208;
const MOST_KEPT = 600;

/** Small pictures of cameras at times, drawn when they are first asked for, and kept while they are true. */
@Injectable({ providedIn: 'root' })
export class Thumbnails {
  private readonly store = inject(ProjectStore);
  private readonly pictures = inject(Pictures);
  private readonly kept = new Map<string, ImageBitmap>();
  private readonly asked = new Set<string>();
  private readonly made = signal(0);

  /** What of the project changes every thumbnail: the set and its light. */
  private readonly setKey = computed(() => {
    const project = this.store.project();
    if (!project) return '';
    const revisions = [...Object.values(project.sets), ...Object.values(project.placements)].map((one) => one.revision);
    return fingerprintOf(revisions);
  });
  private readonly moves = computed(() => {
    const project = this.store.project();
    return project ? Object.values(project.placements).some((one) => isMoving(project, one)) : false;
  });

  /** The picture, or nothing yet; reading it in a reactive place asks again when it is there. */
  of(cameraId: string | null, flicks: number, trial?: ChannelValues): ImageBitmap | undefined {
    this.made();
    const project = this.store.project();
    if (!project || cameraId === null || !project.cameras[cameraId]) return undefined;
    const state = cameraAt(project, cameraId, flicks, trial);
    const key = `${this.setKey()} ${this.moves() ? flicks : ''} ${JSON.stringify(state)}`;
    const found = this.kept.get(key);
    if (!found && !this.asked.has(key)) {
      this.asked.add(key);
      this.make(state, flicks, key);
    }
    return found;
  }

  private make(state: CameraState, flicks: number, key: string): void {
    const { widthMm, heightMm } = state.framing.used;
    const height = Math.max(2, Math.round((WIDTH_PX * heightMm) / widthMm));
    this.pictures.first$ // nothing is made before the picture itself stands there
      .pipe(
        switchMap(() => this.pictures.thumbnail(viewOf(state, flicks), WIDTH_PX, height)),
        finalize(() => this.asked.delete(key)),
      )
      .subscribe({
        next: (bitmap) => this.keep(key, bitmap),
        error: (error: unknown) => console.error('A thumbnail could not be drawn.', error),
      });
  }

  private keep(key: string, bitmap: ImageBitmap): void {
    const [oldest] = this.kept.keys();
    if (this.kept.size >= MOST_KEPT && oldest !== undefined) this.kept.delete(oldest);
    this.kept.set(key, bitmap);
    this.made.update((count) => count + 1);
  }
}
