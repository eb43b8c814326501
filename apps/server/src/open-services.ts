import { LARGEST_GEOMETRY_BYTES } from '@arvex/interchange/limits';
import { mkdir, rm } from 'node:fs/promises';
import { join } from 'node:path';
import { connect } from './database/connection';
import type { DatabaseAddress } from './database/mariadb-process';
import { migrate } from './database/migrate';
import { ProjectEvents } from './features/events/project-events';
import type { MeasureGeometry } from './features/geometry/measure-geometry';
import { measureHere } from './features/geometry/measure-geometry';
import { PackageStore } from './features/packages/store';
import { ProjectStore } from './features/projects/store';
import { RenderFinisher } from './features/renders/render-finisher';
import { RenderStore } from './features/renders/store';
import { FileStore } from './files/file-store';
import type { Services } from './services';

export interface ServiceOptions {
  readonly address: DatabaseAddress;
  /** Directory for files; made when missing. */
  readonly dataDirectory: string;
  readonly geometryLimit?: number;
  readonly leaseSeconds?: number;
  /** In this thread when not given. */
  readonly measure?: MeasureGeometry;
}

/** Everything routes work with, on a migrated database. */
export async function openServices(options: ServiceOptions): Promise<Services & { close(): Promise<void> }> {
  const sequelize = connect(options.address);
  await migrate(sequelize);
  const temporary = join(options.dataDirectory, 'temporary');
  const filesDirectory = join(options.dataDirectory, 'files');
  await rm(temporary, { recursive: true, force: true });
  await rm(join(filesDirectory, 'incoming'), { recursive: true, force: true });
  await mkdir(temporary, { recursive: true, mode: 0o700 });
  const files = new FileStore(filesDirectory);
  const events = new ProjectEvents();
  const renders = new RenderStore(sequelize, options.leaseSeconds);
  const finisher = new RenderFinisher(renders, files, events, temporary, (error) => console.error(error));
  await finisher.resume();
  return {
    sequelize,
    packages: new PackageStore(sequelize),
    projects: new ProjectStore(sequelize),
    events,
    files,
    renders,
    finisher,
    geometryLimit: options.geometryLimit ?? LARGEST_GEOMETRY_BYTES,
    measure: options.measure ?? measureHere,
    close: async () => {
      await finisher.close();
      await sequelize.close();
    },
  };
}
