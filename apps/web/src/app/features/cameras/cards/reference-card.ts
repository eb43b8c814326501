import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { MatIcon } from '@angular/material/icon';
import { MatSliderModule } from '@angular/material/slider';
import type { Reference } from '@arvex/core';
import { removeReference, setReference } from '@arvex/core';
import { acceptOf } from '@arvex/interchange/tables';
import { Card, ChoiceField, IconButton, Switch, switchChoices } from '../../../ui';
import { Imports } from '../../set';
import { CameraBench } from '../camera-bench';

const SIZES = [
  { id: 'fit', name: 'fit in the frame' },
  { id: 'fill', name: 'fill the frame' },
  { id: 'stretch', name: 'stretch to the frame' },
] as const;

const LAYERS = ['under', 'over', 'difference'] as const;
type Layer = (typeof LAYERS)[number];

/** Reference pictures of this camera: under or over its picture, or their difference. */
@Component({
  selector: 'arvex-reference-card',
  imports: [IconButton, Switch, Card, ChoiceField, MatIcon, MatSliderModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <arvex-card heading="Reference" [summary]="summary()" card="reference">
      @for (one of references(); track one.reference.id) {
        <div class="row">
          <button
            [arvexIconButton]="one.reference.shown ? 'visibility' : 'visibility_off'"
            [label]="(one.reference.shown ? 'Hide ' : 'Show ') + one.name"
            (click)="set(one.reference, 'Reference', { shown: !one.reference.shown })"
          ></button>
          <b class="name">{{ one.name }}</b>
          <button
            arvexIconButton="close"
            [label]="'Take ' + one.name + ' off'"
            (click)="remove(one.reference)"
          ></button>
        </div>
        <div class="row">
          <span class="label">Lies</span>
          <arvex-switch
            [label]="'Layer of ' + one.name"
            [choices]="layers"
            [value]="layerOf(one.reference)"
            (chosen)="setLayer(one.reference, $event)"
          />
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
          [accept]="accepted"
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
  private readonly imports = inject(Imports);
  protected readonly accepted = acceptOf('picture');
  protected readonly sizes = SIZES;
  protected readonly layers = switchChoices(LAYERS);
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
    if (file) void this.imports.bringInReference(file);
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

  protected layerOf({ layer, difference }: Reference): Layer {
    return difference ? 'difference' : layer;
  }

  protected setLayer(reference: Reference, layer: Layer): void {
    const difference = layer === 'difference';
    this.set(reference, `Reference ${layer}`, { layer: layer === 'under' ? 'under' : 'over', difference });
  }
}
