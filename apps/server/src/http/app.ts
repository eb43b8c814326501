import multipart from '@fastify/multipart';
import { CoreError } from '@arvex/core';
import { fastifySSE } from '@fastify/sse';
import type { FastifyError, FastifyInstance } from 'fastify';
import {
  hasZodFastifySchemaValidationErrors,
  jsonSchemaTransform,
  serializerCompiler,
  validatorCompiler,
} from 'fastify-type-provider-zod';
import { existsSync } from 'node:fs';
import { join } from 'node:path';
import { QueryTypes } from 'sequelize';
import { databaseProblem } from '../database/connection';
import { eventRoutes } from '../features/events/routes';
import { framesTableRoutes } from '../features/frames-tables/routes';
import { geometryRoutes } from '../features/geometry/routes';
import { packageRoutes } from '../features/packages/routes';
import { pictureRoutes } from '../features/pictures/routes';
import { projectRoutes } from '../features/projects/routes';
import { renderRoutes } from '../features/renders/routes';
import type { Services } from '../services';
import { Problem, problemOf } from './problem';
import fastifyStatic from '@fastify/static';
import swagger from '@fastify/swagger';
import swaggerUi from '@fastify/swagger-ui';
import fastify from 'fastify';

const BODY_LIMIT = 8 * 1024 * 1024;
const HEARTBEAT_MS = 15_000;

/** Only what this application itself serves; styles may be inline, as Angular and the API's docs set them. */
const CONTENT_SECURITY_POLICY = [
  "default-src 'self'",
  "script-src 'self'",
  "worker-src 'self' blob:",
  "style-src 'self' 'unsafe-inline'",
  "img-src 'self' blob: data:",
  "media-src 'self' blob:",
  "connect-src 'self' blob:",
  "object-src 'none'",
  "base-uri 'self'",
  "frame-ancestors 'none'",
].join('; ');

/**
 * The whole HTTP side: the API under `/api`, its docs, and the web application when `webDirectory` has one.
 * Everything that goes wrong leaves as a problem document.
 */
export async function buildApp(services: Services, webDirectory?: string): Promise<FastifyInstance> {
  const app = fastify({
    logger: { level: 'warn' },
    bodyLimit: BODY_LIMIT,
    forceCloseConnections: true,
    routerOptions: { maxParamLength: 200 },
  });
  app.setValidatorCompiler(validatorCompiler);
  app.setSerializerCompiler(serializerCompiler);
  app.addHook('onSend', async (_request, reply) => {
    reply.header('content-security-policy', CONTENT_SECURITY_POLICY);
    reply.header('x-content-type-options', 'nosniff');
    reply.header('referrer-policy', 'no-referrer');
  });
  app.setErrorHandler((error: FastifyError, request, reply) => {
    const problem = asProblem(error);
    if (problem.status >= 500) request.log.error(error);
    return reply.code(problem.status).type('application/problem+json').send(JSON.stringify(problem.document()));
  });
  await app.register(swagger, {
    openapi: {
      info: { title: 'Arvex', version: '1', description: 'Lengths in metres, film in millimetres, times in flicks.' },
    },
    transform: jsonSchemaTransform,
  });
  await app.register(swaggerUi, { routePrefix: '/api/docs' });
  await app.register(multipart);
  await app.register(fastifySSE, { heartbeatInterval: HEARTBEAT_MS });
  const web = webDirectory !== undefined && existsSync(webDirectory) ? webDirectory : undefined;
  await app.register(fastifyStatic, web ? { root: web, preCompressed: true } : { serve: false, root: '/' });
  await app.register(
    async (api) => {
      api.get('/health', { schema: { tags: ['health'], summary: 'Whether server and database answer' } }, async () => {
        await services.sequelize.query('SELECT 1', { type: QueryTypes.SELECT });
        return { status: 'ok' };
      });
      await api.register(projectRoutes(services));
      await api.register(eventRoutes(services));
      await api.register(geometryRoutes(services));
      await api.register(packageRoutes(services));
      await api.register(pictureRoutes(services));
      await api.register(framesTableRoutes(services));
      await api.register(renderRoutes(services));
    },
    { prefix: '/api' },
  );
  app.setNotFoundHandler((request, reply) => {
    const path = request.url.split('?')[0] ?? '/';
    // Addresses inside the application are its own to understand; a file that is missing is missing.
    const inApplication = request.method === 'GET' && !path.startsWith('/api') && !/\.[a-z0-9]+$/i.test(path);
    if (web && inApplication && existsSync(join(web, 'index.html'))) return reply.sendFile('index.html', web);
    throw new Problem('not-found', `There is nothing at ${path}.`);
  });
  return app;
}

function asProblem(error: FastifyError): Problem {
  if (error instanceof Problem) return error;
  if (error instanceof CoreError) return problemOf(error);
  if (hasZodFastifySchemaValidationErrors(error)) {
    const [first] = error.validation;
    const place = first?.instancePath.replace(/^\//, '').replaceAll('/', '.') ?? '';
    const field = [error.validationContext, place].filter(Boolean).join('.');
    return new Problem('invalid-request', `${field}: ${first?.message ?? 'invalid'}`, { field });
  }
  const away = databaseProblem(error);
  if (away) return away;
  if (error.statusCode === 413) return new Problem('too-large', 'The request is larger than this place takes.');
  if (error.statusCode === 415) return new Problem('wrong-type', error.message);
  if (error.statusCode === 404) return new Problem('not-found', error.message);
  if (error.statusCode !== undefined && error.statusCode < 500) return new Problem('invalid-request', error.message);
  return new Problem('internal', 'Nothing was changed. The server log says more.');
}
