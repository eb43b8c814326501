import type { Type } from '@angular/core';
import { createEnvironmentInjector, EnvironmentInjector } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import type { AppliedChange, Change, Project } from '@arvex/core';
import { applyChange, CoreError, entityIn } from '@arvex/core';
import { Api, AwayError, ProblemError } from '../src/app/state/api';
import { Exposing } from '../src/app/state/exposing';
import { Focusing } from '../src/app/state/focusing';
import { KeyEditing } from '../src/app/state/key-editing';
import { LensChanging } from '../src/app/state/lens-changing';
import { Marking } from '../src/app/state/marking';
import { Moving } from '../src/app/state/moving';
import { Notices } from '../src/app/state/notices';
import { Outbox } from '../src/app/state/outbox';
import { Playhead } from '../src/app/state/playhead';
import { ProjectStore } from '../src/app/state/project-store';
import { Viewing } from '../src/app/state/viewing';
import { FakeEvents } from './browser';

/** A server in memory: takes changes as the real one does, and can be away. */
export class MemoryServer {
  away = false;
  readonly changes: AppliedChange[] = [];

  constructor(public project: Project) {}

  get<T>(path: string): Promise<T> {
    if (this.away) return Promise.reject(new AwayError());
    const after = /changes\?after=(\d+)/.exec(path)?.[1];
    const answer =
      after === undefined ? this.project : { items: this.changes.filter(({ seq }) => seq > Number(after)) };
    return Promise.resolve(structuredClone(answer) as T);
  }

  async post<T>(_path: string, change: Change): Promise<T> {
    await Promise.resolve();
    if (this.away) throw new AwayError();
    const known = this.changes.find((one) => one.change.id === change.id);
    if (known) return { seq: known.seq } as T;
    return { seq: this.take(change) } as T;
  }

  /** Applies a change, from this tab or another, and tells all tabs of it. */
  take(change: Change): number {
    try {
      const seq = this.project.seq + 1;
      this.project = { ...applyChange(this.project, change), seq };
      const applied = { seq, change };
      this.changes.push(applied);
      queueMicrotask(() => FakeEvents.send('change', applied));
      return seq;
    } catch (error) {
      if (!(error instanceof CoreError)) throw error;
      const operation = change.operations[0];
      const theirs = operation ? (entityIn(this.project, operation.kind, operation.id) ?? null) : null;
      const type = `/problems/${error.code}`;
      throw new ProblemError({ type, title: error.code, status: 409, detail: error.message, theirs });
    }
  }
}

/** The services of one browser tab, with the project open in it. */
export interface Tab {
  readonly store: ProjectStore;
  readonly notices: Notices;
  readonly playhead: Playhead;
  readonly viewing: Viewing;
  readonly marking: Marking;
  readonly moving: Moving;
  readonly editing: KeyEditing;
  readonly focusing: Focusing;
  readonly exposing: Exposing;
  readonly lenses: LensChanging;
}

const SERVICES = [
  Outbox,
  Notices,
  ProjectStore,
  Playhead,
  Viewing,
  Marking,
  Moving,
  KeyEditing,
  Exposing,
  Focusing,
  LensChanging,
];

/** Opens the server's project in a tab of its own. */
export async function openTab(server: MemoryServer): Promise<Tab> {
  const parent = TestBed.inject(EnvironmentInjector);
  const injector = createEnvironmentInjector([{ provide: Api, useValue: server }, ...SERVICES], parent);
  const get = <T>(type: Type<T>): T => injector.get(type);
  const store = get(ProjectStore);
  await store.open(server.project.head.id);
  const [notices, playhead, viewing] = [get(Notices), get(Playhead), get(Viewing)];
  TestBed.tick();
  return {
    ...{ store, notices, playhead, viewing, marking: get(Marking), moving: get(Moving), editing: get(KeyEditing) },
    ...{ focusing: get(Focusing), exposing: get(Exposing), lenses: get(LensChanging) },
  };
}
