import type { Packed, PackProgress } from '@arvex/interchange';
import { PACKED } from '@arvex/interchange';
import type { ReadLook } from '@arvex/interchange/looks';
import { READ_LOOKS } from '@arvex/interchange/looks';
import type { GeometryId, LookId } from '@arvex/interchange/tables';
import { expose } from 'comlink';

/** Reads files that are brought in, away from the interface. */
export class ReadingWorker {
  /** Turns files that belong together into one GLB. */
  pack(id: GeometryId, main: File, files: readonly File[], progress: PackProgress): Promise<Packed> {
    return PACKED[id](main, files, progress);
  }

  async look(id: LookId, file: File): Promise<ReadLook> {
    return READ_LOOKS[id](await file.text());
  }
}

expose(new ReadingWorker());
