import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { MatIcon } from '@angular/material/icon';
import { ActionButton, cameraColour, Cards, NameField } from '../../ui';
import { CutDrag } from './cut-drag';
import { JointLook } from './joint-look';
import { ShotBench } from './shot-bench';

/** The bench of the Sequence step: the shot in hand and what is set on it, then what the whole cut has. */
@Component({
  selector: 'arvex-sequence-bench',
  imports: [ActionButton, Cards, MatIcon, NameField],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (bench.placed(); as placed) {
      <div class="title">
        @if (bench.camera(); as through) {
          <span class="camera-badge" [style.background]="colour(through.number)">{{ through.number }}</span>
        } @else if (placed.shot.insideId !== null) {
          <mat-icon>movie</mat-icon>
        } @else {
          <span class="camera-badge" style="background: var(--red)">?</span>
        }
        <arvex-name-field
          label="Name of the shot"
          [value]="placed.shot.name"
          (named)="bench.set('Name ' + $event, { name: $event })"
        />
        @if (chosen() > 1) {
          <span class="sum">{{ chosen() }} chosen</span>
        } @else {
          <span class="sum num">{{ placed.frameCount }} f&ensp;{{ bench.seconds(placed.frameCount) }}</span>
        }
      </div>
    } @else {
      <p class="empty">
        The cut has no shots yet. Look through a camera and add a shot of it: it shows what that camera sees over a
        stretch of scene time.
      </p>
    }
    @if (astray(); as seen) {
      <div class="astray" role="status">
        <mat-icon>warning</mat-icon>
        <span>You edit {{ bench.shot()?.name }}; the picture shows {{ seen.shot.name }}.</span>
        <button type="button" class="pill" (click)="goToChosen()">Go to {{ bench.shot()?.name }}</button>
        <button type="button" class="pill" (click)="bench.selection.clear()">Edit what I see</button>
      </div>
    }
    <arvex-cards step="sequence" />
    <div class="foot">
      @if (bench.placed()) {
        <button type="button" class="pill filled" arvexAction="divide">
          <mat-icon>content_cut</mat-icon>Divide here
        </button>
      }
      <button type="button" class="pill" [class.filled]="!bench.placed()" arvexAction="add-shot">
        <mat-icon>add</mat-icon>Add a shot of {{ bench.viewpoint.camera()?.name ?? 'a camera' }}
      </button>
    </div>
  `,
  styleUrl: '../../ui/bench-step.scss',
})
export class SequenceBench {
  protected readonly bench = new ShotBench();
  protected readonly colour = cameraColour;
  private readonly drag = inject(CutDrag);
  private readonly look = inject(JointLook);
  /** The shot that is seen, where it is none of the chosen ones. While the cut plays, or both pictures of a joint are shown, that is plain. */
  protected readonly astray = computed(() => {
    if (this.drag.meeting() ?? this.look.meeting()) return undefined;
    const seen = this.bench.selection.current();
    const ids = this.bench.selection.ids();
    return seen && ids.length > 0 && !ids.includes(seen.shot.id) && !this.bench.playhead.playing() ? seen : undefined;
  });
  protected readonly chosen = computed(() => this.bench.selection.ids().length);

  protected goToChosen(): void {
    const placed = this.bench.placed();
    if (!placed) return;
    this.bench.playhead.toMode('cut');
    this.bench.playhead.goTo(placed.startFrame);
  }
}
