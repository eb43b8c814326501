import type { FastifyPluginAsyncZod } from 'fastify-type-provider-zod';
import type { Ground } from './ground';

/** Something that the server does: its routes under `/api`, and what it works on beside them. */
export interface OpenFeature {
  readonly routes: FastifyPluginAsyncZod;
  /** Ends what it works on. */
  close?(): Promise<void>;
}

/** Opens a feature on the ground that all share. */
export type Feature = (ground: Ground) => OpenFeature;

/** A feature that does nothing between requests. */
export const answering =
  (routes: (ground: Ground) => FastifyPluginAsyncZod): Feature =>
  (ground) => ({ routes: routes(ground) });
