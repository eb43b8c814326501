import { inject, Injectable, signal } from '@angular/core';
import type { CameraPackage } from '@arvex/core';
import { applyPackage, cameraPackageSchema, packageOf, pageOf } from '@arvex/core';
import { Api, Notices, ProjectStore } from '../../data';
import { Viewpoint } from '../../session';
import * as z from 'zod';

/** Camera settings saved by name, for every project. */
@Injectable({ providedIn: 'root' })
export class Packages {
  private readonly api = inject(Api);
  private readonly store = inject(ProjectStore);
  private readonly viewpoint = inject(Viewpoint);
  private readonly notices = inject(Notices);

  readonly all = signal<readonly CameraPackage[]>([]);

  async refresh(): Promise<void> {
    await this.told(async () => {
      const { items } = await this.api.get('/packages?limit=200', pageOf(cameraPackageSchema));
      this.all.set(items);
    });
  }

  /** Saves the edited camera's settings; a package of the same name is replaced. */
  async save(name: string): Promise<void> {
    const [project, camera] = [this.store.project(), this.viewpoint.camera()];
    if (!project || !camera) return;
    const id = this.all().find((one) => one.name === name)?.id ?? crypto.randomUUID();
    await this.told(async () => {
      await this.api.put(`/packages/${id}`, { name, settings: packageOf(project, camera.id) }, z.unknown());
      this.notices.done(`${name} is saved, for this and every other project.`);
    });
    await this.refresh();
  }

  apply(one: CameraPackage): void {
    const [project, camera] = [this.store.project(), this.viewpoint.camera()];
    if (project && camera)
      this.store.commit(applyPackage(project, camera.id, one, { kit: crypto.randomUUID(), look: crypto.randomUUID() }));
  }

  async delete({ id, name }: CameraPackage): Promise<void> {
    await this.told(async () => {
      await this.api.delete(`/packages/${id}`, z.unknown());
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
