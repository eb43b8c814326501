import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { MatIcon } from '@angular/material/icon';
import { MatSliderModule } from '@angular/material/slider';
import type { Reference } from '@arvex/core';
import { removeReference, setReference } from '@arvex/core';
import { Card, ChoiceField } from '../../../ui';
import { Imports } from '../../set';
import { CameraBench } from '../camera-bench';

const SIZES = [
  { id: 'fit', name: 'fit in the frame' },
  { id: 'fill', name: 'fill the frame' },
  { id: 'stretch', name: 'stretch to the frame' },
] as const;

/** Reference pictures of this camera: under or over its picture, or their difference. */
@Component({
  selector: 'arvex-reference-card',
  imports: [Card, ChoiceField, MatIcon, MatSliderModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <arvex-card heading="Reference" [summary]="summary()">
      @for (one of references(); track one.reference.id) {
        <div class="row">
          <button
            type="button"
            class="icon-button"
            [attr.aria-label]="(one.reference.shown ? 'Hide ' : 'Show ') + one.name"
            (click)="set(one.reference, 'Reference', { shown: !one.reference.shown })"
          >
            <mat-icon>{{ one.reference.shown ? 'visibility' : 'visibility_off' }}</mat-icon>
          </button>
          <b class="name">{{ one.name }}</b>
          <button
            type="button"
            class="icon-button"
            [attr.aria-label]="'Take ' + one.name + ' off'"
            (click)="remove(one.reference)"
          >
            <mat-icon>close</mat-icon>
          </button>
        </div>
        <div class="row">
          <span class="label">Lies</span>
          <div class="choices" role="radiogroup" [attr.aria-label]="'Layer of ' + one.name">
            @for (layer of layers; track layer.name) {
              <button
                type="button"
                role="radio"
                [attr.aria-checked]="
                  one.reference.layer === layer.layer && one.reference.difference === layer.difference
                "
                (click)="
                  set(one.reference, 'Reference ' + layer.name, { layer: layer.layer, difference: layer.difference })
                "
              >
                {{ layer.name }}
              </button>
            }
          </div>
        </div>
        <div class="row">
          <span class="label">Opacity</span>
          <mat-slider [min]="0" [max]="1" [step]="0.05">
            <input
              #opacity
              matSliderThumb
              [attr.aria-label]="'Opacity of ' + one.name"
              [value]="one.reference.opacity"
              (change)="set(one.reference, 'Opacity', { opacity: opacity.valueAsNumber })"
            />
          </mat-slider>
          <span class="num">{{ (one.reference.opacity * 100).toFixed(0) }} %</span>
        </div>
        <div class="row">
          <span class="label">Size</span>
          <arvex-choice-field
            [label]="'Size of ' + one.name"
            [choices]="sizes"
            [value]="one.reference.size"
            (chosen)="set(one.reference, 'Size of reference', { size: $event })"
          />
        </div>
      }
      <div class="row">
        <button type="button" class="pill" (click)="chooser.click()">
          <mat-icon>add_photo_alternate</mat-icon>Lay a picture over it
        </button>
        <input
          #chooser
          type="file"
          accept="image/png,image/jpeg,image/webp"
          hidden
          aria-label="Reference picture"
          (change)="bring(chooser)"
        />
      </div>
    </arvex-card>
  `,
  styles: `
    .name {
      flex: 1;
      overflow: hidden;
      font-weight: 500;
      text-overflow: ellipsis;
      white-space: nowrap;
    }
    mat-slider {
      flex: 1;
      min-width: 60px;
    }
  `,
})
export class ReferenceCard {
  private readonly bench = new CameraBench();
  private readonly bringing = inject(Imports);
  protected readonly sizes = SIZES;
  protected readonly layers = [
    { name: 'under', layer: 'under', difference: false },
    { name: 'over', layer: 'over', difference: false },
    { name: 'difference', layer: 'over', difference: true },
  ] as const;
  protected readonly references = computed(() => {
    const assets = this.bench.store.project()?.assets ?? {};
    return (this.bench.camera()?.references ?? []).map((reference) => ({
      reference,
      name: assets[reference.assetId]?.name ?? 'a picture that is gone',
    }));
  });
  protected readonly summary = computed(() => {
    const shown = this.references().filter(({ reference }) => reference.shown);
    return this.references().length === 0 ? 'none' : shown.map(({ name }) => name).join(', ') || 'hidden';
  });

  protected bring(chooser: HTMLInputElement): void {
    const [file] = chooser.files ?? [];
    if (file) void this.bringing.bringInReference(file);
    chooser.value = '';
  }

  protected set(reference: Reference, what: string, parts: Partial<Reference>): void {
    const [project, camera] = [this.bench.store.project(), this.bench.camera()];
    if (project && camera) this.bench.store.commit(setReference(project, camera.id, reference.id, what, parts));
  }

  protected remove(reference: Reference): void {
    const [project, camera] = [this.bench.store.project(), this.bench.camera()];
    if (project && camera) this.bench.store.commit(removeReference(project, camera.id, reference.id));
  }
}
