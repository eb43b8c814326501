import { inject, Injectable, signal } from '@angular/core';
import type { Render } from '@arvex/core';
import { pageOf } from '@arvex/core';
import * as z from 'zod';
import { Api, Notices } from '../../data';
import { addressOf } from './file-address';

/** A folder that the page may write (File System Access, W3C Community Group). */
interface WritableFolder {
  readonly name: string;
  getDirectoryHandle(name: string, options: { create: boolean }): Promise<WritableFolder>;
  getFileHandle(
    name: string,
    options: { create: boolean },
  ): Promise<{ createWritable(): Promise<WritableStream<Uint8Array>> }>;
}

type WithFolders = Window & { showDirectoryPicker?: (options: { mode: 'readwrite' }) => Promise<WritableFolder> };

/** Whether this browser lets a page write into a folder of one's choice. */
export function canSaveFolder(): boolean {
  return (window as WithFolders).showDirectoryPicker !== undefined;
}

const fileSchema = z.object({ path: z.string(), bytes: z.number() });
const PAGE = 200;

/** Writes what a render has made straight into a folder that somebody chooses. */
@Injectable({ providedIn: 'root' })
export class FolderSaving {
  private readonly api = inject(Api);
  private readonly notices = inject(Notices);
  readonly at = signal<
    { readonly renderId: string; readonly done: number; readonly total: number; readonly folder: string } | undefined
  >(undefined);

  async save(render: Render): Promise<void> {
    if (this.at()) return;
    const folder = await (window as WithFolders).showDirectoryPicker?.({ mode: 'readwrite' }).catch(() => undefined);
    if (!folder) return; // nobody chose one
    try {
      for (let offset = 0; ; offset += PAGE) {
        const { items, total } = await this.api.get(
          `/renders/${render.id}/files?offset=${offset}&limit=${PAGE}`,
          pageOf(fileSchema),
        );
        for (const [i, { path }] of items.entries()) {
          this.at.set({ renderId: render.id, done: offset + i, total, folder: folder.name });
          await this.write(folder, path, addressOf(render.id, path));
        }
        if (offset + items.length >= total) break;
      }
      this.notices.done(`${render.name} ${render.title} is in ${folder.name}.`);
    } catch (error) {
      const why = (error as Error).message;
      this.notices.error(
        new Error(`Not all files are in ${folder.name}: ${why} What was written stays there; try again.`),
      );
    } finally {
      this.at.set(undefined);
    }
  }

  private async write(folder: WritableFolder, path: string, address: string): Promise<void> {
    const names = path.split('/');
    const name = names.pop() ?? '';
    let within = folder;
    for (const one of names) within = await within.getDirectoryHandle(one, { create: true });
    const answer = await fetch(address);
    if (!answer.ok || !answer.body) throw new Error(`${name} answered ${answer.status}.`);
    await answer.body.pipeTo(await (await within.getFileHandle(name, { create: true })).createWritable());
  }
}
