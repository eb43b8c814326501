import type { Type } from '@angular/core';
import { InjectionToken } from '@angular/core';
import type { FindingTopic } from '@arvex/core';
import type { StepId, ViewId } from './ids';

/** A step of the work, as the feature that it belongs to contributes it. */
export interface Step {
  readonly id: StepId;
  /** Its place in the order of the work, from 1; also its key. */
  readonly order: number;
  readonly name: string;
  /** Other words by which people look for what is done in it. */
  readonly words: string;
  readonly icon: string;
  /** What findings are mended in it. */
  readonly mends: readonly FindingTopic[];
  /** Its bench, fetched when it is first shown. */
  readonly bench: () => Promise<Type<unknown>>;
  /** What the second view shows in it until somebody chooses. */
  readonly opens?: ViewId;
  /** The card of its bench that is open until somebody opens another. */
  readonly card?: string;
  /** The picture's share of the work area's height in it, until somebody chooses. */
  readonly pictureShare?: number;
  /** What stands below the picture in it instead of a view of one's choice. */
  readonly lower?: { readonly name: string; readonly load: () => Promise<Type<unknown>> };
}

/** All steps; each feature contributes its own. */
export const STEPS = new InjectionToken<readonly Step[]>('STEPS');
