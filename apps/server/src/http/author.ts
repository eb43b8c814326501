import { YOU } from '@arvex/core';
import type { FastifyInstance } from 'fastify';

declare module 'fastify' {
  interface FastifyRequest {
    /** Who asks, as people read it: what is changed and ordered is kept under this name. */
    author: string;
  }
}

/** Says of each request who asks. On one machine there is nobody but the person who works at it. */
export function knowAuthors(app: FastifyInstance): void {
  app.decorateRequest('author', YOU);
}
