import { CoreError } from '../error';
import { possibleTime } from '../light';
import { STRONGEST_BARREL_PERCENT } from '../optics';
import type { Channel } from './channel';
import { boundsOf, channelFace } from './channel';
import type { Operation } from './change';
import type { Entity } from './kinds';
import type { Project } from './project';
import { entityIn } from './project';

/**
 * What mathematics cannot take, looked at where a change writes it: it is refused there, while what is kept already is read at its
 * nearest possible value.
 * @throws CoreError `invalid-entity` that names the field and what it can be.
 */
export function mustBePossible(project: Project, operations: readonly Operation[]): void {
  for (const operation of operations) {
    if (operation.op === 'delete') continue;
    const entity = entityIn(project, operation.kind, operation.id);
    if (!entity) continue;
    const fields = new Set(Object.keys(operation.fields));
    if (operation.op === 'patch') for (const { at } of operation.parts ?? []) fields.add(at[0]);
    for (const [kind, field, impossible] of IMPOSSIBLE) {
      if (kind !== operation.kind || !fields.has(field)) continue;
      const why = impossible(entity, project);
      if (why) throw new CoreError('invalid-entity', `${kind}.${field}: ${why}`, `${kind}.${field}`);
    }
  }
}

type Rule = readonly [
  kind: Operation['kind'],
  field: string,
  impossible: (entity: never, project: Project) => string | undefined,
];

const IMPOSSIBLE = [
  ['camera', 'lens', impossibleLens],
  ['set', 'sunPlace', impossibleTime],
  ['move', 'curves', impossibleKey],
] satisfies readonly Rule[] as readonly (readonly [
  Operation['kind'],
  string,
  (entity: Entity, project: Project) => string | undefined,
])[];

function impossibleLens({ lens }: Project['cameras'][string]): string | undefined {
  if (lens.distortionPercent >= STRONGEST_BARREL_PERCENT) return undefined;
  return `a barrel goes to ${STRONGEST_BARREL_PERCENT} % at most; beyond it the picture folds back.`;
}

function impossibleTime({ sunPlace: { localTime } }: Project['sets'][string]): string | undefined {
  const nearest = possibleTime(localTime);
  return nearest === localTime
    ? undefined
    : `there is no ${localTime.replace('T', ' ')}; the nearest is ${nearest.replace('T', ' ')}.`;
}

function impossibleKey({ curves }: Project['moves'][string], { lightGroups }: Project): string | undefined {
  for (const [channel, curve] of Object.entries(curves)) {
    const { min, max } = boundsOf(channel as Channel);
    const beyond = curve.find(({ value }) => value < min || value > max);
    if (!beyond) continue;
    const { name } = channelFace(channel as Channel, lightGroups);
    return `a key of ${name} lies between ${min} and ${max}; this one is ${beyond.value}.`;
  }
  return undefined;
}
