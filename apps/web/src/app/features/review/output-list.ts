import { DatePipe } from '@angular/common';
import { ChangeDetectionStrategy, Component, computed, DestroyRef, inject, signal } from '@angular/core';
import { MatIcon } from '@angular/material/icon';
import { MatProgressBar } from '@angular/material/progress-bar';
import { MatTooltip } from '@angular/material/tooltip';
import type { Render } from '@arvex/core';
import { bytesText, durationText, IconButton } from '../../ui';
import { addressOf } from './file-address';
import { canSaveFolder, FolderSaving } from './folder-saving';
import { MixPanel } from './mix-panel';
import { Renders } from './renders';

const REFRESH_MS = 1000;

/** An order with its parts, as the list shows it. */
interface Listed {
  readonly id: string;
  readonly name: string;
  readonly renders: readonly Render[];
  readonly running: boolean;
  readonly paused: boolean;
  readonly done: boolean;
}

/** What was ordered, with its progress; what is finished can be watched and taken away. */
@Component({
  selector: 'arvex-output-list',
  imports: [DatePipe, IconButton, MatIcon, MatProgressBar, MatTooltip, MixPanel],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './output-list.html',
  styleUrl: './output-list.scss',
})
export class OutputList {
  protected readonly renders = inject(Renders);
  protected readonly saving = inject(FolderSaving);
  /** The render whose light is mixed anew. */
  protected readonly mixing = signal<string | undefined>(undefined);
  protected readonly canSaveFolder = canSaveFolder();
  /** Time passes for what is left, even when no frame comes. */
  private readonly now = signal(0);
  protected readonly orders = computed<readonly Listed[]>(() => {
    const byOrder = new Map<string, Render[]>();
    for (const render of this.renders.all())
      byOrder.set(render.orderId, [...(byOrder.get(render.orderId) ?? []), render]);
    return [...byOrder].map(([id, renders]) => ({
      id,
      renders,
      name: renders[0]?.name ?? '',
      running: renders.some(({ state }) => state === 'rendering' || state === 'encoding'),
      paused: renders.some(({ state }) => state === 'paused'),
      done: renders.every(({ state }) => state === 'done'),
    }));
  });

  constructor() {
    const timer = setInterval(() => this.now.set(performance.now()), REFRESH_MS);
    inject(DestroyRef).onDestroy(() => clearInterval(timer));
  }

  /** Newest picture of a render; asked for anew with each frame that comes. */
  protected picture({ id, framesDone, isSeen }: Render): string | undefined {
    return isSeen && framesDone > 0 ? `/api/renders/${id}/picture?of=${framesDone}` : undefined;
  }

  protected movie({ id, files }: Render): { readonly address: string; readonly name: string } | undefined {
    const movie = files.find(({ kind }) => kind === 'movie');
    return movie && { address: addressOf(id, movie.path), name: movie.path.split('/').at(-1) ?? '' };
  }

  protected status(render: Render): string {
    this.now();
    const { framesDone, framesFailed, framesKept, frameCount, state, error, files, folder } = render;
    const kept = framesKept > 0 ? `${framesKept} kept, ${framesDone - framesKept} made` : '';
    const frames = `${framesDone} of ${frameCount}`;
    const failed = framesFailed > 0 ? ` · ${framesFailed} could not be made` : '';
    if (state === 'failed') return `${frames} · failed: ${error ?? 'unknown reason'}`;
    if (state === 'cancelled') return `cancelled at ${frames}`;
    if (state === 'paused') return `${frames} · paused${failed}`;
    if (state === 'encoding') return `${frames} · making the files`;
    if (state === 'done') {
      const bytes = files.reduce((sum, file) => sum + (file.kind === 'movie' ? file.bytes : 0), 0);
      return [`${frameCount} f`, kept, bytes > 0 ? bytesText(bytes) : '', folder ?? ''].filter(Boolean).join(' · ');
    }
    if (framesDone === 0 && this.renders.current()?.id !== render.id) return `waiting · ${frameCount} f`;
    const [left, pace] = [this.renders.secondsLeft(render), this.renders.pace(render)];
    const going =
      left === undefined
        ? framesDone > 0
          ? 'waiting'
          : 'measuring'
        : `${durationText(left)} left · ${pace?.toFixed(1)} f/s`;
    return [frames, kept, `${going}${failed}`].filter(Boolean).join(' · ');
  }

  /** What draws it, in few words: the whole name says little to most. */
  protected drawnBy({ graphics }: Render): string {
    if (graphics === null) return '';
    if (/swiftshader/i.test(graphics)) return 'drawn by the browser’s own software';
    return /llvmpipe|softpipe/i.test(graphics) ? 'drawn by software (Mesa)' : 'drawn by the graphics card';
  }
}
