import type { StageView } from '@arvex/stage';
import type { FrameName } from './played-frames';

/** What a canvas in the page is to show. */
interface AskedView {
  readonly view: StageView;
  /** Anything that should be known again when it is drawn. */
  readonly label?: unknown;
  /** A frame that is played: kept, and shown again without drawing it. */
  readonly frame?: FrameName | undefined;
}

/** A canvas in the page that shows a view of the set. */
export interface ShownView {
  readonly canvas: HTMLCanvasElement;
  /** The view as it is now. */
  readonly view: () => AskedView | undefined;
  /** Called when a picture is on the canvas, with the label it was asked with. */
  readonly drawn?: (label: unknown) => void;
  /** Samples after which the resting picture is shown, rising; the last ends it. */
  readonly samples: () => readonly number[];
  /** Whether light groups that somebody is about to change are added up for it. */
  readonly groupsApart?: boolean;
}
