import { computed, effect, inject, Injectable, signal, untracked } from '@angular/core';
import type { OrderPart, Project, RenderJob, RenderOrder } from '@arvex/core';
import { frameFileName, outputSize } from '@arvex/core';
import type { Subscription } from 'rxjs';
import { Notices, ProjectStore } from '../../data';
import { Activity, Workspace } from '../../session';
import { OrderDesk } from './order-desk';
import type { Renderer } from './renderer';
import { renderer } from './renderer';
import { Renders } from './renders';

/** One frame exactly as it will leave. */
export interface ProvedPicture {
  readonly address: string;
  readonly fileName: string;
  readonly ending: string;
  readonly seconds: number;
  readonly bytes: number;
  readonly pictureBytes: number;
  readonly widthPx: number;
  readonly heightPx: number;
  /** What decides how long a frame takes, and what it takes on the disk. */
  readonly effort: string;
}

/** A frame is drawn anew so long after the order, the work or the playhead came to rest, milliseconds. */
const REST_MS = 500;

/** An order without what only decides which frames are made. */
function effortOf({ what: _what, frames: _frames, names: _names, places: _places, ...rest }: RenderOrder): string {
  return JSON.stringify(rest);
}

/** The frame at the playhead as the order makes it, in the place of the picture: drawn by the renderer that makes output. */
@Injectable({ providedIn: 'root' })
export class Proof {
  private readonly store = inject(ProjectStore);
  private readonly desk = inject(OrderDesk);
  private readonly renders = inject(Renders);
  private readonly notices = inject(Notices);
  private readonly activity = inject(Activity);
  private readonly workspace = inject(Workspace);

  /** Whether it is looked at, and kept up with what changes. */
  readonly shown = signal(false);
  readonly drawing = signal(false);
  readonly picture = signal<ProvedPicture | undefined>(undefined);
  private readonly wanted = computed(() => {
    const [project, order, at] = [this.store.project(), this.desk.order(), this.desk.atPlayhead()];
    return project && order && at
      ? { project, order, part: at.part, index: at.index, number: this.desk.number() }
      : undefined;
  });
  /** What was drawn last, where it fits the order as it is. */
  readonly fitting = computed(() => {
    const [picture, order] = [this.picture(), this.desk.order()];
    return picture && order && picture.effort === effortOf(order) ? picture : undefined;
  });
  private work: { readonly ask: Promise<Renderer>; readonly end: Subscription } | undefined;
  private drawn: unknown;

  constructor() {
    let rest: ReturnType<typeof setTimeout> | undefined;
    effect(() => {
      if (this.renders.asking()) untracked(() => this.close());
    });
    effect(() => {
      // Nobody looks at it elsewhere: it is drawn anew when one comes back.
      const shown = this.shown() && this.workspace.step() === 'review';
      const [wanted, busy] = shown ? [this.wanted(), this.activity.busy()] : [undefined, false];
      clearTimeout(rest);
      if (shown && !busy && wanted && untracked(() => wanted !== this.drawn))
        rest = setTimeout(() => void this.take(), REST_MS);
    });
  }

  /** Draws the frame at the playhead as output will, and shows it. */
  async take(): Promise<void> {
    const wanted = this.wanted();
    if (!wanted || this.drawing()) return;
    this.shown.set(true);
    this.drawing.set(true);
    this.drawn = wanted;
    try {
      await this.draw(wanted);
    } catch (error) {
      this.close();
      this.notices.error(new Error(`This frame cannot be drawn. ${(error as Error).message}`));
    } finally {
      this.drawing.set(false);
    }
  }

  /** Back to the set. What was measured stays. */
  close(): void {
    this.shown.set(false);
    this.drawn = undefined;
    this.work?.end.unsubscribe();
    this.work = undefined;
  }

  private async draw({ project, order, part, index, number }: Wanted): Promise<void> {
    const job: RenderJob = {
      ...{ renderId: NOBODY, orderId: NOBODY, projectId: project.head.id, state: 'rendering' },
      ...{ order, part, ...number },
    };
    const one = await this.renderer();
    const { picture, bytes, seconds } = await one.ask((remote) => remote.prove(project, job, index));
    const before = this.picture();
    if (before) URL.revokeObjectURL(before.address);
    this.picture.set({
      address: URL.createObjectURL(picture),
      fileName: frameFileName(project, order, part, number, index),
      ending: picture.type === 'image/jpeg' ? 'jpg' : 'png',
      ...{ seconds, bytes, pictureBytes: picture.size, ...outputSize(order, part), effort: effortOf(order) },
    });
  }

  private renderer(): Promise<Renderer> {
    if (!this.work) {
      let end: Subscription | undefined;
      const ask = new Promise<Renderer>((resolve) => (end = renderer().subscribe(resolve)));
      this.work = { ask, end: end as unknown as Subscription };
    }
    return this.work.ask;
  }
}

interface Wanted {
  readonly project: Project;
  readonly order: RenderOrder;
  readonly part: OrderPart;
  readonly index: number;
  readonly number: { readonly version: string; readonly date: string };
}

const NOBODY = '00000000-0000-4000-8000-000000000000';
