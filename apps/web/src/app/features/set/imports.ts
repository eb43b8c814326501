import { inject, Injectable, signal } from '@angular/core';
import type { GeometryFile, Pose, Project, Vector } from '@arvex/core';
import {
  addReference,
  bringIn,
  bringInCard,
  distanceBetween,
  eachAxis,
  geometryFileSchema,
  guessUnit,
  METRES_PER_UNIT,
  pictureFileSchema,
  setOf,
  shortened,
} from '@arvex/core';
import type { Packed } from '@arvex/interchange';
import type { GeometryId } from '@arvex/interchange/tables';
import { mostBytesOf, namesOf } from '@arvex/interchange/tables';
import { proxy } from 'comlink';
import type { Observable } from 'rxjs';
import { EMPTY, firstValueFrom, map, merge, mergeMap, of, Subject, tap } from 'rxjs';
import type { z } from 'zod';
import { AwayError, Notices, ProjectStore, retryWithPauses, upload } from '../../data';
import { StageHost } from '../../drawing';
import { FreeCamera, Selection, Viewpoint, Workspace } from '../../session';
import type { FileTaker, KnownFile } from '../interchange';
import { reading } from '../interchange';
import { FrameSelection } from './frame-selection';

/** How far in front of the free view a picture's card is stood, metres. */
const CARD_AWAY_M = 5;

/** Imported geometry lands so far in front of whoever looks, metres. */
const NEAREST_LANDING_M = 3;
const FARTHEST_LANDING_M = 60;

const CARD_HEIGHT_M = 1.8;

/** Things that come together stand in a row: how far it goes, metres. */
interface Row {
  atM: number;
  /** Things that were made. */
  readonly ids: string[];
}

/** Somebody cancelled it. */
class GivenUp extends Error {}

/** A file on its way into the set. */
export interface OnItsWay {
  readonly name: string;
  readonly doing: string;
  /** 0 to 1 where it is known. */
  readonly share: number | undefined;
}

/** A file of geometry, with its kind. */
interface Main {
  readonly file: File;
  readonly id: GeometryId;
}

function geometryIn({ file, importer }: KnownFile): readonly Main[] {
  return importer?.becomes === 'geometry' ? [{ file, id: importer.id as GeometryId }] : [];
}

/** Brings geometry and pictures into the set. It stays as it was when a file cannot be used. */
@Injectable({ providedIn: 'root' })
export class Imports implements FileTaker {
  readonly becomes = ['geometry', 'picture'] as const;
  private readonly store = inject(ProjectStore);
  private readonly notices = inject(Notices);
  private readonly selection = inject(Selection);
  private readonly freeCamera = inject(FreeCamera);
  private readonly viewpoint = inject(Viewpoint);
  private readonly workspace = inject(Workspace);
  private readonly stage = inject(StageHost);
  private readonly frame = inject(FrameSelection);
  private readonly cancel$ = new Subject<void>();

  readonly onItsWay = signal<OnItsWay | undefined>(undefined);

  /** Geometry with all that belongs to it, or pictures as cards. */
  async take(files: readonly KnownFile[]): Promise<void> {
    if (this.onItsWay()) {
      this.notices.error(new Error('Another file is on its way. Wait for it, or cancel it.'));
      return;
    }
    const mains = files.flatMap(geometryIn);
    const others = files.filter(({ importer }) => importer?.becomes !== 'geometry');
    const otherFiles = others.map(({ file }) => file);
    // What belongs to geometry comes with it; each file of geometry becomes a thing of its own.
    const used = new Set<string>();
    const row: Row = { atM: 0, ids: [] };
    const wasEmpty = Object.keys(this.store.project()?.placements ?? {}).length === 0;
    for (const main of mains) {
      await this.told(main.file.name, async () =>
        (await this.geometry(main, [main.file, ...otherFiles], row)).forEach((name) => used.add(name)),
      );
    }
    for (const { file, importer } of others.filter((one) => !used.has(one.file.name))) {
      if (importer) await this.told(file.name, () => this.card(file, row));
      else this.notices.error(new Error(`${file.name} was not brought in: ${whyNot(mains.length > 0)}`));
    }
    if (row.ids.length > 1) this.selection.set(...row.ids);
    // What came into an empty set is looked at whole, however large it is; so is what nobody looks at through a camera.
    if (row.ids.length > 0 && (wasEmpty || !this.viewpoint.throughState())) this.frame.toSelection();
    else if (row.ids.length > 0) this.frame.tellOthers();
  }

  /** A picture laid over the picture of the camera looked through. */
  async bringInReference(file: File): Promise<void> {
    const camera = this.viewpoint.camera();
    if (!camera) return;
    await this.told(file.name, async () => {
      const facts = await this.send('/pictures', file, file.name, pictureFileSchema);
      const project = this.store.project();
      const ids = { asset: crypto.randomUUID(), reference: crypto.randomUUID() };
      if (project) this.store.commit(addReference(project, camera.id, ids, nameOf(file), facts));
    });
  }

  cancel(): void {
    this.cancel$.next();
  }

  private async told(name: string, work: () => Promise<void>): Promise<void> {
    this.tell(name, 'Reading');
    try {
      await work();
    } catch (error) {
      if (error instanceof GivenUp) this.notices.done(`${name} was not brought in; the set is as it was.`);
      else this.notices.error(new Error(`${name} was not brought in: ${(error as Error).message}`));
    } finally {
      this.onItsWay.set(undefined);
    }
  }

  /** @returns names of the files that came with it. */
  private async geometry(main: Main, files: readonly File[], row: Row): Promise<readonly string[]> {
    const bytes = files.reduce((sum, { size }) => sum + size, 0);
    if (bytes > mostBytesOf('geometry')) {
      const [has, most] = [bytes, mostBytesOf('geometry')].map((count) => Math.floor(count / 1e6));
      throw new Error(`it has ${has} MB; up to ${most} MB are taken. Split the file or thin its meshes.`);
    }
    const { glb, leftOut, used } = await this.pack(main, files);
    const facts = await this.send('/geometry', glb, main.file.name, geometryFileSchema);
    const project = this.store.project();
    const setId = project && setOf(project)?.id;
    if (!project || setId === undefined) return used;
    const ids = { asset: crypto.randomUUID(), placement: crypto.randomUUID() };
    const at = await this.landing(project, facts, row);
    const file = { ...facts, leftOut: [...leftOut, ...facts.leftOut].slice(0, 50) };
    await this.stage.standAside(async () => {
      if (!this.store.commit(bringIn(project, setId, ids, nameOf(main.file), file, at))) return;
      await shown();
      row.ids.push(ids.placement);
      this.selection.set(ids.placement);
      this.workspace.goTo('set');
    });
    return used;
  }

  /**
   * Where a thing is to stand: what comes first into an empty set keeps its own origin; else it lands on the ground in front of
   * whoever looks, beside what came with it: as far away as suits its size in the unit it was probably made in.
   */
  private async landing(project: Project, { minM, maxM }: GeometryFile, row: Row): Promise<Vector> {
    const unit = guessUnit(eachAxis((axis) => maxM[axis] - minM[axis]));
    const size = distanceBetween(minM, maxM) * (unit ? METRES_PER_UNIT[unit] : 1);
    if (Object.keys(project.placements).length === 0) {
      nextIn(row, size);
      return [0, 0, 0];
    }
    const ownM = eachAxis((axis) => (minM[axis] + maxM[axis]) / 2);
    const away = Math.min(FARTHEST_LANDING_M, Math.max(NEAREST_LANDING_M, size * 1.5));
    const [toX, toZ] = this.inFront(away, nextIn(row, size));
    const [ground] = await this.stage.groundUnder([[toX, this.eye().positionM[1], toZ]], 0, []);
    return [toX - ownM[0], (ground ?? 0) - minM[1], toZ - ownM[2]];
  }

  /** From where one looks: the free view where it is shown, else the camera looked through. */
  private eye(): Pose {
    const through = this.workspace.shows('free') ? undefined : this.viewpoint.throughState();
    return through ?? this.freeCamera.pose();
  }

  /** The place so far in front of whoever looks, and so far to the right of that, metres east and south. */
  private inFront(awayM: number, rightM: number): readonly [number, number] {
    const { positionM, panDeg } = this.eye();
    const pan = (panDeg * Math.PI) / 180;
    return [
      positionM[0] + Math.sin(pan) * awayM + Math.cos(pan) * rightM,
      positionM[2] - Math.cos(pan) * awayM + Math.sin(pan) * rightM,
    ];
  }

  private pack({ file, id }: Main, files: readonly File[]): Promise<Packed> {
    const tell = proxy((doing: string, share?: number) => this.tell(file.name, doing, share));
    return this.unlessGivenUp(reading((worker) => worker.pack(id, file, [...files], tell)));
  }

  /** The first value, unless somebody gives it up before that. @throws GivenUp then. */
  private unlessGivenUp<T>(work: Observable<T>): Promise<T> {
    const givenUp = this.cancel$.pipe(
      map(() => {
        throw new GivenUp();
      }),
    );
    return firstValueFrom(merge(work, givenUp));
  }

  private async card(file: File, row: Row): Promise<void> {
    const facts = await this.send('/pictures', file, file.name, pictureFileSchema);
    const project = this.store.project();
    const setId = project && setOf(project)?.id;
    if (!project || setId === undefined) return;
    const ids = { asset: crypto.randomUUID(), placement: crypto.randomUUID() };
    const [x, z] = this.inFront(CARD_AWAY_M, nextIn(row, (CARD_HEIGHT_M * facts.widthPx) / facts.heightPx));
    const at = [x, 0, z] as const;
    if (this.store.commit(bringInCard(project, setId, ids, nameOf(file), facts, at, CARD_HEIGHT_M)))
      this.selection.set(ids.placement);
  }

  private send<T>(path: string, file: Blob, name: string, schema: z.ZodType<T>): Promise<T> {
    const taken = upload(path, file, name, schema).pipe(
      tap((step) => {
        if (step.kind === 'sent')
          this.tell(name, step.share < 1 ? 'Sending' : 'Measuring', step.share < 1 ? step.share : undefined);
      }),
      mergeMap((step) => (step.kind === 'taken' ? of(step.answer) : EMPTY)),
      retryWithPauses((error, tries) => {
        if (!(error instanceof AwayError)) throw error;
        this.tell(name, `${error.reason} Trying again (${tries})`);
      }),
    );
    return this.unlessGivenUp(taken);
  }

  private tell(name: string, doing: string, share?: number): void {
    this.onItsWay.set({ name, doing, share });
  }
}

/** Where in a row the next thing of a size stands: the first in its middle, the others to the right of what is there. */
function nextIn(row: Row, sizeM: number): number {
  const at = row.atM === 0 ? 0 : row.atM + sizeM / 2;
  row.atM = at + sizeM / 2;
  return at;
}

/** Why a file that only comes with another one stays outside, with the way out. */
function whyNot(withGeometry: boolean): string {
  return withGeometry
    ? 'no file that came with it refers to it.'
    : `bring it in together with the ${namesOf('geometry')} it belongs to.`;
}

/** Resolves when what was changed is on the screen: two small changes hold the interface up less than one large one. */
function shown(): Promise<unknown> {
  return new Promise((resolve) => requestAnimationFrame(() => setTimeout(resolve)));
}

function nameOf({ name }: File): string {
  return shortened(name.replace(/\.[^.]+$/, ''), 100) || 'thing';
}
