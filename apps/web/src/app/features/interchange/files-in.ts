import { inject, Injectable, InjectionToken, Injector } from '@angular/core';
import type { Becomes, Importer, ImporterId } from '@arvex/interchange/tables';
import { acceptOf, HEAD_BYTES, importerFor, isCompanion, namesOf } from '@arvex/interchange/tables';
import { Notices } from '../../data';

/** A file with what it is; nothing for one that only comes with another. */
export interface KnownFile {
  readonly file: File;
  readonly importer: (Importer & { readonly id: ImporterId }) | undefined;
}

/** Where files were dropped. */
export interface FilesWhere {
  /** The frame of the cut under the pointer; nothing where they were dropped on no frame, or chosen. */
  readonly atFrame?: number;
}

/** Who brings files of some kinds into the project. */
export interface FileTaker {
  readonly becomes: readonly Becomes[];
  /** Takes files of these kinds, and those that come with them. What cannot be taken it says itself; it never fails. */
  take(files: readonly KnownFile[], where: FilesWhere): Promise<void>;
}

/** What only comes with another file comes with this; where it came with none, its taker says so. */
const COMPANIONS_OF: Becomes = 'geometry';

/** Contributed by features: each kind has one taker. */
export const FILE_TAKERS = new InjectionToken<readonly FileTaker[]>('takers of files');

/** Files that are dropped or chosen anywhere: what each is, is found out from its content, and whoever takes that gets it. */
@Injectable({ providedIn: 'root' })
export class FilesIn {
  private readonly notices = inject(Notices);
  private readonly injector = inject(Injector);

  /** Brings files in. Those that cannot be read are named, with what can. */
  async take(files: readonly File[], where: FilesWhere = {}): Promise<void> {
    const known = await this.known(files);
    const refused = known.filter(({ file, importer }) => !this.mayBeTaken(file, importer));
    const taken = known.filter((one) => !refused.includes(one));
    for (const taker of this.injector.get(FILE_TAKERS)) {
      const own = taken.filter(({ importer }) => taker.becomes.includes(importer?.becomes ?? COMPANIONS_OF));
      if (own.length > 0) await taker.take(own, where);
    }
  }

  /** Lets files be chosen that become any of these, and brings them in; anything that can be read when none is named. */
  choose(...becomes: readonly Becomes[]): void {
    const input = document.createElement('input');
    Object.assign(input, { type: 'file', multiple: true, accept: acceptOf(...becomes) });
    input.addEventListener('change', () => void this.take([...(input.files ?? [])]));
    input.click();
  }

  /** What they are; those that are gone, or closed to us, meanwhile are named and left. */
  private async known(files: readonly File[]): Promise<readonly KnownFile[]> {
    const read = await Promise.allSettled(files.map(knownFile));
    return read.flatMap((one, i) => {
      if (one.status === 'fulfilled') return [one.value];
      const file = files[i];
      if (file) this.refuse(file, 'it cannot be read any more. Choose it again.');
      return [];
    });
  }

  private mayBeTaken(file: File, importer: KnownFile['importer']): boolean {
    if (!importer && !isCompanion(file.name)) {
      this.refuse(file, `Arvex does not read such files. Bring in ${namesOf()}.`);
      return false;
    }
    if (importer && file.size > importer.mostBytes) {
      const [has, most] = [file.size, importer.mostBytes].map((count) => Math.floor(count / 1e6));
      this.refuse(file, `it has ${has} MB; up to ${most} MB are taken. Make it smaller, or split it.`);
      return false;
    }
    return true;
  }

  private refuse(file: File, why: string): void {
    this.notices.error(new Error(`${file.name} was not brought in: ${why}`));
  }
}

/** What a file is, by its first bytes and its name. */
async function knownFile(file: File): Promise<KnownFile> {
  const head = new Uint8Array(await file.slice(0, HEAD_BYTES).arrayBuffer());
  return { file, importer: importerFor(file.name, head) };
}
