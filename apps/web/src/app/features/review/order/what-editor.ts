import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { MatCheckbox } from '@angular/material/checkbox';
import type { OrderedWhat } from '@arvex/core';
import {
  camerasInOrder,
  cutOf,
  flicksAtFrame,
  framesInFlicks,
  handlesOf,
  ownRange,
  sceneTimeOf,
  variationsOf,
} from '@arvex/core';
import { Thumbnail } from '../../../drawing';
import { Playhead } from '../../../session';
import { Switch, switchChoices } from '../../../ui';
import { OrderEditor } from './order-editor';

type Kind = 'cut' | 'shots' | 'cameras' | 'still';
type Way = 'worn' | 'all' | 'chosen';

interface Row {
  readonly id: string;
  readonly name: string;
  readonly about: string;
  readonly cameraId: string | null;
  readonly atFlicks: number;
  readonly chosen: boolean;
}

/** Which shots or cameras are rendered, each with its picture; or the cut, or one frame. */
@Component({
  selector: 'arvex-what-editor',
  imports: [MatCheckbox, Switch, Thumbnail],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <arvex-switch label="What is rendered" [choices]="kinds" [value]="kind()" (chosen)="choose($event)" />
    @if (rows(); as list) {
      <div class="all">
        <mat-checkbox [checked]="isAll()" (change)="chooseAll()">all {{ list.length }}</mat-checkbox>
      </div>
      <ul>
        @for (row of list; track row.id) {
          <li>
            <mat-checkbox [checked]="row.chosen" [aria-label]="row.name" (change)="turn(row)" />
            <arvex-thumbnail [cameraId]="row.cameraId" [atFlicks]="row.atFlicks" />
            <span class="name">{{ row.name }}</span>
            <span class="num quiet">{{ row.about }}</span>
          </li>
        }
      </ul>
    } @else if (kind() === 'still') {
      <p class="quiet">The frame at the playhead, {{ stillWords() }}.</p>
    }
    @if (variations().length > 0) {
      <div class="variations">
        <arvex-switch
          label="Which variations are rendered"
          [choices]="ways"
          [value]="way()"
          (chosen)="chooseWay($event)"
        />
        @if (way() === 'chosen') {
          <ul>
            @for (one of variations(); track one.id) {
              <li>
                <mat-checkbox [checked]="one.chosen" (change)="turnVariation(one.id)">{{ one.name }}</mat-checkbox>
              </li>
            }
          </ul>
        }
      </div>
    }
  `,
  styles: `
    :host {
      display: block;
    }
    .variations {
      margin-top: 8px;
    }
    .all {
      margin-top: 6px;
    }
    ul {
      max-height: 220px;
      margin: 0;
      padding: 0;
      overflow: auto;
      list-style: none;
    }
    li {
      display: flex;
      align-items: center;
      gap: 8px;
      min-height: 34px;
    }
    arvex-thumbnail {
      flex: none;
      width: 53px;
      height: 30px;
      border-radius: 3px;
    }
    .name {
      flex: 1;
      overflow: hidden;
      text-overflow: ellipsis;
      white-space: nowrap;
    }
    .num {
      font-size: 12px;
    }
    p {
      margin: 8px 0;
    }
  `,
})
export class WhatEditor extends OrderEditor {
  private readonly playhead = inject(Playhead);
  protected readonly kinds = switchChoices<Kind>(['cut', 'shots', 'cameras', 'still'], {
    cut: 'the cut',
    still: 'one frame',
  });
  protected readonly kind = computed<Kind>(() => {
    const { kind } = this.order().what;
    return kind === 'camera-still' ? 'still' : kind;
  });
  protected readonly isAll = computed(() => {
    const { what } = this.order();
    return (what.kind === 'shots' && what.shotIds === null) || (what.kind === 'cameras' && what.cameraIds === null);
  });
  protected readonly rows = computed<readonly Row[] | undefined>(() => {
    const [project, { what, frames }] = [this.store.project(), this.order()];
    if (!project) return undefined;
    const { rate } = project.head;
    if (what.kind === 'shots') {
      return cutOf(project, what.sequenceId).shots.map((placed) => {
        const { shot, frameCount } = placed;
        const { inFrames, outFrames } = handlesOf(project, shot);
        const handles = frames.handles && inFrames + outFrames > 0 ? ` + ${inFrames + outFrames}` : '';
        return {
          ...{ id: shot.id, name: shot.name, cameraId: shot.cameraId, about: `${frameCount}${handles} f` },
          atFlicks: sceneTimeOf(placed, Math.floor(frameCount / 2), rate),
          chosen: what.shotIds === null || what.shotIds.includes(shot.id),
        };
      });
    }
    if (what.kind !== 'cameras') return undefined;
    return camerasInOrder(project).map(({ id, name, number, disabled }) => {
      const [first, last] = ownRange(project, id);
      return {
        ...{ id, cameraId: id, name: `${number} ${name}`, about: `${last - first + 1} f` },
        atFlicks: flicksAtFrame(Math.floor((first + last) / 2), rate),
        chosen: what.cameraIds === null ? !disabled : what.cameraIds.includes(id),
      };
    });
  });
  protected readonly stillWords = computed(() => {
    const { what } = this.order();
    const first = this.store.project()?.head.firstFrame ?? 0;
    if (what.kind === 'camera-still')
      return `${first + what.frame} of ${this.store.project()?.cameras[what.cameraId]?.name ?? 'its camera'}`;
    return what.kind === 'still' ? `${first + what.frame} of the cut` : '';
  });

  /** Variations of what is rendered one by one. */
  protected readonly variations = computed(() => {
    const [project, { what, variations }] = [this.store.project(), this.order()];
    if (!project || what.kind === 'cut' || what.kind === 'still') return [];
    const ids =
      what.kind === 'camera-still'
        ? [what.cameraId]
        : (this.rows() ?? []).flatMap(({ cameraId, chosen }) => (chosen && cameraId !== null ? [cameraId] : []));
    return [...new Set(ids)].flatMap((id) => {
      const camera = project.cameras[id];
      return (camera ? variationsOf(camera) : []).map((one) => ({
        id: one.id,
        name: `${camera?.name ?? ''}, ${one.name}`,
        chosen: variations === 'all' || (variations !== 'worn' && variations.includes(one.id)),
      }));
    });
  });
  protected readonly ways = switchChoices<Way>(['worn', 'all', 'chosen'], {
    worn: 'as they are worn',
    all: 'all variations',
    chosen: 'chosen ones',
  });
  protected readonly way = computed<Way>(() => {
    const { variations } = this.order();
    return typeof variations === 'string' ? variations : 'chosen';
  });

  protected chooseWay(way: Way): void {
    const all = this.variations().map(({ id }) => id);
    this.set({ variations: way === 'chosen' ? all : way });
  }

  protected turnVariation(id: string): void {
    const ids = this.variations().flatMap((one) => ((one.id === id) !== one.chosen ? [one.id] : []));
    this.set({ variations: ids.length === 0 ? 'worn' : ids });
  }

  protected choose(kind: Kind): void {
    const sequenceId = this.playhead.sequenceId();
    const whole: Readonly<Record<Exclude<Kind, 'still'>, OrderedWhat>> = {
      cut: { kind: 'cut', sequenceId },
      shots: { kind: 'shots', sequenceId, shotIds: null },
      cameras: { kind: 'cameras', cameraIds: null },
    };
    this.set({ what: kind === 'still' ? this.atPlayhead(sequenceId) : whole[kind] });
  }

  private atPlayhead(sequenceId: string): OrderedWhat {
    const [seen, rate] = [this.playhead.seen(), this.store.project()?.head.rate];
    if (seen?.mode === 'camera' && seen.cameraId !== undefined && rate)
      return { kind: 'camera-still', cameraId: seen.cameraId, frame: framesInFlicks(seen.sceneFlicks, rate) };
    return { kind: 'still', sequenceId, frame: seen?.frame ?? 0 };
  }

  protected chooseAll(): void {
    const { what } = this.order();
    const first = this.rows()?.[0]?.id;
    if (first === undefined) return;
    const only = this.isAll() ? [first] : null;
    if (what.kind === 'shots') this.set({ what: { ...what, shotIds: only } });
    if (what.kind === 'cameras') this.set({ what: { ...what, cameraIds: only } });
  }

  protected turn({ id, chosen }: Row): void {
    const rows = this.rows() ?? [];
    const left = rows.filter((row) => (row.id === id ? !chosen : row.chosen)).map((row) => row.id);
    const ids = left.length === 0 ? [id] : left;
    const { what } = this.order();
    if (what.kind === 'shots') this.set({ what: { ...what, shotIds: ids.length === rows.length ? null : ids } });
    if (what.kind === 'cameras') this.set({ what: { ...what, cameraIds: ids.length === rows.length ? null : ids } });
  }
}
