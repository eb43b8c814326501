import { CoreError } from '../../error';
import type { Project, Sequence } from '../../model';
import { existing, SEQUENCE_DEFAULTS, sequencesInOrder, soundsInOrder } from '../../model';
import type { Edit } from '../edit';
import { creation, deletion, patching } from '../edit';
import { copiesOfOwned, deletionsOfOwned } from '../owned';

/** Makes an empty sequence. */
export function addSequence(project: Project, id: string, name: string): Edit {
  return { name: `Make sequence ${name}`, operations: [creation('sequence', { ...SEQUENCE_DEFAULTS, id, name })] };
}

/** Changes parts of a sequence, named by `what`. */
export function setSequence(
  project: Project,
  sequenceId: string,
  what: string,
  parts: Partial<Omit<Sequence, 'id' | 'revision'>>,
): Edit {
  const { name } = existing(project, 'sequence', sequenceId);
  return { name: `${what} on ${name}`, operations: [patching(project, 'sequence', sequenceId, parts)] };
}

/** Copies a sequence with all that it owns. @param ids makes an id for each copy. */
export function duplicateSequence(project: Project, sequenceId: string, newId: string, ids: () => string): Edit {
  const { revision: _revision, ...own } = existing(project, 'sequence', sequenceId);
  return {
    name: `Duplicate ${own.name}`,
    operations: [
      creation('sequence', { ...own, id: newId, name: `${own.name} copy` }),
      ...copiesOfOwned(project, 'sequence', sequenceId, newId, ids),
    ],
  };
}

/** Takes a sequence out with all that is in it. @throws CoreError `entity-in-use` for the last one, or one that another shows. */
export function deleteSequence(project: Project, sequenceId: string): Edit {
  const { name } = existing(project, 'sequence', sequenceId);
  if (sequencesInOrder(project).length < 2) {
    throw new CoreError('entity-in-use', `${name} is the only sequence. Make another one first.`);
  }
  const holder = Object.values(project.shots).find(({ insideId }) => insideId === sequenceId);
  if (holder) throw new CoreError('entity-in-use', `${holder.name} shows ${name}. Delete that shot first.`);
  const sounds = soundsInOrder(project, sequenceId);
  const elsewhere = new Set(
    Object.values(project.sounds).flatMap((sound) => (sound.sequenceId === sequenceId ? [] : [sound.assetId])),
  );
  const files = new Set(sounds.map(({ assetId }) => assetId).filter((id) => !elsewhere.has(id)));
  return {
    name: `Delete sequence ${name}`,
    operations: [
      ...deletionsOfOwned(project, 'sequence', sequenceId),
      ...[...files].map((id) => deletion(project, 'asset', id)),
      deletion(project, 'sequence', sequenceId),
    ],
  };
}
