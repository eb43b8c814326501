import { CoreError } from '../../error';
import type { Project, Shot, Showing, Take } from '../../model';
import { existing } from '../../model';
import type { Edit } from '../edit';
import { indexOf, laidOut, relaid } from './layout';
import { nameAfter } from './names';

/** What happens to the cut when a take of another length comes into it: it gets the take's length, or the take gets the shot's. */
export type TakeLength = 'its own' | 'the shot’s';

/** Adds an alternate to a shot, out of the cut. Without a name it gets the next letter. @throws CoreError `broken-rule` inside another sequence. */
export function addTake(project: Project, shotId: string, id: string, showing: Showing, name?: string): Edit {
  const shot = existing(project, 'shot', shotId);
  if (shot.insideId !== null)
    throw new CoreError('broken-rule', `${shot.name} shows a sequence: that has its takes inside.`);
  const take: Take = { id, name: name ?? nextTakeName(shot), ...showing };
  return changed(project, shot, `Add take ${take.name} to ${shot.name}`, { takes: [...shot.takes, take] });
}

/** Puts an alternate into the cut; what was there is an alternate now. @throws CoreError `unknown-entity`. */
export function pickTake(project: Project, shotId: string, takeId: string, length: TakeLength, ownId: string): Edit {
  const shot = existing(project, 'shot', shotId);
  const laid = laidOut(project, shot.sequenceId);
  const index = indexOf(project, laid, shotId);
  const take = takeOf(shot, takeId);
  const { id: _id, name, ...showing } = take;
  const now = laid[index]?.sceneStartFlicks ?? shot.sceneStartFlicks;
  const before: Take = { id: ownId, name: shot.takeName, ...showingOf(shot), sceneStartFlicks: now };
  const durationFlicks = length === 'its own' ? take.durationFlicks : shot.durationFlicks;
  const takes = shot.takes.map((one) => (one.id === takeId ? before : one));
  const picked = laid.with(index, {
    shot: { ...shot, ...showing, durationFlicks, takeName: name, takes },
    sceneStartFlicks: take.continues ? undefined : take.sceneStartFlicks,
  });
  return relaid(project, shot.sequenceId, `Take ${name} of ${shot.name}`, picked);
}

/** Takes an alternate out. */
export function deleteTake(project: Project, shotId: string, takeId: string): Edit {
  const shot = existing(project, 'shot', shotId);
  const { name } = takeOf(shot, takeId);
  const takes = shot.takes.filter(({ id }) => id !== takeId);
  return changed(project, shot, `Delete take ${name} of ${shot.name}`, { takes });
}

/** Names a take; the one in the cut where `takeId` is null. */
export function nameTake(project: Project, shotId: string, takeId: string | null, name: string): Edit {
  const shot = existing(project, 'shot', shotId);
  if (takeId === null) return changed(project, shot, `Name take ${name}`, { takeName: name });
  const takes = shot.takes.map((take) => (take.id === takeId ? { ...take, name } : take));
  return changed(project, shot, `Name take ${name}`, { takes });
}

/** Makes a shot of an alternate, right after the one that had it. */
export function promoteTake(project: Project, shotId: string, takeId: string, newId: string): Edit {
  const shot = existing(project, 'shot', shotId);
  const laid = laidOut(project, shot.sequenceId);
  const index = indexOf(project, laid, shotId);
  const { id: _id, name: takeName, ...showing } = takeOf(shot, takeId);
  const taken = new Set(Object.values(project.shots).map(({ name }) => name));
  const name = nameAfter(shot.name, taken);
  const own = { id: newId, name, takeName: 'a', takes: [], gapFlicks: 0, fadeOut: null, order: '' };
  const rest = { ...shot, takes: shot.takes.filter(({ id }) => id !== takeId) };
  const made: Shot = { ...shot, ...showing, ...own, entry: { kind: 'cut' }, continues: false };
  const row = laid
    .with(index, { shot: rest, sceneStartFlicks: laid[index]?.sceneStartFlicks })
    .toSpliced(index + 1, 0, { shot: made, sceneStartFlicks: showing.sceneStartFlicks });
  return relaid(project, shot.sequenceId, `Make a shot of take ${takeName}`, row);
}

/** What a shot, or a take, shows. */
export function showingOf(one: Showing): Showing {
  const { cameraId, variationId, lostCamera, sceneStartFlicks, continues, durationFlicks, retime } = one;
  return { cameraId, variationId, lostCamera, sceneStartFlicks, continues, durationFlicks, retime };
}

function takeOf(shot: Shot, takeId: string): Take {
  const take = shot.takes.find(({ id }) => id === takeId);
  if (!take) throw new CoreError('unknown-entity', `${shot.name} has no such take any more.`);
  return take;
}

/** The first letter that no take of a shot is called by; after z, numbers. */
function nextTakeName({ takeName, takes }: Shot): string {
  const taken = new Set([takeName, ...takes.map(({ name }) => name)]);
  for (let n = 0; ; n++) {
    const name = n < 26 ? String.fromCharCode(97 + n) : String(n + 1);
    if (!taken.has(name)) return name;
  }
}

function changed(project: Project, shot: Shot, name: string, parts: Partial<Shot>): Edit {
  const laid = laidOut(project, shot.sequenceId);
  const index = indexOf(project, laid, shot.id);
  const row = laid.with(index, { shot: { ...shot, ...parts }, sceneStartFlicks: laid[index]?.sceneStartFlicks });
  return relaid(project, shot.sequenceId, name, row);
}
