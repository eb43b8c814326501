import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Edit } from '../src/edits';
import { composed, previewed } from '../src/edits';
import { setCamera } from '../src/edits/camera';
import { keyChannels, moveOperations, setMark } from '../src/edits/move';
import { setHead } from '../src/edits/project';
import { addShot, moveShots, setShot } from '../src/edits/sequence';
import { attachPlacements, deletePlacements, putPiece } from '../src/edits/set';
import type { Change, Operation, Project, Replica, ReplicaEvent } from '../src/model';
import {
  applied,
  applyChange,
  broughtUp,
  changeOf,
  isClash,
  moveOf,
  orderBetween,
  PIECE_OFFERS,
  rebased,
  replicaOf,
  replicated,
  shotsInOrder,
  touchedBy,
} from '../src/model';
import { flicksAtFrame } from '../src/time';
import { nextId, projectWithCamera, SEQUENCE_ID } from './sample-project';

const RATE = { frames: 24, seconds: 1 };
const content = (project: Project): unknown =>
  JSON.parse(JSON.stringify(project, (key, value: unknown) => (key === 'revision' || key === 'seq' ? '' : value)));

/** Whoever keeps the project: takes changes one after another, brings them up, and tells all. */
class Server {
  readonly history: Change[] = [];
  constructor(public project: Project) {}

  take(change: Change): Change | 'clash' {
    const up = broughtUp(change, this.history);
    if (isClash(up)) return 'clash';
    try {
      this.project = applyChange(this.project, up);
    } catch {
      return 'clash';
    }
    this.history.push(up);
    return up;
  }
}

/** Somebody who edits, sends and is told at times of their own. */
class Writer {
  private replica: Replica;
  /** How much of the history was known when a change was made, by the change's id. */
  private readonly knownAt = new Map<string, number>();
  private readonly sent = new Set<string>();
  private readonly taken = new Set<string>();
  known = 0;
  told = 0;
  /** Since it reads the project anew, it does not know what was written before that: only the server brings its changes up to it. */
  isBlind = false;

  constructor(private readonly server: Server) {
    this.replica = replicaOf(server.project);
  }

  get shown(): Project {
    return this.replica.shown;
  }

  /** What has to be shown, from nothing: all that is known of the history, and what waits brought up to all of it. */
  shownPlainly(first: Project): Project {
    const history = this.server.history.slice(0, this.known);
    const confirmed = history.reduce((project, change) => applyChange(project, change), first);
    return this.replica.waiting.reduce((project, change) => {
      const up = broughtUp(change, history);
      if (isClash(up)) return project;
      try {
        const next = applyChange(project, up);
        history.push(up);
        return next;
      } catch {
        return project;
      }
    }, confirmed);
  }

  private happened(event: ReplicaEvent): void {
    this.replica = replicated(this.replica, event).replica;
  }

  edit(make: (project: Project) => Edit): void {
    const edit = make(this.shown);
    if (edit.operations.length === 0) return;
    const change = changeOf(edit, nextId());
    this.knownAt.set(change.id, this.known);
    this.happened({ kind: 'made', change });
  }

  /** Sends the first that waits to be sent. @returns the change as it was taken, with what its maker had been told of. */
  send(): { change: Change; known: number } | undefined {
    const first = this.replica.waiting.find(({ id }) => !this.sent.has(id));
    if (!first) return undefined;
    this.sent.add(first.id);
    const taken = this.server.take(first);
    if (taken === 'clash') {
      this.told += 1;
      this.happened({ kind: 'dropped', ids: new Set([first.id]) });
      return undefined;
    }
    this.taken.add(first.id);
    return { change: taken, known: this.knownAt.get(first.id) ?? 0 };
  }

  /** Loads the page anew: the project is read, what has not been sent still waits. */
  reload(): void {
    this.known = this.server.history.length;
    const waiting = this.replica.waiting.filter(({ id }) => !this.taken.has(id));
    this.replica = replicaOf(this.server.project, waiting);
    this.isBlind = waiting.length > 0;
  }

  hear(): void {
    const change = this.server.history[this.known];
    if (!change) return;
    this.known += 1;
    this.happened({ kind: 'confirmed', applied: { seq: this.known, change } });
  }

  hearAll(): void {
    while (this.known < this.server.history.length) this.hear();
  }
}

/** A camera, two shots of it, and keys on two of its channels. */
function begin() {
  const { project: first, cameraId } = projectWithCamera();
  let project = first;
  for (const start of [0, 50]) {
    const shot = { id: nextId(), cameraId, sceneStartFlicks: flicksAtFrame(start, RATE), durationFlicks: 1000 };
    project = previewed(project, addShot(project, SEQUENCE_ID, shot));
  }
  return { project: previewed(project, keyChannels(project, cameraId, { pan: 1, tilt: 2 }, 0)), cameraId };
}

describe('changes of several writers', () => {
  it('to different fields all land without a question; nothing taken is lost; every refusal is told', () => {
    const { project, cameraId } = begin();
    const edits: ((now: Project, n: number) => Edit)[] = [
      (now, n) => setCamera(now, cameraId, 'Name', { name: `Camera ${n}` }),
      (now, n) => setCamera(now, cameraId, 'Clip', { clip: { nearM: 0.1 + n / 100, farM: 900 } }),
      (now, n) => setHead(now, 'Name', { name: `Project ${n}` }),
      (now, n) => keyChannels(now, cameraId, { pan: n }, flicksAtFrame(n % 40, RATE)),
      (now, n) => keyChannels(now, cameraId, { roll: n }, flicksAtFrame(n % 40, RATE)),
      (now, n) => setShot(now, shotsInOrder(now, SEQUENCE_ID)[n % 2]!.id, 'Length', { durationFlicks: 1000 + n }),
      (now, n) => moveShots(now, [shotsInOrder(now, SEQUENCE_ID)[n % 2]!.id], (n >> 1) % 2),
      (now, n) => {
        const shot = { id: nextId(), cameraId, sceneStartFlicks: n, durationFlicks: 500 };
        return addShot(now, SEQUENCE_ID, shot);
      },
    ];
    const step = fc.record({ who: fc.nat(2), what: fc.nat(3), edit: fc.nat(edits.length - 1), n: fc.nat(500) });
    fc.assert(
      fc.property(fc.array(step, { maxLength: 50 }), (steps) => {
        const server = new Server(project);
        const writers = [0, 1, 2].map(() => new Writer(server));
        const taken: { by: number; change: Change; known: number }[] = [];
        let made = 0;
        const send = (who: number) => {
          const sent = writers[who]!.send();
          if (sent) taken.push({ by: who, ...sent });
        };
        for (const { who, what, edit, n } of steps) {
          const writer = writers[who]!;
          if (what === 0) {
            writer.edit((now) => edits[edit]!(now, n));
            made += 1;
          } else if (what === 1) send(who);
          else if (what === 2) writer.hear();
          else writer.reload();
          if (!writer.isBlind) expect(content(writer.shown)).toEqual(content(writer.shownPlainly(project)));
        }
        // In the end everything is sent and told.
        for (let round = 0; round < made; round++) [0, 1, 2].forEach(send);
        for (const writer of writers) {
          writer.hearAll();
          expect(content(writer.shown)).toEqual(content(server.project));
        }
        expect(taken).toHaveLength(server.history.length);
        // Who wrote the same as somebody before had been told of it, unless it was their own.
        taken.forEach(({ by, change, known }, i) => {
          taken.slice(known, i).forEach((before) => {
            if (before.by !== by) expect(clashing(before.change, change)).toEqual([]);
          });
        });
      }),
      { numRuns: 150 },
    );
  });

  it('to the same field ask: also where the second was made on top of one that was brought up', () => {
    const { project, cameraId } = begin();
    const server = new Server(project);
    const [mine, other] = [new Writer(server), new Writer(server)];
    // I change the name and then the clip, while somebody else changes the clip.
    mine.edit((now) => setCamera(now, cameraId, 'Name', { name: 'Gate' }));
    mine.edit((now) => setCamera(now, cameraId, 'Clip', { clip: { nearM: 1, farM: 50 } }));
    other.edit((now) => setCamera(now, cameraId, 'Clip', { clip: { nearM: 2, farM: 60 } }));
    other.send();
    mine.send();
    mine.send();
    expect(server.project.cameras[cameraId]).toMatchObject({ name: 'Gate', clip: { nearM: 2, farM: 60 } });
    expect(mine.told).toBe(1);
  });

  it('that begin to move one camera at once meet in one move, and the second is asked', () => {
    const { project, cameraId } = projectWithCamera();
    const server = new Server(project);
    const [one, two] = [new Writer(server), new Writer(server)];
    one.edit((now) => setMark(now, cameraId, 0, nextId()));
    two.edit((now) => setMark(now, cameraId, flicksAtFrame(24, RATE), nextId(), { pan: 20 }));
    const theirs = moveOf(two.shown, cameraId)!;
    one.send();
    two.send();
    expect([two.told, Object.keys(server.project.moves)]).toEqual([1, [cameraId]]);
    // Kept all the same, it is laid over the other one.
    const create: Operation = { op: 'create', kind: 'move', id: theirs.id, fields: { ...theirs } };
    const mine = applied(
      server.project,
      changeOf({ name: 'Mine', operations: rebased(server.project, [create]) }, nextId()),
    );
    expect(moveOf(mine.project, cameraId)?.curves['pan']).toEqual(theirs.curves['pan']);
  });
});

/** Paths of entities that both changes touch. */
function clashing(a: Change, b: Change): string[] {
  const paths = ({ operations }: Change) =>
    operations.flatMap((one) =>
      one.op === 'create' ? [] : touchedBy(one).map((path) => `${one.kind} ${one.id} ${path}`),
    );
  return paths(a).filter((path) => paths(b).includes(path));
}

describe('what holds in every project', () => {
  const things = () => {
    const { project } = projectWithCamera();
    const ids = [nextId(), nextId(), nextId()];
    const setId = Object.keys(project.sets)[0]!;
    return {
      ids,
      project: ids.reduce((now, id) => previewed(now, putPiece(now, setId, id, PIECE_OFFERS[0]!, [0, 0, 0])), project),
    };
  };
  const patch = (kind: Operation['kind'], id: string, fields: Record<string, unknown>): Operation => {
    return { op: 'patch', kind, id, baseRevision: 'first', fields };
  };

  it('is kept: nothing carries itself, however many are between', () => {
    const { project, ids } = things();
    const [a, b, c] = ids as [string, string, string];
    const chained = [
      [b, a],
      [c, b],
    ].reduce((now, [one, by]) => previewed(now, attachPlacements(now, [one!], by!, 0)), project);
    expect(() => previewed(chained, { operations: [patch('placement', a, { parentId: c })] })).toThrow(
      /would carry itself/,
    );
    expect(Object.keys(previewed(chained, deletePlacements(chained, [a])).placements)).toEqual([]);
  });

  it('is kept: what is referred to is in the project, and cannot go before what refers to it', () => {
    const { project, cameraId } = begin();
    const [shot] = shotsInOrder(project, SEQUENCE_ID);
    expect(() => previewed(project, { operations: [patch('shot', shot!.id, { cameraId: nextId() })] })).toThrow(
      /no camera/,
    );
    const gone: Operation = { op: 'delete', kind: 'camera', id: cameraId, baseRevision: 'first' };
    expect(() => previewed(project, { operations: [gone] })).toThrow(/still refers/);
  });

  it('is kept: one move a camera, one shot at a place', () => {
    const { project, cameraId } = begin();
    const { revision: _revision, id: _id, ...move } = moveOf(project, cameraId)!;
    const second: Operation = { op: 'create', kind: 'move', id: nextId(), fields: move };
    expect(() => previewed(project, { operations: [second] })).toThrow('A camera has one move.');
    const [first, last] = shotsInOrder(project, SEQUENCE_ID);
    expect(() => previewed(project, { operations: [patch('shot', last!.id, { order: first!.order })] })).toThrow(
      /same place/,
    );
  });
});

describe('the order of shots', () => {
  it('always has one more place between two others, also for two who take the same one at once', () => {
    fc.assert(
      fc.property(fc.array(fc.tuple(fc.nat(1000), fc.uuid()), { maxLength: 200 }), (steps) => {
        const orders: string[] = [];
        for (const [pick, id] of steps) {
          const at = pick % (orders.length + 1);
          const [order, theirs] = [id, nextId()].map((one) => orderBetween(orders[at - 1], orders[at], one));
          expect(order).not.toBe(theirs);
          orders.splice(at, 0, order ?? '');
        }
        expect(orders).toEqual([...orders].sort());
        expect(new Set(orders).size).toBe(orders.length);
      }),
      { numRuns: 60 },
    );
  });
});

describe('a patch', () => {
  const LONG = 20_000;
  const long = () => {
    const { project, cameraId } = projectWithCamera();
    const pan = Array.from({ length: LONG }, (_, i) => {
      return { atFlicks: flicksAtFrame(i, RATE), value: Math.sin(i / 50) * 40, shape: 'smooth' as const };
    });
    const moved = { name: 'Keys', operations: moveOperations(project, cameraId, { curves: { pan, tilt: pan } }) };
    return { project: previewed(project, moved), cameraId, pan };
  };

  it('of one key in a curve of 20 000 holds that key, whatever else the move has', () => {
    const { project, cameraId } = long();
    const edit = keyChannels(project, cameraId, { pan: 12.5 }, flicksAtFrame(777, RATE));
    const sent = JSON.stringify(changeOf(edit, nextId()));
    expect(sent.length).toBeLessThan(1000);
    const { project: next, inverse } = applied(project, changeOf(edit, nextId()));
    expect(moveOf(next, cameraId)?.curves['pan']?.[777]?.value).toBe(12.5);
    expect(moveOf(next, cameraId)?.curves['tilt']).toBe(moveOf(project, cameraId)?.curves['tilt']);
    expect(JSON.stringify(inverse).length).toBeLessThan(1000);
    expect(content(applyChange(next, { id: nextId(), operations: inverse }))).toEqual(content(project));
  });

  it('puts keys in and takes them out at any times, and is taken back', () => {
    const { project, cameraId, pan } = long();
    const time = fc.nat(LONG * 2).map((half) => flicksAtFrame(1, RATE) * (half / 2));
    fc.assert(
      fc.property(
        fc.uniqueArray(time, { maxLength: 12 }),
        fc.uniqueArray(fc.nat(LONG - 1), { maxLength: 12 }),
        (put, taken) => {
          const gone = new Set(taken.map((i) => pan[i]!.atFlicks));
          const added = put.map((atFlicks) => ({ atFlicks, value: 1, shape: 'hold' as const }));
          const others = pan.filter((key) => !gone.has(key.atFlicks) && !put.includes(key.atFlicks));
          const curve = [...others, ...added].sort((a, b) => a.atFlicks - b.atFlicks);
          const edit = {
            name: 'Keys',
            operations: moveOperations(project, cameraId, { curves: { pan: curve, tilt: pan } }),
          };
          const { project: next, inverse } = applied(project, changeOf(edit, nextId()));
          expect(moveOf(next, cameraId)?.curves['pan']).toEqual(curve);
          const back = applyChange(next, { id: nextId(), operations: inverse });
          expect(moveOf(back, cameraId)?.curves['pan']).toEqual(pan);
        },
      ),
      { numRuns: 25 },
    );
  });

  it('of what cannot be is refused by its place', () => {
    const { project, cameraId } = begin();
    const id = moveOf(project, cameraId)!.id;
    const part = (parts: unknown): Operation => ({
      op: 'patch',
      kind: 'move',
      id,
      baseRevision: 'first',
      fields: {},
      parts: parts as never,
    });
    const refused = (parts: unknown) => () => previewed(project, { operations: [part(parts)] });
    expect(refused([{ how: 'put', at: ['curves', 'wobble'], value: [] }])).toThrow('There is no such channel.');
    expect(refused([{ how: 'put', at: ['curves', 'pan'], value: [{ atFlicks: -1 }] }])).toThrow(
      /^move\.curves\.pan\.0\./,
    );
    expect(refused([{ how: 'put', at: ['marks', 'a'], value: 1 }])).toThrow(/move\.marks has no entries/);
    expect(refused([{ how: 'gone', at: ['id', 'a'] }])).toThrow(/no field id/);
  });
});

describe('edits made of others', () => {
  it('are one act: each is made on what the one before leaves, and all are taken back at once', () => {
    const { project, cameraId } = begin();
    const pieceId = nextId();
    const setId = Object.keys(project.sets)[0]!;
    const edit = composed(project, 'Begin', [
      (now) => putPiece(now, setId, pieceId, PIECE_OFFERS[0]!, [1, 0, 0]),
      (now) => setCamera(now, cameraId, 'Name', { name: 'Gate' }),
      (now) => setCamera(now, cameraId, 'Name', { name: `${now.cameras[cameraId]!.name}, low` }),
      (now) => deletePlacements(now, [pieceId]),
    ]);
    const { project: next, inverse } = applied(project, changeOf(edit, nextId()));
    expect([next.cameras[cameraId]?.name, next.placements[pieceId]]).toEqual(['Gate, low', undefined]);
    expect(content(applyChange(next, { id: nextId(), operations: inverse }))).toEqual(content(project));
    expect(project.cameras[cameraId]?.revision).toBe(previewed(project, edit).cameras[cameraId]?.revision);
  });
});
