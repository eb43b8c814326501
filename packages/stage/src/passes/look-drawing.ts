import type { WebGLRenderer, WebGLRenderTarget } from 'three';
import type { StageView } from '../view';
import { Glow } from './glow';
import { LookTables } from './look-steps';

/** What a stage's pictures share to show their looks. */
export class LookDrawing {
  readonly tables = new LookTables();
  readonly glow = new Glow();
  /** Draws in white what of a view may glow, where its look says that not everything does. */
  drawMask: ((renderer: WebGLRenderer, view: StageView, into: WebGLRenderTarget) => void) | undefined;

  dispose(): void {
    this.tables.dispose();
    this.glow.dispose();
  }
}
