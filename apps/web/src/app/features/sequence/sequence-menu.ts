import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { MatIcon } from '@angular/material/icon';
import { MatMenuModule } from '@angular/material/menu';
import {
  addSequence,
  addShot,
  cutOf,
  deleteSequence,
  duplicateSequence,
  flicksAtFrame,
  frameAtTimecode,
  sequencesInOrder,
  setSequence,
} from '@arvex/core';
import { ProjectStore } from '../../data';
import { OpenSequence, Playhead } from '../../session';
import { NameField } from '../../ui';
import { CutEdits } from './cut-edits';
import { ShotSelection } from './shot-selection';

/** Which sequence is open, and the others: to be opened, named, made, copied, put into this one as a shot, deleted. */
@Component({
  selector: 'arvex-sequence-menu',
  imports: [MatIcon, MatMenuModule, NameField],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <button type="button" data-testid="sequence" title="Sequences" [matMenuTriggerFor]="menu">
      <b>{{ open.sequence()?.name }}</b>
    </button>
    <mat-menu #menu="matMenu">
      @for (one of sequences(); track one.id) {
        <button
          mat-menu-item
          role="menuitemradio"
          [attr.aria-checked]="one.id === open.id()"
          (click)="playhead.openSequence(one.id)"
        >
          <mat-icon>{{ one.id === open.id() ? 'check' : 'movie' }}</mat-icon>{{ one.name }}&ensp;<small
            class="num quiet"
            >{{ one.frames }} f</small
          >
        </button>
      }
      <hr />
      <div class="naming" tabindex="-1" (click)="$event.stopPropagation()" (keydown)="$event.stopPropagation()">
        <arvex-name-field label="Name of the sequence" [value]="open.sequence()?.name ?? ''" (named)="name($event)" />
      </div>
      <div class="naming" tabindex="-1" (click)="$event.stopPropagation()" (keydown)="$event.stopPropagation()">
        <span class="quiet">from</span>
        <arvex-name-field
          class="num"
          label="Timecode of the first frame"
          [value]="open.sequence()?.startTimecode ?? ''"
          (named)="begin($event)"
        />
        <button type="button" class="pill num" title="An hour, as reels begin" (click)="begin('01:00:00:00')">
          01:00:00:00
        </button>
      </div>
      <button mat-menu-item (click)="make()"><mat-icon>add</mat-icon>New sequence</button>
      <button mat-menu-item (click)="duplicate()"><mat-icon>content_copy</mat-icon>Duplicate it</button>
      @if (others().length > 0) {
        <button mat-menu-item [matMenuTriggerFor]="inside">
          <mat-icon>login</mat-icon>Put another one in as a shot
        </button>
        <button mat-menu-item (click)="delete()"><mat-icon>delete</mat-icon>Delete it</button>
      }
    </mat-menu>
    <mat-menu #inside="matMenu">
      @for (one of others(); track one.id) {
        <button mat-menu-item (click)="putIn(one.id)">{{ one.name }}</button>
      }
    </mat-menu>
  `,
  styles: `
    .naming {
      display: flex;
      gap: 6px;
      align-items: center;
      padding: 2px 12px 6px;
    }
    hr {
      border: 0;
      border-top: 1px solid var(--line-soft);
    }
  `,
})
export class SequenceMenu {
  private readonly store = inject(ProjectStore);
  protected readonly open = inject(OpenSequence);
  protected readonly playhead = inject(Playhead);
  private readonly edits = inject(CutEdits);
  private readonly selection = inject(ShotSelection);

  protected readonly sequences = computed(() => {
    const project = this.store.project();
    if (!project) return [];
    return sequencesInOrder(project).map(({ id, name }) => ({ id, name, frames: cutOf(project, id).frameCount }));
  });
  protected readonly others = computed(() =>
    this.sequences().filter(({ id, frames }) => id !== this.open.id() && frames > 0),
  );

  protected name(name: string): void {
    this.edits.run((project, id) => setSequence(project, id, 'Name', { name }));
  }

  /** Sets the timecode of the first frame, once it is one at this rate. */
  protected begin(label: string): void {
    this.edits.run((project, id) => {
      frameAtTimecode(label, project.head.rate);
      return setSequence(project, id, `Timecode from ${label}`, { startTimecode: label.trim() });
    });
  }

  protected make(): void {
    const id = crypto.randomUUID();
    const name = `Sequence ${this.sequences().length + 1}`;
    if (this.edits.run((project) => addSequence(project, id, name))) this.playhead.openSequence(id);
  }

  protected duplicate(): void {
    const copyId = crypto.randomUUID();
    if (this.edits.run((project, id) => duplicateSequence(project, id, copyId, () => crypto.randomUUID())))
      this.playhead.openSequence(copyId);
  }

  protected delete(): void {
    this.edits.run((project, id) => deleteSequence(project, id));
  }

  /** A shot that shows all of another sequence, after the one at the playhead. */
  protected putIn(insideId: string): void {
    const project = this.store.project();
    const frames = this.others().find(({ id }) => id === insideId)?.frames ?? 1;
    if (!project) return;
    const shot = {
      id: crypto.randomUUID(),
      cameraId: null,
      insideId,
      sceneStartFlicks: 0,
      durationFlicks: flicksAtFrame(frames, project.head.rate),
      name: project.sequences[insideId]?.name ?? 'sequence',
    };
    const afterId = this.selection.current()?.shot.id;
    this.edits.run((now, id) => addShot(now, id, { ...shot, ...(afterId !== undefined && { afterId }) }));
  }
}
