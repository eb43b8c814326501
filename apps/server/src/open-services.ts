import { mkdir, rm } from 'node:fs/promises';
import { join } from 'node:path';
import { connect } from './database/connection';
import type { DatabaseAddress } from './database/mariadb-process';
import { migrate } from './database/migrate';
import { RenderFinisher } from './render/render-finisher';
import { RenderStore } from './render/render-store';
import { FileStore } from './services/file-store';
import type { MeasureGeometry } from './services/measure-geometry';
import { measureHere } from './services/measure-geometry';
import { PackageStore } from './services/package-store';
import { ProjectEvents } from './services/project-events';
import { ProjectStore } from './services/project-store';
import type { Services } from './services/services';

/** Largest geometry file taken by default, bytes. */
const GEOMETRY_LIMIT = 200_000_000;

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
    geometryLimit: options.geometryLimit ?? GEOMETRY_LIMIT,
    measure: options.measure ?? measureHere,
    close: async () => {
      await finisher.close();
      await sequelize.close();
    },
  };
}
