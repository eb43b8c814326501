import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { MatIcon } from '@angular/material/icon';
import type { Glowing, LookSettings } from '@arvex/core';
import {
  GLOW_SIZE_RANGE,
  lightGroupsInOrder,
  LOOK_DEFAULTS,
  MOST_AMOUNT,
  MOST_ARMS,
  STREAK_LENGTH_RANGE,
} from '@arvex/core';
import { ProjectStore } from '../../../data';
import { Selection } from '../../../session';
import { AmountRow, Card, IconButton, PERCENT, Switch, switchChoices } from '../../../ui';
import { CameraBench, ChannelState } from '../../cameras';
import { LookFiles } from '../look-files';
import { Looks } from '../looks';

/** What bright light does beyond its place: glow, streaks, and which things do. */
@Component({
  selector: 'arvex-glow-card',
  imports: [AmountRow, Card, ChannelState, IconButton, MatIcon, Switch],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './glow-card.html',
  styleUrls: ['./looks.scss', './glow-card.scss'],
})
export class GlowCard {
  protected readonly bench = new CameraBench();
  protected readonly looks = inject(Looks);
  protected readonly files = inject(LookFiles);
  private readonly store = inject(ProjectStore);
  private readonly selection = inject(Selection);
  protected readonly percent = PERCENT;
  protected readonly mostAmount = MOST_AMOUNT;
  protected readonly mostArms = MOST_ARMS;
  protected readonly sizes = GLOW_SIZE_RANGE;
  protected readonly lengths = STREAK_LENGTH_RANGE;
  protected readonly kinds = switchChoices<Glowing['kind']>(['all', 'things', 'groups'], {
    all: 'everything',
    things: 'chosen things',
    groups: 'light groups',
  });
  protected readonly rest = LOOK_DEFAULTS;

  protected readonly glow = computed(() => this.looks.settings().glow);
  protected readonly streaks = computed(() => this.looks.settings().streaks);
  protected readonly spreads = computed(() => this.glow().amount > 0 || this.streaks().amount > 0);
  protected readonly summary = computed(() => {
    const [glow, streaks] = [this.glow(), this.streaks()];
    const words = [
      ...(glow.amount > 0 ? [`glow ${glow.amount.toFixed(2)}`] : []),
      ...(streaks.amount > 0 ? [`${streaks.arms} streaks`] : []),
    ];
    return words.length > 0 ? words.join(' · ') : 'none';
  });
  /** Light groups, and whether each of them glows. */
  protected readonly groups = computed(() => {
    const [project, { of }] = [this.store.project(), this.glow()];
    const chosen = of.kind === 'groups' ? of.ids : [];
    return project ? lightGroupsInOrder(project).map(({ id, name }) => ({ id, name, on: chosen.includes(id) })) : [];
  });
  /** Chosen things that are still there. */
  protected readonly things = computed(() => {
    const [project, { of }] = [this.store.project(), this.glow()];
    return of.kind === 'things' ? of.ids.flatMap((id) => project?.placements[id] ?? []) : [];
  });
  protected readonly selected = computed(() => this.selection.placements());

  protected withGlow(parts: Partial<LookSettings['glow']>) {
    return { glow: { ...this.looks.kept().glow, ...parts } };
  }

  protected withStreaks(parts: Partial<LookSettings['streaks']>) {
    return { streaks: { ...this.looks.kept().streaks, ...parts } };
  }

  protected setKind(kind: Glowing['kind']): void {
    const of: Glowing =
      kind === 'all'
        ? { kind }
        : kind === 'things'
          ? { kind, ids: this.selected().map(({ id }) => id) }
          : { kind, ids: this.groups().map(({ id }) => id) };
    this.looks.set('What glows', this.withGlow({ of }));
  }

  protected toggleGroup(id: string): void {
    const on = this.groups().flatMap((group) => ((group.id === id) !== group.on ? [group.id] : []));
    this.looks.set('What glows', this.withGlow({ of: { kind: 'groups', ids: on } }));
  }

  /** What is chosen in the set glows too. */
  protected addSelected(): void {
    const ids = [...new Set([...this.things(), ...this.selected()].map(({ id }) => id))];
    this.looks.set('What glows', this.withGlow({ of: { kind: 'things', ids } }));
  }

  protected removeThing(id: string): void {
    const ids = this.things().flatMap((thing) => (thing.id === id ? [] : [thing.id]));
    this.looks.set('What glows', this.withGlow({ of: { kind: 'things', ids } }));
  }
}
