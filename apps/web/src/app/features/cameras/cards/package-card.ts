import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { MatIcon } from '@angular/material/icon';
import { MatTooltip } from '@angular/material/tooltip';
import type { CameraPackage } from '@arvex/core';
import { filmBackName } from '@arvex/core';
import { Card, IconButton, NameField } from '../../../ui';
import { CameraBench } from '../camera-bench';
import { Packages } from '../packages';

/** Camera settings saved by name: used again in any project. */
@Component({
  selector: 'arvex-package-card',
  imports: [IconButton, Card, MatIcon, MatTooltip, NameField],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <arvex-card heading="Packages" [summary]="summary()" card="package">
      @for (one of packages.all(); track one.id) {
        <div class="row">
          <button
            type="button"
            class="pill"
            [matTooltip]="'Give ' + bench.camera()?.name + ' these settings'"
            (click)="packages.apply(one)"
          >
            <mat-icon>inventory_2</mat-icon>{{ one.name }}
          </button>
          <span class="num quiet about">{{ about(one) }}</span>
          <button
            arvexIconButton="close"
            [label]="'Delete package ' + one.name"
            (click)="packages.delete(one)"
          ></button>
        </div>
      } @empty {
        <p class="quiet">Save this camera’s back, lens, exposure, frame and guides to use them again in any project.</p>
      }
      <div class="row">
        <arvex-name-field label="Name of the package" [value]="name()" (named)="name.set($event)" />
        <button type="button" class="pill" (click)="packages.save(name())">Save as package</button>
      </div>
    </arvex-card>
  `,
  styles: `
    .about {
      flex: 1;
      overflow: hidden;
      text-overflow: ellipsis;
      white-space: nowrap;
      font-size: 12px;
    }
  `,
})
export class PackageCard {
  protected readonly bench = new CameraBench();
  protected readonly packages = inject(Packages);
  protected readonly name = signal('My package');
  protected readonly summary = computed(() => `${this.packages.all().length} saved`);

  constructor() {
    void this.packages.refresh();
  }

  protected about({ settings }: CameraPackage): string {
    return `${settings.lens.focalLengthMm} mm · ${filmBackName(settings.filmBack)} · ƒ${settings.fStop}`;
  }
}
