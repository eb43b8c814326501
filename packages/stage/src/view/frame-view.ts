import type { Project } from '@arvex/core';
import { framesOfPart, ORDER_DEFAULTS, partsOf } from '@arvex/core';
import { partView } from './part-view';
import type { StageView } from './view';

/**
 * What a frame of a cut (from 0) shows as output makes it unless an order says otherwise. @throws Error where there is no such frame, or
 * its shot has no camera.
 */
export function frameView(project: Project, sequenceId: string, index: number): StageView {
  const order = { ...ORDER_DEFAULTS, what: { kind: 'cut', sequenceId } as const };
  const [part] = partsOf(project, order);
  if (!part || index >= framesOfPart(part)) throw new Error(`There is no frame ${index + 1} in this cut.`);
  return partView(project, order, part, index);
}
