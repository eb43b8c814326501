import type { Sequelize } from 'sequelize';
import type { RenderFinisher } from '../render/render-finisher';
import type { RenderStore } from '../render/render-store';
import type { FileStore } from './file-store';
import type { MeasureGeometry } from './measure-geometry';
import type { PackageStore } from './package-store';
import type { ProjectEvents } from './project-events';
import type { ProjectStore } from './project-store';

/** Everything routes work with. */
export interface Services {
  readonly sequelize: Sequelize;
  readonly packages: PackageStore;
  readonly projects: ProjectStore;
  readonly events: ProjectEvents;
  readonly files: FileStore;
  readonly renders: RenderStore;
  readonly finisher: RenderFinisher;
  /** Largest geometry file taken, bytes. */
  readonly geometryLimit: number;
  readonly measure: MeasureGeometry;
}
