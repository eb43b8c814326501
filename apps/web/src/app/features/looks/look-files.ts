import { inject, Injectable } from '@angular/core';
import type { Cdl, LookSettings, LutInput } from '@arvex/core';
import {
  addLook,
  creation,
  leftOutOf,
  lightGroupsInOrder,
  LOG_STOPS,
  lutFileSchema,
  LOOK_DEFAULTS,
  lutOfLook,
  MID_TONE,
  setLook,
  wearLook,
} from '@arvex/core';
import type { NamedCdl, ReadLook, WrittenLook } from '@arvex/interchange/looks';
import type { LookExporter, LookId } from '@arvex/interchange/tables';
import { firstValueFrom, lastValueFrom } from 'rxjs';
import { Notices, ProjectStore, saveFile, upload } from '../../data';
import { Viewpoint } from '../../session';
import type { FileTaker, KnownFile } from '../interchange';
import { reading } from '../interchange';
import { LightLevels } from './light-levels';
import type { LookParts } from './looks';
import { Looks } from './looks';

/** What reads and writes them: nobody waits for it before the first file. */
const written = () => import('@arvex/interchange/looks');

/** Looks, light mixes and colour decisions to and from the clipboard and files. */
@Injectable({ providedIn: 'root' })
export class LookFiles implements FileTaker {
  readonly becomes = ['look'] as const;
  private readonly store = inject(ProjectStore);
  private readonly viewpoint = inject(Viewpoint);
  private readonly looks = inject(Looks);
  private readonly levels = inject(LightLevels);
  private readonly notices = inject(Notices);

  copyLook(): Promise<void> {
    const name = this.looks.look()?.name ?? this.viewpoint.camera()?.name ?? 'Look';
    const settings = this.looks.settings();
    return this.copy(({ lookText }) => lookText(name, settings), `The look of ${name} is on the clipboard.`);
  }

  copyValues(what: string, values: LookParts): Promise<void> {
    return this.copy(({ valuesText }) => valuesText(values), `${what} is on the clipboard.`);
  }

  copyMix(): Promise<void> {
    const groups = this.levels.groups().map(({ name, level }) => ({ name, level }));
    const { name = '' } = this.viewpoint.camera() ?? {};
    return this.copy(({ mixText }) => mixText(groups), `The light mix of ${name} is on the clipboard.`);
  }

  /** Puts on the edited camera what is on the clipboard: a look, some values of one, or a light mix. */
  async paste(): Promise<void> {
    await this.saying(async () => {
      const text = await navigator.clipboard.readText().catch(() => {
        throw new Error('The browser does not let Arvex read the clipboard. Allow it for this page, then paste again.');
      });
      await this.takeText(text);
    });
  }

  /** Takes what a text says. @throws Error naming the line. */
  private async takeText(text: string): Promise<void> {
    const { readLookText } = await written();
    this.takeWritten(readLookText(text));
  }

  private takeWritten(read: WrittenLook): void {
    if (read.arvex === 'look values') this.looks.set('Pasted values', read.values);
    else if (read.arvex === 'look') this.addAndWear(read.name, read.settings);
    else this.takeMix(read.groups);
  }

  /** Levels by the names of light groups: those that the project has. */
  private takeMix(read: Extract<WrittenLook, { arvex: 'light mix' }>['groups']): void {
    const [project, dressed] = [this.store.project(), this.looks.dressed()];
    if (!project || !dressed) return;
    const groups = lightGroupsInOrder(project);
    const known = read.flatMap(({ name, level }) => {
      const group = groups.find((one) => one.name === name);
      return group ? [[group.id, level] as const] : [];
    });
    const unknown = read.filter(({ name }) => !groups.some((one) => one.name === name));
    if (known.length === 0) {
      const names = read.map(({ name }) => name).join(', ');
      throw new Error(`This project has none of the light groups ${names}. Make them in Set, then paste again.`);
    }
    const mix = Object.fromEntries(known);
    this.levels.setAll('Pasted light mix', mix);
    if (unknown.length > 0)
      this.notices.done(`Not in this project, left out: ${unknown.map(({ name }) => name).join(', ')}.`);
  }

  async take(files: readonly KnownFile[]): Promise<void> {
    for (const { file, importer } of files) {
      await this.saying(async () => {
        const read = await firstValueFrom(
          reading((worker): Promise<ReadLook> => worker.look(importer?.id as LookId, file)),
        );
        if (read.kind === 'cdl') this.takeCdls(read.corrections, file.name);
        else if (read.kind === 'cube') await this.takeCube(file);
        else this.takeWritten(read.written);
      }, file.name);
    }
  }

  /** Gives the edited camera's look as a file of a kind; says what that cannot carry. */
  async save({ id, ending, mediaType, carries }: LookExporter): Promise<void> {
    await this.saying(async () => {
      const settings = this.looks.settings();
      const name = this.looks.look()?.name ?? 'Look';
      const file = `${name}.${ending}`;
      saveFile(file, await this.fileText(id, name, settings), mediaType);
      if (carries !== 'all') this.sayLeft(file, leftOutOf(settings, carries));
    });
  }

  private async fileText(id: LookExporter['id'], name: string, settings: LookSettings): Promise<string> {
    const { lookText, writeCdl } = await written();
    if (id === 'look') return lookText(name, settings);
    if (id === 'cube-picture') return this.tableOf(name, settings, 'picture');
    if (id === 'cube-log') return this.tableOf(name, settings, 'log');
    return writeCdl([{ name, cdl: settings.cdl }], id);
  }

  /** All that a look does to colours as a 3D table. */
  private async tableOf(name: string, settings: LookSettings, input: LutInput): Promise<string> {
    const { readCube, writeCube } = await written();
    const asset = this.store.project()?.assets[settings.lut?.assetId ?? '']?.file;
    const through = asset?.kind === 'lut' ? readCube(await this.textOf(`/api/luts/${asset.hash}`)) : undefined;
    const lut = lutOfLook(settings, input, MID_TONE, through);
    const words =
      input === 'picture'
        ? 'For pictures that were rendered without their look (sRGB).'
        : `For light as log2: 0 is ${LOG_STOPS.below} stops below the mid-tone ${MID_TONE.toFixed(4)} of what clips, 1 is ${LOG_STOPS.above} above.`;
    const left = leftOutOf(settings, 'lut');
    const comments = [`Arvex, look ${name}.`, words, ...(left.length > 0 ? [`Not in it: ${left.join(', ')}.`] : [])];
    return writeCube({ ...lut, title: name }, comments);
  }

  private addAndWear(name: string, settings: Parameters<typeof addLook>[3]): void {
    const id = crypto.randomUUID();
    this.looks.editAll(`Look ${name}`, (dressed) => [
      (project) => addLook(project, id, name, settings),
      (project) => wearLook(project, dressed, id),
    ]);
  }

  /** One correction becomes the look's own; of several each becomes a look. */
  private takeCdls(corrections: readonly NamedCdl[], fileName: string): void {
    const [only] = corrections;
    if (corrections.length === 1 && only) {
      this.looks.set(`Colour decision ${only.name}`, { cdl: only.cdl });
      return;
    }
    const looks = (cdl: Cdl) => ({ ...LOOK_DEFAULTS, cdl });
    this.looks.editAll(`Looks of ${fileName}`, () =>
      corrections.map(
        ({ name, cdl }) =>
          (project) =>
            addLook(project, crypto.randomUUID(), name, looks(cdl)),
      ),
    );
    this.notices.done(`${corrections.length} looks were added: ${corrections.map(({ name }) => name).join(', ')}.`);
  }

  private async takeCube(file: File): Promise<void> {
    const sent = await lastValueFrom(upload('/luts', file, file.name, lutFileSchema));
    if (sent.kind !== 'taken') return;
    const assetId = crypto.randomUUID();
    const name = file.name.replace(/\.cube$/i, '').slice(0, MOST_NAME) || 'Table';
    this.looks.editAll(`Table ${name}`, (dressed) => [
      () => ({ name, operations: [creation('asset', { id: assetId, name, file: sent.answer })] }),
      (project) => setLook(project, dressed, `Table ${name}`, { lut: { assetId, share: 1 } }, crypto.randomUUID()),
    ]);
  }

  private async copy(textBy: (by: Written) => string, said: string): Promise<void> {
    await this.saying(async () => {
      await navigator.clipboard.writeText(textBy(await written()));
      this.notices.done(said);
    });
  }

  private sayLeft(file: string, left: readonly string[]): void {
    this.notices.done(
      left.length === 0 ? `${file} holds all of the look.` : `${file} cannot carry: ${left.join(', ')}.`,
    );
  }

  private async textOf(path: string): Promise<string> {
    const response = await fetch(path);
    if (!response.ok) throw new Error('The table of colours could not be read from the server. Try again.');
    return response.text();
  }

  private async saying(work: () => Promise<void>, where?: string): Promise<void> {
    try {
      await work();
    } catch (error) {
      const { message } = error as Error;
      this.notices.error(new Error(where === undefined ? message : `${where}: ${message} Nothing has changed.`));
    }
  }
}

type Written = Awaited<ReturnType<typeof written>>;

const MOST_NAME = 100;
