import type { CameraPackage, Recipe } from '@arvex/core';
import type { Sequelize } from 'sequelize';
import type { NamedStore } from './features/by-name/store';
import type { ProjectEvents } from './features/events/project-events';
import type { MeasureGeometry } from './features/geometry/measure-geometry';
import type { ProjectStore } from './features/projects/store';
import type { FrameDesk } from './features/renders/frame-desk';
import type { FrameStore } from './features/renders/frame-store';
import type { KeptFrames } from './features/renders/kept-frames';
import type { Leases } from './features/renders/leases';
import type { Mixer } from './features/renders/mixer';
import type { OrderStore } from './features/renders/order-store';
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
  readonly packages: NamedStore<CameraPackage>;
  readonly projects: ProjectStore;
  readonly events: ProjectEvents;
  readonly files: FileStore;
  readonly orders: OrderStore;
  readonly renders: RenderStore;
  readonly frames: FrameStore;
  readonly recipes: NamedStore<Recipe>;
  readonly leases: Leases;
  readonly desk: FrameDesk;
  readonly kept: KeptFrames;
  readonly finisher: RenderFinisher;
  readonly mixer: Mixer;
  /** Largest geometry file taken, bytes. */
  readonly geometryLimit: number;
  readonly measure: MeasureGeometry;
}
