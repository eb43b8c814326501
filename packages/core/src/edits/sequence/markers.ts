import type { Project } from '../../model';
import { existing, markersInOrder } from '../../model';
import { cutOf } from '../../sequence';
import { framesInFlicks } from '../../time';
import type { Edit } from '../edit';
import { composed, creation, deletion, patching } from '../edit';
import { rollJoint, signed } from './trim';

/** Sets markers in a sequence: as many as were tapped. Each gets the next number where it has no name. */
export function addMarkers(
  project: Project,
  sequenceId: string,
  markers: readonly { readonly id: string; readonly atFlicks: number; readonly name?: string }[],
): Edit {
  const count = markersInOrder(project, sequenceId).length;
  const operations = markers.map(({ id, atFlicks, name }, i) =>
    creation('marker', { id, sequenceId, atFlicks, name: name ?? `${count + i + 1}` }),
  );
  return { name: markers.length === 1 ? 'Set a marker' : `Set ${markers.length} markers`, operations };
}

/** Changes a marker's name or place. */
export function setMarker(project: Project, id: string, parts: { name?: string; atFlicks?: number }): Edit {
  return {
    name: `Marker ${existing(project, 'marker', id).name}`,
    operations: [patching(project, 'marker', id, parts)],
  };
}

export function deleteMarkers(project: Project, ids: readonly string[]): Edit {
  const name = ids.length === 1 ? `Delete marker ${existing(project, 'marker', ids[0] ?? '').name}` : 'Delete markers';
  return { name, operations: ids.map((id) => deletion(project, 'marker', id)) };
}

/** Rolls each joint to the marker nearest to it, no farther than so many frames and only where both shots have the room. */
export function joinToMarkers(project: Project, sequenceId: string, withinFrames: number): Edit {
  const { rate } = project.head;
  const frames = markersInOrder(project, sequenceId).map(({ atFlicks }) => framesInFlicks(atFlicks, rate));
  const rolls = cutOf(project, sequenceId)
    .shots.slice(1)
    .flatMap(({ shot, startFrame }) => {
      const nearest = frames.reduce(
        (best, at) => (Math.abs(at - startFrame) < Math.abs(best - startFrame) ? at : best),
        Infinity,
      );
      const by = nearest - startFrame;
      return by !== 0 && Math.abs(by) <= withinFrames ? [{ id: shot.id, by }] : [];
    });
  const edits = rolls.map(
    ({ id, by }) =>
      (current: Project) =>
        rollJoint(current, id, roomFor(current, id, by)),
  );
  const only = rolls.length === 1 ? ` by ${signed(rolls[0]?.by ?? 0)}` : '';
  return composed(project, `Roll ${rolls.length} joints to markers${only}`, edits);
}

/** As much of a roll as leaves both shots a frame. */
function roomFor(project: Project, shotId: string, by: number): number {
  const { shots } = cutOf(project, existing(project, 'shot', shotId).sequenceId);
  const index = shots.findIndex(({ shot }) => shot.id === shotId);
  const [before, after] = [shots[index - 1]?.frameCount ?? 1, shots[index]?.frameCount ?? 1];
  return Math.max(1 - before, Math.min(after - 1, by));
}
