import type { Sequelize } from 'sequelize';
import type { ProjectEvents } from './features/events/project-events';
import type { MeasureGeometry } from './features/geometry/measure-geometry';
import type { PackageStore } from './features/packages/store';
import type { ProjectStore } from './features/projects/store';
import type { Leases } from './features/renders/leases';
import type { RenderFinisher } from './features/renders/render-finisher';
import type { RenderStore } from './features/renders/store';
import type { Room } from './features/room/room';
import type { FileStore } from './files/file-store';

/** Everything routes work with. */
export interface Services {
  readonly sequelize: Sequelize;
  /** One connection of its own, by which one sees whether the database lives. */
  readonly pulse: Sequelize;
  readonly room: Room;
  readonly packages: PackageStore;
  readonly projects: ProjectStore;
  readonly events: ProjectEvents;
  readonly files: FileStore;
  readonly renders: RenderStore;
  readonly leases: Leases;
  readonly finisher: RenderFinisher;
  /** Largest geometry file taken, bytes. */
  readonly geometryLimit: number;
  readonly measure: MeasureGeometry;
}
