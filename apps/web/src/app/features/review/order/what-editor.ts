import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { MatCheckbox } from '@angular/material/checkbox';
import type { OrderedWhat } from '@arvex/core';
import { camerasInOrder, cutOf, flicksAtFrame, handlesOf, ownRange, sceneTimeOf, variationsOf } from '@arvex/core';
import { Thumbnail } from '../../../drawing';
import { Playhead } from '../../../session';
import { NumberField, SearchField, Switch, switchChoices } from '../../../ui';
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
  imports: [MatCheckbox, NumberField, SearchField, Switch, Thumbnail],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <arvex-switch label="What is rendered" [choices]="kinds" [value]="kind()" (chosen)="choose($event)" />
    @if (rows(); as list) {
      <div class="all">
        <mat-checkbox [checked]="isAll()" (change)="chooseAll()">all {{ list.length }}</mat-checkbox>
        @if (list.length > few) {
          <arvex-search-field placeholder="Find" label="Find in what is rendered" [(words)]="typed" />
        }
      </div>
      <ul>
        @for (row of found(); track row.id) {
          <li>
            <mat-checkbox [checked]="row.chosen" [aria-label]="row.name" (change)="turn(row)" />
            <arvex-thumbnail [cameraId]="row.cameraId" [atFlicks]="row.atFlicks" />
            <button type="button" class="name" [title]="'Render ' + row.name + ' alone'" (click)="only([row.id])">
              {{ row.name }}
            </button>
            <span class="num quiet">{{ row.about }}</span>
          </li>
        }
      </ul>
    } @else if (kind() === 'still') {
      <div class="row">
        <span class="label">Frame</span>
        <arvex-number-field
          label="Frame that is rendered"
          [decimals]="0"
          [min]="first()"
          [max]="10000000"
          [value]="first() + stillFrame()"
          (valueSet)="typeStill($event)"
        />
        <arvex-switch
          label="Which frame"
          [choices]="stillChoices"
          [value]="desk.stillFollows() ? 'playhead' : 'typed'"
          (chosen)="follow($event === 'playhead')"
        />
      </div>
      <p class="quiet">{{ stillWords() }}</p>
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
      display: flex;
      justify-content: space-between;
      gap: 8px;
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
      text-align: left;
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
  /** Of more there is a search. */
  protected readonly few = 8;
  protected readonly typed = signal('');
  protected readonly found = computed(() => {
    const words = this.typed().toLowerCase().split(/\s+/);
    return (this.rows() ?? []).filter(({ name }) => words.every((word) => name.toLowerCase().includes(word)));
  });
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
          id: shot.id,
          name: shot.name,
          cameraId: shot.cameraId,
          about: `${frameCount}${handles} f`,
          atFlicks: sceneTimeOf(placed, Math.floor(frameCount / 2), rate),
          chosen: what.shotIds === null || what.shotIds.includes(shot.id),
        };
      });
    }
    if (what.kind !== 'cameras') return undefined;
    return camerasInOrder(project).map(({ id, name, number, disabled }) => {
      const [first, last] = ownRange(project, id);
      return {
        id,
        cameraId: id,
        name: `${number} ${name}`,
        about: `${last - first + 1} f`,
        atFlicks: flicksAtFrame(Math.floor((first + last) / 2), rate),
        chosen: what.cameraIds === null ? !disabled : what.cameraIds.includes(id),
      };
    });
  });
  protected readonly first = computed(() => this.store.project()?.head.firstFrame ?? 0);
  protected readonly stillFrame = computed(() => {
    const { what } = this.order();
    return 'frame' in what ? what.frame : 0;
  });
  protected readonly stillChoices = [
    { id: 'playhead', name: 'at the playhead', hint: 'Wherever the playhead goes' },
    { id: 'typed', name: 'this one', hint: 'Wherever the playhead goes, it stays this frame' },
  ] as const;
  protected readonly stillWords = computed(() => {
    const { what } = this.order();
    const of = what.kind === 'camera-still' ? this.store.project()?.cameras[what.cameraId]?.name : 'the cut';
    return `Frame ${this.first() + this.stillFrame()} of ${of ?? 'its camera'}.`;
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
    if (kind !== 'still') this.set({ what: whole[kind] });
    else this.follow(true);
  }

  /** The one frame is that at the playhead, or the one that it is now. */
  protected follow(follows: boolean): void {
    const what = this.desk.still();
    if (what) this.set({ what });
    this.desk.stillFollows.set(follows);
  }

  protected typeStill(frame: number): void {
    const { what } = this.order();
    if (!('frame' in what)) return;
    this.desk.stillFollows.set(false);
    this.set({ what: { ...what, frame: Math.max(0, Math.round(frame) - this.first()) } });
  }

  protected chooseAll(): void {
    const { what } = this.order();
    const only = this.isAll() ? [] : null;
    if (what.kind === 'shots') this.set({ what: { ...what, shotIds: only } });
    if (what.kind === 'cameras') this.set({ what: { ...what, cameraIds: only } });
  }

  protected turn({ id, chosen }: Row): void {
    const rows = this.rows() ?? [];
    const left = rows.filter((row) => (row.id === id ? !chosen : row.chosen)).map((row) => row.id);
    this.only(left);
  }

  /** Renders these and no others. */
  protected only(ids: readonly string[]): void {
    const rows = this.rows() ?? [];
    const { what } = this.order();
    if (what.kind === 'shots') this.set({ what: { ...what, shotIds: ids.length === rows.length ? null : [...ids] } });
    if (what.kind === 'cameras')
      this.set({ what: { ...what, cameraIds: ids.length === rows.length ? null : [...ids] } });
  }
}
