import type { Ground } from '../../ground/ground';
import type { FrameDesk } from './frame-desk';
import type { FramesOfBefore } from './frames-of-before';
import type { Mixer } from './mixer';
import type { OrderStore } from './order-store';
import type { RenderFinisher } from './render-finisher';
import type { RenderStore } from './store';

/** What the routes of renders work with. */
export interface RenderHouse extends Pick<Ground, 'projects' | 'events' | 'room' | 'files' | 'queue'> {
  readonly orders: OrderStore;
  readonly renders: RenderStore;
  readonly desk: FrameDesk;
  readonly kept: FramesOfBefore;
  readonly finisher: RenderFinisher;
  readonly mixer: Mixer;
}
