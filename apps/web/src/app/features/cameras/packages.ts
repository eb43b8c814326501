import { inject, Injectable, signal } from '@angular/core';
import type { CameraPackage } from '@arvex/core';
import { applyPackage, packageOf } from '@arvex/core';
import { Api } from '../../data';
import { Notices } from '../../data';
import { ProjectStore } from '../../data';
import { Viewing } from '../../session';

/** Camera settings saved by name, for every project. */
@Injectable({ providedIn: 'root' })
export class Packages {
  private readonly api = inject(Api);
  private readonly store = inject(ProjectStore);
  private readonly viewing = inject(Viewing);
  private readonly notices = inject(Notices);

  readonly all = signal<readonly CameraPackage[]>([]);

  async refresh(): Promise<void> {
    await this.told(async () => {
      const { items } = await this.api.get<{ items: CameraPackage[] }>('/packages?limit=200');
      this.all.set(items);
    });
  }

  /** Saves the edited camera's settings; a package of the same name is replaced. */
  async save(name: string): Promise<void> {
    const [project, camera] = [this.store.project(), this.viewing.camera()];
    if (!project || !camera) return;
    const id = this.all().find((one) => one.name === name)?.id ?? crypto.randomUUID();
    await this.told(async () => {
      await this.api.put(`/packages/${id}`, { name, settings: packageOf(project, camera.id) });
      this.notices.done(`${name} is saved, for this and every other project.`);
    });
    await this.refresh();
  }

  apply(one: CameraPackage): void {
    const [project, camera] = [this.store.project(), this.viewing.camera()];
    if (project && camera) this.store.commit(applyPackage(project, camera.id, one, crypto.randomUUID()));
  }

  async delete({ id, name }: CameraPackage): Promise<void> {
    await this.told(async () => {
      await this.api.delete(`/packages/${id}`);
      this.notices.done(`${name} is deleted. Cameras that it was used on stay as they are.`);
    });
    await this.refresh();
  }

  private async told(work: () => Promise<void>): Promise<void> {
    try {
      await work();
    } catch (error) {
      this.notices.error(error);
    }
  }
}
