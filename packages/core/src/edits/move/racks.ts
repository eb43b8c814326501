import { CoreError } from '../../error';
import type { Camera, Project, Rack } from '../../model';
import { existing } from '../../model';
import type { Edit } from '../edit';
import { patching } from '../edit';

/** Lets the focus go over to a subject; a camera focused by hand follows `fromId` first. Racks never overlap: an earlier one ends. */
export function addRack(project: Project, cameraId: string, rack: Rack, fromId?: string): Edit {
  const camera = existing(project, 'camera', cameraId);
  const to = existing(project, 'placement', rack.subjectId);
  const { focus } = camera;
  const begun: Camera['focus'] =
    focus.mode === 'follow' && focus.subjectId !== null && fromId === undefined
      ? focus
      : { ...focus, mode: 'follow', subjectId: fromId ?? focus.subjectId };
  if (begun.subjectId === null) {
    throw new CoreError('out-of-range', 'Say from whom the focus goes: follow a subject first.', 'subjectId');
  }
  const racks = inOrder([...begun.racks.filter(({ id }) => id !== rack.id), rack]);
  return {
    name: `Rack focus to ${to.name} on ${camera.name}`,
    operations: [patching(project, 'camera', cameraId, { focus: { ...begun, racks } })],
  };
}

/** Takes a rack out; the focus stays with the subject before it. */
export function removeRack(project: Project, cameraId: string, rackId: string): Edit {
  const camera = existing(project, 'camera', cameraId);
  const racks = camera.focus.racks.filter(({ id }) => id !== rackId);
  return {
    name: `Take out a rack focus on ${camera.name}`,
    operations: [patching(project, 'camera', cameraId, { focus: { ...camera.focus, racks } })],
  };
}

function inOrder(racks: readonly Rack[]): Rack[] {
  const sorted = [...racks].sort((a, b) => a.startFlicks - b.startFlicks);
  return sorted.map((rack, i) => {
    const next = sorted[i + 1];
    const room = next ? next.startFlicks - rack.startFlicks : Infinity;
    return rack.durationFlicks > room ? { ...rack, durationFlicks: Math.max(0, room) } : rack;
  });
}
