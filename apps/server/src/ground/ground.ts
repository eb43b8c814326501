import { mkdir, rm } from 'node:fs/promises';
import { join } from 'node:path';
import type { Sequelize } from 'sequelize';
import { connect, withoutWork } from '../database/connection';
import type { DatabaseAddress } from '../database/mariadb-process';
import { migrate } from '../database/migrate';
import { InProcessEvents } from '../events/in-process';
import type { ProjectEvents } from '../events/project-events';
import { FileStore } from '../files/file-store';
import { ProjectsInMemory } from '../projects/project-cache';
import { ProjectStore } from '../projects/project-store';
import { EmbeddedQueue } from '../queue/embedded/embedded-queue';
import type { WorkQueue } from '../queue/work-queue';
import { DiskRoom } from '../room/room';
import { LocalTurns } from '../turns/turns';

/** Whether the database lives is known after so long, milliseconds. */
const PULSE_MS = 5000;

/** What every feature stands on. */
export interface Ground {
  readonly sequelize: Sequelize;
  /** One connection of its own, by which one sees whether the database lives. */
  readonly pulse: Sequelize;
  readonly files: FileStore;
  readonly events: ProjectEvents;
  readonly queue: WorkQueue;
  readonly projects: ProjectStore;
  readonly room: DiskRoom;
  readonly places: Places;
  /** Name of this process, which it has again after a start: by it, it knows what it left when it died. */
  readonly processName: string;
  /** Says that something went wrong which nobody asked for. */
  readonly warn: (error: unknown) => void;
}

interface Places {
  /** For what this process is making: empty at its start. */
  readonly temporary: string;
  /** Folder in which orders are laid that ask for one. */
  readonly output: string;
}

export interface GroundOptions {
  readonly address: DatabaseAddress;
  /** Directory for files; made when missing. */
  readonly dataDirectory: string;
  /** Where orders that go to a folder lie. The folder `output` of the data directory when left out. */
  readonly outputDirectory?: string;
  /** How long work is held without a word, seconds; a minute when left out. */
  readonly leaseSeconds?: number;
  /** Other for each of several processes on one database; `server` when left out. */
  readonly processName?: string;
}

/** Opens all that features stand on, on a migrated database. Nothing that another process may hold is touched. */
export async function openGround(options: GroundOptions): Promise<Ground & { close(): Promise<void> }> {
  const { processName = 'server', dataDirectory } = options;
  // Bringing a large table up may take long: it is let.
  const upgrading = connect(options.address, { connections: 1, answerWithinMs: 0 });
  await migrate(upgrading).finally(() => upgrading.close());
  const sequelize = connect(options.address);
  const pulse = connect(options.address, { connections: 1, answerWithinMs: PULSE_MS });
  const temporary = join(dataDirectory, 'temporary', processName);
  await rm(temporary, { recursive: true, force: true });
  await mkdir(temporary, { recursive: true, mode: 0o700 });
  const files = new FileStore(join(dataDirectory, 'files'), processName);
  await files.sweep();
  const warn = (error: unknown) => console.error(withoutWork(error));
  const places = { temporary, output: options.outputDirectory ?? join(dataDirectory, 'output') };
  const room = new DiskRoom(sequelize, files, places.output, warn);
  room.collectSoon();
  return {
    sequelize,
    pulse,
    files,
    events: new InProcessEvents(),
    queue: new EmbeddedQueue(sequelize, options.leaseSeconds),
    projects: new ProjectStore(sequelize, {
      hasFile: (hash) => files.has(hash),
      cache: new ProjectsInMemory(),
      turns: new LocalTurns(),
    }),
    room,
    places,
    processName,
    warn,
    close: async () => {
      await room.close();
      await pulse.close();
      await sequelize.close();
    },
  };
}
