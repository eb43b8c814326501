import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import type { Rack } from '@arvex/core';
import { addRack, eyesM, flicksFromSeconds, removeRack, secondsFromFlicks } from '@arvex/core';
import { Card, ChoiceField, IconButton, DurationField, NumberField, PERCENT } from '../../../ui';
import { CameraBench, Subjects } from '../../cameras';
import { Moves } from '../moves';

/** A pull of the focus takes about as long as this, seconds. */
const USUAL_S = 1;

/** The focus over time: from whom to whom, when and how long. */
@Component({
  selector: 'arvex-rack-card',
  imports: [DurationField, IconButton, Card, ChoiceField, NumberField],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <arvex-card heading="Rack focus" [summary]="summary()" card="rack">
      <div class="row">
        <span class="label">Begins on</span>
        <arvex-choice-field
          label="Focus begins on"
          otherwise="choose whom"
          [choices]="subjects()"
          [value]="from()"
          (chosen)="begin($event)"
        />
      </div>
      @for (rack of racks(); track rack.id) {
        <div class="row">
          <span class="label">then to</span>
          <arvex-choice-field
            label="Focus goes to"
            [choices]="subjects()"
            [value]="rack.subjectId"
            (chosen)="set(rack, { subjectId: $event })"
          />
          <button arvexIconButton="close" label="Take this rack out" (click)="remove(rack)"></button>
        </div>
        <div class="row">
          <span class="label">at, for, ease</span>
          <arvex-number-field
            label="Frame at which the rack begins"
            [decimals]="0"
            [value]="first() + rack.startFlicks / moves.frameFlicks()"
            (valueSet)="set(rack, { startFlicks: flicksOf($event) })"
          />
          <arvex-duration-field
            label="Length of the rack"
            [min]="0"
            [max]="600"
            [value]="seconds(rack.durationFlicks)"
            (valueSet)="set(rack, { durationFlicks: fromSeconds($event) })"
          />
          <arvex-number-field
            label="Ease of the rack"
            unit="%"
            [units]="percent"
            [decimals]="0"
            [min]="0"
            [max]="1"
            [value]="rack.ease"
            (valueSet)="set(rack, { ease: $event })"
          />
        </div>
      }
      <div class="row">
        <arvex-choice-field
          label="Rack focus from here to"
          otherwise="Rack from here to …"
          [choices]="subjects()"
          (chosen)="add($event)"
        />
      </div>
      <p class="quiet">
        The focus goes evenly in dioptres, as the scale of a lens is cut, and follows both subjects meanwhile.
      </p>
    </arvex-card>
  `,
})
export class RackCard {
  protected readonly bench = new CameraBench();
  protected readonly moves = inject(Moves);
  protected readonly seconds = secondsFromFlicks;
  protected readonly fromSeconds = flicksFromSeconds;
  protected readonly percent = PERCENT;
  protected readonly first = computed(() => this.bench.store.project()?.head.firstFrame ?? 0);
  private readonly seen = inject(Subjects);
  protected readonly subjects = this.seen.choices;
  protected readonly racks = computed(() => this.bench.camera()?.focus.racks ?? []);
  protected readonly from = computed(() => {
    const focus = this.bench.camera()?.focus;
    return focus?.mode === 'follow' ? (focus.subjectId ?? '') : '';
  });
  protected readonly summary = computed(() => {
    const names = [this.from(), ...this.racks().map(({ subjectId }) => subjectId)].map((id) => this.nameOf(id));
    return this.from() === '' ? 'none' : names.join(' → ');
  });

  private nameOf(id: string): string {
    return this.bench.store.project()?.placements[id]?.name ?? '…';
  }

  private point(id: string): Rack['point'] {
    const placement = this.bench.store.project()?.placements[id];
    return placement && eyesM(placement) !== undefined ? 'eyes' : 'middle';
  }

  protected flicksOf(frame: number): number {
    return Math.max(0, Math.round(frame - this.first())) * this.moves.frameFlicks();
  }

  protected begin(subjectId: string): void {
    const focus = this.bench.camera()?.focus;
    if (!focus) return;
    const follow = { ...focus, mode: 'follow' as const, subjectId, point: this.point(subjectId) };
    this.bench.set(`Focus begins on ${this.nameOf(subjectId)}`, { focus: follow });
  }

  protected add(subjectId: string): void {
    const rack: Rack = {
      id: crypto.randomUUID(),
      subjectId,
      point: this.point(subjectId),
      ease: 1,
      startFlicks: this.moves.atFlicks(),
      durationFlicks: flicksFromSeconds(USUAL_S),
    };
    // It begins on whom the camera sees now.
    const from = this.from() === '' ? this.seen.meant(subjectId)?.id : undefined;
    this.moves.edit((project, cameraId) => addRack(project, cameraId, rack, from));
  }

  protected set(rack: Rack, parts: Partial<Rack>): void {
    const next = { ...rack, ...parts };
    if (parts.subjectId !== undefined) next.point = this.point(parts.subjectId);
    this.moves.edit((project, cameraId) => addRack(project, cameraId, next));
  }

  protected remove({ id }: Rack): void {
    this.moves.edit((project, cameraId) => removeRack(project, cameraId, id));
  }
}
