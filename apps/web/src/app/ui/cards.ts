import { NgComponentOutlet } from '@angular/common';
import type { Type } from '@angular/core';
import { ChangeDetectionStrategy, Component, effect, inject, InjectionToken, input, signal } from '@angular/core';
import { forkJoin, of } from 'rxjs';
import { fetched } from '../data';
import type { StepId } from '../session';
import { Late } from './late';

/** A card of a step's bench, as the feature that it belongs to contributes it. */
export interface BenchCard {
  /** By which it is told to be the open one. */
  readonly id: string;
  /** As its heading says, and other words by which people look for what is on it. */
  readonly name: string;
  readonly words: string;
  /** The steps whose bench has it, and its place there. */
  readonly places: Readonly<Partial<Record<StepId, number>>>;
  readonly load: () => Promise<Type<unknown>>;
}

/** All cards; each feature contributes its own. */
export const CARDS = new InjectionToken<readonly BenchCard[]>('CARDS');

/** The cards of a step's bench, in their order. */
@Component({
  selector: 'arvex-cards',
  imports: [Late, NgComponentOutlet],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @for (card of shown(); track card) {
      <ng-container *ngComponentOutlet="card" />
    }
    @if (late()) {
      <arvex-late />
    }
  `,
  styles: ':host { display: contents; }',
})
export class Cards {
  private readonly cards = inject(CARDS);
  readonly step = input.required<StepId>();
  protected readonly late = signal(false);
  protected readonly shown = signal<readonly Type<unknown>[]>([]);

  constructor() {
    effect((onCleanup) => {
      const step = this.step();
      const here = this.cards
        .flatMap(({ places, load }) => (places[step] === undefined ? [] : [{ place: places[step], load }]))
        .sort((a, b) => a.place - b.place);
      const late = () => this.late.set(true);
      const all = here.length > 0 ? forkJoin(here.map(({ load }) => fetched(load, late))) : of([]);
      const fetching = all.subscribe((types) => {
        this.late.set(false);
        this.shown.set(types);
      });
      onCleanup(() => fetching.unsubscribe());
    });
  }
}
