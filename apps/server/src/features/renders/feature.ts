import type { Feature } from '../../ground/feature';
import { FrameDesk } from './frame-desk';
import { FramesOfBefore } from './frames-of-before';
import type { MixFrame } from './mix-frame';
import { mixHere } from './mix-frame';
import { Mixer } from './mixer';
import { OrderStore } from './order-store';
import { RenderFinisher } from './render-finisher';
import { renderRoutes } from './routes';
import { RenderStore } from './store';

export interface RenderOptions {
  /** In this thread when left out. */
  readonly mix?: MixFrame;
}

/** Orders of output, their renders, and the two things that the server makes of them by itself: mixes and movies. */
export const renders =
  ({ mix = mixHere }: RenderOptions): Feature =>
  (ground) => {
    const stores = {
      orders: new OrderStore(ground.sequelize, ground.queue),
      renders: new RenderStore(ground.sequelize),
    };
    const desk = new FrameDesk(stores.orders, ground.queue);
    const mixer = new Mixer(ground, stores.orders, desk, mix);
    const finisher = new RenderFinisher(ground, stores.renders, stores.orders);
    const routes = renderRoutes({
      ...ground,
      ...stores,
      desk,
      mixer,
      finisher,
      kept: new FramesOfBefore(ground, desk),
    });
    return {
      routes,
      close: async () => {
        await Promise.all([mixer.close(), finisher.close()]);
      },
    };
  };
