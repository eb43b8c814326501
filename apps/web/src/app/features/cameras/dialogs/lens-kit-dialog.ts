import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { MatDialogModule } from '@angular/material/dialog';
import { MatIcon } from '@angular/material/icon';
import type { KitLens, LensKit } from '@arvex/core';
import {
  addLensKit,
  deleteLensKit,
  kitLensSchema,
  putLens,
  removeLens,
  renameLensKit,
  STANDARD_LENSES,
} from '@arvex/core';
import { ProjectStore } from '../../../data';
import { IconButton, LengthField, NameField, NumberField } from '../../../ui';
import { SetPieces } from '../../set';

const COLUMNS = [
  { key: 'minMm', name: 'from', unit: 'mm', decimals: 1, min: 1, max: 2000 },
  { key: 'maxMm', name: 'to', unit: 'mm', decimals: 1, min: 1, max: 2000 },
  { key: 'widestStop', name: 'widest', unit: 'ƒ', decimals: 1, min: 0.5, max: 64 },
  { key: 'tStop', name: 'T-stop', unit: 'T', decimals: 1, min: 0.5, max: 64 },
  { key: 'closestM', name: 'closest', unit: '', decimals: 2, min: 0.01, max: 100 },
  { key: 'blades', name: 'blades', unit: '', decimals: 0, min: 0, max: 24 },
  { key: 'imageCircleMm', name: 'circle', unit: 'mm', decimals: 0, min: 5, max: 300 },
  { key: 'pupilMm', name: 'pupil', unit: 'mm', decimals: 0, min: 0, max: 2000 },
] as const;
type ColumnKey = (typeof COLUMNS)[number]['key'];

/** The project's own lens kits: lenses with their range, widest stop, closest focus, iris, circle, and how far before the film plane their pupil lies. */
@Component({
  selector: 'arvex-lens-kit-dialog',
  imports: [IconButton, LengthField, MatDialogModule, MatIcon, NameField, NumberField],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <h2 mat-dialog-title>Lens kits</h2>
    <mat-dialog-content>
      <p class="quiet">The standard kit is always there: {{ standard }}.</p>
      @for (kit of kits(); track kit.id) {
        <div class="kit">
          <div class="row">
            <arvex-name-field label="Name of the kit" [value]="kit.name" (named)="rename(kit, $event)" />
            <button type="button" class="pill" (click)="add(kit)"><mat-icon>add</mat-icon>Add a lens</button>
            <button arvexIconButton="delete" [label]="'Take away ' + kit.name" (click)="deleteKit(kit)"></button>
          </div>
          @if (kit.lenses.length > 0) {
            <table>
              <thead>
                <tr>
                  <th scope="col">lens</th>
                  @for (column of columns; track column.key) {
                    <th scope="col">{{ column.name }}</th>
                  }
                  <th></th>
                </tr>
              </thead>
              <tbody>
                @for (lens of kit.lenses; track lens.id) {
                  <tr>
                    <td class="wide">
                      <arvex-name-field
                        label="Name of the lens"
                        [value]="lens.name"
                        (named)="set(kit, lens, { name: $event })"
                      />
                    </td>
                    @for (column of columns; track column.key) {
                      <td>
                        @if (column.key === 'closestM') {
                          <arvex-length-field
                            [label]="column.name + ' of ' + lens.name"
                            [min]="column.min"
                            [max]="column.max"
                            [value]="lens.closestM"
                            (valueSet)="set(kit, lens, { closestM: $event })"
                          />
                        } @else {
                          <arvex-number-field
                            [label]="column.name + ' of ' + lens.name"
                            [unit]="column.unit"
                            [decimals]="column.decimals"
                            [min]="column.min"
                            [max]="column.max"
                            [value]="lens[column.key] ?? (column.key === 'pupilMm' ? 0 : lens.widestStop)"
                            (valueSet)="setNumber(kit, lens, column.key, $event)"
                          />
                        }
                      </td>
                    }
                    <td>
                      <button
                        arvexIconButton="close"
                        [label]="'Take ' + lens.name + ' out'"
                        (click)="remove(kit, lens)"
                      ></button>
                    </td>
                  </tr>
                }
              </tbody>
            </table>
          }
        </div>
      } @empty {
        <p>There is no kit of your own yet.</p>
      }
    </mat-dialog-content>
    <mat-dialog-actions align="end">
      <button type="button" class="pill" (click)="addKit()"><mat-icon>add</mat-icon>Add a kit</button>
      <button type="button" class="pill filled" mat-dialog-close>Done</button>
    </mat-dialog-actions>
  `,
  styles: `
    .kit {
      padding: 8px 0 14px;
    }
    table {
      width: 100%;
      border-spacing: 4px 3px;
    }
    th {
      color: var(--chalk-2);
      font-size: 11px;
      font-weight: 400;
      text-align: left;
    }
    .wide {
      width: 140px;
    }
    mat-dialog-actions {
      gap: 8px;
    }
  `,
})
export class LensKitDialog {
  private readonly store = inject(ProjectStore);
  private readonly pieces = inject(SetPieces);
  protected readonly columns = COLUMNS;
  protected readonly standard = STANDARD_LENSES.map(({ name }) => name.replace(' mm', '')).join(', ') + ' mm';
  protected readonly kits = computed<LensKit[]>(() => Object.values(this.store.project()?.lensKits ?? {}));

  protected addKit(): void {
    this.pieces.edit(() => addLensKit(crypto.randomUUID(), `Kit ${this.kits().length + 1}`));
  }

  protected add(kit: LensKit): void {
    const lens: KitLens = {
      id: crypto.randomUUID(),
      name: '50 mm',
      minMm: 50,
      maxMm: 50,
      widestStop: 2,
      tStop: null,
      closestM: 0.5,
      blades: 9,
      roundness: 0.6,
      imageCircleMm: 44,
      pupilMm: null,
    };
    this.pieces.edit((project) => putLens(project, kit.id, lens));
  }

  protected setNumber(kit: LensKit, lens: KitLens, key: ColumnKey, value: number): void {
    const whole = key === 'blades' ? Math.round(value) : value;
    // A range that is turned round is a prime of the new length.
    const ends =
      key === 'minMm' && value > lens.maxMm
        ? { maxMm: value }
        : key === 'maxMm' && value < lens.minMm
          ? { minMm: value }
          : {};
    this.set(kit, lens, { ...ends, [key]: whole });
  }

  protected set(kit: LensKit, lens: KitLens, parts: Partial<KitLens>): void {
    const next = kitLensSchema.safeParse({ ...lens, ...parts });
    if (next.success) this.pieces.edit((project) => putLens(project, kit.id, next.data));
  }

  protected remove(kit: LensKit, lens: KitLens): void {
    this.pieces.edit((project) => removeLens(project, kit.id, lens.id));
  }

  protected rename(kit: LensKit, name: string): void {
    this.pieces.edit((project) => renameLensKit(project, kit.id, name));
  }

  protected deleteKit(kit: LensKit): void {
    this.pieces.edit((project) => deleteLensKit(project, kit.id));
  }
}
