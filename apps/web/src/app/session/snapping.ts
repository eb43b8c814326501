import { Injectable } from '@angular/core';
import { snapped } from '@arvex/core';
import { remembered } from '../data';
import * as z from 'zod';

/** Steps of the grid that things snap to, metres; 0 is free. */
export const GRID_STEPS_M = [0, 0.05, 0.1, 0.25, 0.5, 1] as const;
/** Steps of turning, degrees; 0 is free. */
export const ANGLE_STEPS_DEG = [0, 15, 45, 90] as const;

/** What things snap to when they are moved, turned and sized. */
@Injectable({ providedIn: 'root' })
export class SnapGrid {
  readonly gridM = remembered('snap-grid', z.number().min(0).max(10), 0.1);
  readonly angleDeg = remembered('snap-angle', z.number().min(0).max(90), 15);
  /** Whether a thing that is moved by its middle stays on the surface under the pointer. */
  readonly surface = remembered('snap-surface', z.boolean(), true);

  length(metres: number): number {
    return snapped(metres, this.gridM());
  }

  angle(degrees: number): number {
    return snapped(degrees, this.angleDeg());
  }
}
