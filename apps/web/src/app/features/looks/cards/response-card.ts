import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import type { Response, ResponsePoint } from '@arvex/core';
import { forgetResponse, keepResponse, NEUTRAL_RESPONSE, RESPONSES } from '@arvex/core';
import { ProjectStore } from '../../../data';
import type { Choice } from '../../../ui';
import { AmountRow, Card, ChoiceField, IconButton, NameField, Switch, switchChoices } from '../../../ui';
import { CameraBench } from '../../cameras';
import { LookFiles } from '../look-files';
import { Looks } from '../looks';
import { ResponsePlot } from './response-plot';

type Part = 'all' | 'red' | 'green' | 'blue';
type Points = readonly ResponsePoint[];

const COLOURS: Readonly<Record<Part, string>> = { all: '#e8e6e1', red: '#e06c60', green: '#70bc8c', blue: '#6a8ce0' };
const STRAIGHT = NEUTRAL_RESPONSE.all;
/** How much red, green and blue count in black and white at first: as they do for the eye. */
const GREY_AT_FIRST = [0.21, 0.72, 0.07] as const;
const WEIGHTS = ['Red counts', 'Green counts', 'Blue counts'] as const;

/** How light becomes a picture: a response curve from a list, its points, black and white. */
@Component({
  selector: 'arvex-response-card',
  imports: [AmountRow, Card, ChoiceField, IconButton, NameField, ResponsePlot, Switch],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './response-card.html',
  styleUrl: './looks.scss',
})
export class ResponseCard {
  protected readonly bench = new CameraBench();
  protected readonly looks = inject(Looks);
  protected readonly files = inject(LookFiles);
  private readonly store = inject(ProjectStore);
  protected readonly part = signal<Part>('all');
  protected readonly parts = switchChoices<Part>(['all', 'red', 'green', 'blue']);
  protected readonly colours = COLOURS;
  protected readonly weights = WEIGHTS;
  protected readonly greyAtFirst = GREY_AT_FIRST;

  protected readonly response = computed<Response>(() => this.looks.settings().response);
  protected readonly points = computed<Points>(() => this.response()[this.part()] ?? STRAIGHT);
  protected readonly behind = computed(() =>
    (['all', 'red', 'green', 'blue'] as const).flatMap((part) => {
      const points = this.response()[part];
      return part === this.part() || points === null ? [] : [{ points, colour: COLOURS[part] }];
    }),
  );
  protected readonly kept = computed(() =>
    Object.values(this.store.project()?.keptResponses ?? {}).sort((a, b) =>
      a.response.name.localeCompare(b.response.name),
    ),
  );
  protected readonly choices = computed<readonly Choice[]>(() => [
    ...RESPONSES.map(({ name }) => ({ id: name, name })),
    ...this.kept().map(({ id, response }) => ({ id, name: response.name, detail: 'kept' })),
  ]);
  /** The one of the list that it is, points and all. */
  protected readonly chosen = computed(() => {
    const text = JSON.stringify(this.response());
    const own = this.kept().find(({ response }) => JSON.stringify(response) === text);
    return own?.id ?? RESPONSES.find((one) => JSON.stringify(one) === text)?.name;
  });
  protected readonly keptNow = computed(() => this.kept().find(({ id }) => id === this.chosen()));
  protected readonly summary = computed(() => {
    const changed = this.chosen() === undefined ? ', changed' : '';
    return `${this.response().name}${changed}${this.response().grey ? ' · black and white' : ''}`;
  });

  protected choose(id: string): void {
    const response = this.kept().find((one) => one.id === id)?.response ?? RESPONSES.find(({ name }) => name === id);
    if (response) this.looks.set(`Response ${response.name}`, { response });
  }

  protected slide(points: Points): void {
    this.looks.preview({ response: this.with(points) });
  }

  protected set(points: Points): void {
    this.looks.set('Response', { response: this.with(points) });
  }

  protected straighten(): void {
    const part = this.part();
    const response = { ...this.looks.kept().response, [part]: part === 'all' ? STRAIGHT : null };
    this.looks.set(`Response, ${part} straight`, { response });
  }

  protected setGrey(isGrey: boolean): void {
    const response = { ...this.looks.kept().response, grey: isGrey ? GREY_AT_FIRST : null };
    this.looks.set(isGrey ? 'Black and white' : 'In colour', { response });
  }

  protected weighed(at: number, weight: number): Response {
    const { response } = this.looks.kept();
    const grey = (response.grey ?? GREY_AT_FIRST).map((was, i) => (i === at ? weight : was));
    return { ...response, grey: grey as unknown as Response['grey'] };
  }

  protected name(name: string): void {
    this.looks.set(`Response ${name}`, { response: { ...this.looks.kept().response, name } });
  }

  protected keep(): void {
    this.looks.edit((project) => keepResponse(project, crypto.randomUUID(), this.looks.kept().response));
  }

  protected forget(id: string): void {
    this.looks.edit((project) => forgetResponse(project, id));
  }

  private with(points: Points): Response {
    const { response } = this.looks.kept();
    return { ...response, [this.part()]: points };
  }
}
