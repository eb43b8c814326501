import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { MatIcon } from '@angular/material/icon';
import type { GroupLevel, LightGroup } from '@arvex/core';
import { addLightGroup, deleteLightGroup, lightGroupsInOrder, setLightGroup } from '@arvex/core';
import { ProjectStore } from '../../../data';
import { Card, IconButton, LevelRow, NameField } from '../../../ui';
import { SetPieces } from '../pieces';

/** Light groups and their levels for all cameras that follow the project. */
@Component({
  selector: 'arvex-light-groups-card',
  imports: [IconButton, Card, LevelRow, MatIcon, NameField],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <arvex-card heading="Light groups" [summary]="summary()" card="light-groups">
      @for (group of groups(); track group.id) {
        <div class="row">
          <arvex-level-row [name]="group.name" [level]="group.level" (levelSet)="set(group, $event)" />
        </div>
        @if (naming()) {
          <div class="row">
            <arvex-name-field [label]="'Name of ' + group.name" [value]="group.name" (named)="rename(group, $event)" />
            <button
              arvexIconButton="delete"
              [label]="'Take away ' + group.name"
              hint="Take this group away; its lamps stay"
              (click)="delete(group)"
            ></button>
          </div>
        }
      } @empty {
        <p class="quiet">Lamps of one group are dimmed and tinted together, for each camera if it wants.</p>
      }
      <div class="row">
        <button type="button" class="pill" (click)="add()"><mat-icon>add</mat-icon>Add a light group</button>
        @if (groups().length > 0) {
          <button type="button" class="pill" (click)="naming.set(!naming())">
            {{ naming() ? 'Done' : 'Rename …' }}
          </button>
        }
      </div>
    </arvex-card>
  `,
})
export class LightGroupsCard {
  private readonly store = inject(ProjectStore);
  private readonly pieces = inject(SetPieces);
  protected readonly naming = signal(false);
  protected readonly groups = computed(() => {
    const project = this.store.project();
    return project ? lightGroupsInOrder(project) : [];
  });
  protected readonly summary = computed(() => {
    const off = this.groups().filter(({ level }) => !level.on).length;
    return `${this.groups().length}${off > 0 ? `, ${off} off` : ''}`;
  });

  protected set({ id }: LightGroup, level: GroupLevel): void {
    this.pieces.edit((project) => setLightGroup(project, id, 'Level', { level }));
  }

  protected rename({ id }: LightGroup, name: string): void {
    this.pieces.edit((project) => setLightGroup(project, id, 'Name', { name }));
  }

  protected delete({ id }: LightGroup): void {
    this.pieces.edit((project) => deleteLightGroup(project, id));
  }

  protected add(): void {
    const taken = new Set(this.groups().map(({ name }) => name));
    let number = 1;
    while (taken.has(`group ${number}`)) number += 1;
    this.pieces.edit(() => addLightGroup(crypto.randomUUID(), `group ${number}`));
    this.naming.set(true);
  }
}
