import type { Type } from '@angular/core';
import { InjectionToken } from '@angular/core';
import type { StepId, ViewId } from './ids';

/** Something that one of the two views can show, as it is contributed. */
export interface View {
  readonly id: ViewId;
  readonly order: number;
  /** As its tab says. */
  readonly name: string;
  /** The name of the action that shows it, and its key. */
  readonly action: string;
  readonly keys?: string;
  /** The step that it belongs to, and in which its tab is offered; all when not given. Where it is shown it stays. */
  readonly step?: StepId;
  /** The component, at once or fetched when it is first shown. */
  readonly load: () => Type<unknown> | Promise<Type<unknown>>;
  readonly inputs?: Readonly<Record<string, unknown>>;
}

/** Everything that views can show. */
export const VIEWS = new InjectionToken<readonly View[]>('VIEWS');
