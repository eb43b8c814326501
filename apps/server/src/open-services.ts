import { LARGEST_GEOMETRY_BYTES } from '@arvex/interchange/limits';
import { mkdir, rm } from 'node:fs/promises';
import { join } from 'node:path';
import { connect, withoutWork } from './database/connection';
import type { DatabaseAddress } from './database/mariadb-process';
import { migrate } from './database/migrate';
import { PACKAGES, RECIPES } from './features/by-name/kinds';
import { NamedStore } from './features/by-name/store';
import { ProjectEvents } from './features/events/project-events';
import type { MeasureGeometry } from './features/geometry/measure-geometry';
import { measureHere } from './features/geometry/measure-geometry';
import { ProjectStore } from './features/projects/store';
import { FrameDesk } from './features/renders/frame-desk';
import { FrameStore } from './features/renders/frame-store';
import { KeptFrames } from './features/renders/kept-frames';
import { Leases } from './features/renders/leases';
import type { MixFrame } from './features/renders/mix-frame';
import { mixHere } from './features/renders/mix-frame';
import { Mixer } from './features/renders/mixer';
import { OrderStore } from './features/renders/order-store';
import { RenderFinisher } from './features/renders/render-finisher';
import { RenderStore } from './features/renders/store';
import { Room } from './features/room/room';
import { FileStore } from './files/file-store';
import type { Services } from './services';

/** Whether the database lives is known after so long, milliseconds. */
const PULSE_MS = 5000;

export interface ServiceOptions {
  readonly address: DatabaseAddress;
  /** Directory for files; made when missing. */
  readonly dataDirectory: string;
  /** Where orders that go to a folder lie. The folder `output` of the data directory without. */
  readonly outputDirectory?: string;
  readonly geometryLimit?: number;
  readonly leaseSeconds?: number;
  /** In this thread when not given. */
  readonly measure?: MeasureGeometry;
  /** In this thread when not given. */
  readonly mix?: MixFrame;
}

/** Everything routes work with, on a migrated database. */
export async function openServices(options: ServiceOptions): Promise<Services & { close(): Promise<void> }> {
  // Bringing a large table up may take long: it is let.
  const upgrading = connect(options.address, { connections: 1, answerWithinMs: 0 });
  await migrate(upgrading).finally(() => upgrading.close());
  const sequelize = connect(options.address);
  const pulse = connect(options.address, { connections: 1, answerWithinMs: PULSE_MS });
  const temporary = join(options.dataDirectory, 'temporary');
  const filesDirectory = join(options.dataDirectory, 'files');
  await rm(temporary, { recursive: true, force: true });
  await rm(join(filesDirectory, 'incoming'), { recursive: true, force: true });
  await mkdir(temporary, { recursive: true, mode: 0o700 });
  const files = new FileStore(filesDirectory);
  const events = new ProjectEvents();
  const [orders, renders, frames] = [new OrderStore(sequelize), new RenderStore(sequelize), new FrameStore(sequelize)];
  const warn = (error: unknown) => console.error(withoutWork(error));
  const places = { temporary, output: options.outputDirectory ?? join(options.dataDirectory, 'output') };
  const finisher = new RenderFinisher(renders, orders, frames, files, events, places, warn);
  await finisher.resume();
  const leases = new Leases(sequelize, renders, frames, options.leaseSeconds);
  const desk = new FrameDesk(orders);
  const mixer = new Mixer({
    sequelize,
    orders,
    desk,
    frames,
    leases,
    files,
    finisher,
    events,
    mix: options.mix ?? mixHere,
    warn,
  });
  mixer.work();
  const room = new Room(sequelize, files, places.output, warn);
  room.collectSoon();
  return {
    sequelize,
    pulse,
    room,
    packages: new NamedStore(sequelize, PACKAGES),
    projects: new ProjectStore(sequelize, (hash) => files.has(hash)),
    events,
    files,
    orders,
    renders,
    frames,
    recipes: new NamedStore(sequelize, RECIPES),
    leases,
    desk,
    kept: new KeptFrames(desk, frames, leases, files, finisher, events),
    finisher,
    mixer,
    geometryLimit: options.geometryLimit ?? LARGEST_GEOMETRY_BYTES,
    measure: options.measure ?? measureHere,
    close: async () => {
      await mixer.close();
      await finisher.close();
      await room.close();
      await pulse.close();
      await sequelize.close();
    },
  };
}
