import { ChangeDetectionStrategy, Component, computed, signal } from '@angular/core';
import { MatIcon } from '@angular/material/icon';
import { deleteMarkers, joinToMarkers, markersInOrder, setMarker } from '@arvex/core';
import { ActionButton, Card, IconButton, NameField, NumberField } from '../../../ui';
import { ShotBench } from '../shot-bench';

/** How near a marker has to be for a joint to be rolled to it, at first, frames. */
const USUAL_NEAR = 12;

/** Places of the cut that somebody wants to find again, and joints rolled to them. */
@Component({
  selector: 'arvex-markers-card',
  imports: [ActionButton, Card, IconButton, MatIcon, NameField, NumberField],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <arvex-card heading="Markers" [summary]="summary()" card="markers">
      @for (one of markers(); track one.id) {
        <div class="row">
          <button type="button" class="pill num" title="Go there" (click)="bench.playhead.goTo(one.frame)">
            {{ first() + one.frame }}
          </button>
          <arvex-name-field
            [label]="'Name of the marker at ' + (first() + one.frame)"
            [value]="one.name"
            (named)="name(one.id, $event)"
          />
          <button
            arvexIconButton="close"
            [label]="'Delete the marker at ' + (first() + one.frame)"
            (click)="delete(one.id)"
          ></button>
        </div>
      } @empty {
        <p class="quiet">Press M while it plays: each press sets a marker at the frame that is seen.</p>
      }
      <div class="row">
        <button type="button" class="pill" arvexAction="tap-marker"><mat-icon>flag</mat-icon>Marker here</button>
      </div>
      @if (markers().length > 0) {
        <div class="row">
          <span class="label">Joints within</span>
          <arvex-number-field
            label="Frames within which joints are rolled to markers"
            unit="f"
            [decimals]="0"
            [min]="1"
            [max]="1000"
            [value]="near()"
            (valueSet)="near.set($event)"
          />
          <button type="button" class="pill" (click)="join()">Roll to markers</button>
        </div>
      }
    </arvex-card>
  `,
})
export class MarkersCard {
  protected readonly bench = new ShotBench();
  protected readonly near = signal(USUAL_NEAR);
  protected readonly first = computed(() => this.bench.project()?.head.firstFrame ?? 0);
  protected readonly markers = computed(() => {
    const project = this.bench.project();
    const all = project ? markersInOrder(project, this.bench.open.id()) : [];
    return all.map(({ id, name, atFlicks }) => ({ id, name, frame: this.bench.frames(atFlicks) }));
  });
  protected readonly summary = computed(() => String(this.markers().length || 'none'));

  protected name(id: string, name: string): void {
    this.bench.edits.run((project) => setMarker(project, id, { name }));
  }

  protected delete(id: string): void {
    this.bench.edits.run((project) => deleteMarkers(project, [id]));
  }

  protected join(): void {
    this.bench.edits.run((project, sequenceId) => joinToMarkers(project, sequenceId, this.near()));
  }
}
