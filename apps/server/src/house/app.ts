import multipart from '@fastify/multipart';
import { CoreError } from '@arvex/core';
import { fastifySSE } from '@fastify/sse';
import type { FastifyError, FastifyInstance, FastifyReply, FastifyRequest } from 'fastify';
import {
  hasZodFastifySchemaValidationErrors,
  jsonSchemaTransform,
  serializerCompiler,
  validatorCompiler,
} from 'fastify-type-provider-zod';
import { existsSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';
import { QueryTypes } from 'sequelize';
import { ZodError } from 'zod';
import { databaseProblem, withoutWork } from '../database/connection';
import type { House } from './open-house';
import { knowAuthors } from '../http/author';
import { readJson } from '../http/json-body';
import { mustBeOwn } from '../http/own-pages';
import { Problem, problemOf } from '../problem/problem';
import fastifyStatic from '@fastify/static';
import swagger from '@fastify/swagger';
import swaggerUi from '@fastify/swagger-ui';
import fastify from 'fastify';

const BODY_LIMIT = 1024 * 1024;
const HEARTBEAT_MS = 15_000;
const HASHED = /-[A-Z0-9]{8}\.\w+(\.br|\.gz)?$/;
/** A request that has not arrived whole within this is given up: 200 MB at 3 MB/s. */
const ARRIVES_WITHIN_MS = 70_000;
/** The database says within this whether it is there. */
const HEALTH_MS = 2500;

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
  "form-action 'self'",
].join('; ');

/**
 * The whole HTTP side: the API under `/api`, its docs, and the web application when `webDirectory` has one.
 * Everything that goes wrong leaves as a problem document.
 */
export async function buildApp({ ground, features }: House, webDirectory?: string): Promise<FastifyInstance> {
  const app = fastify({
    logger: { level: 'warn', serializers: { err: withoutWork as never, req: ({ method }) => ({ method }) } },
    bodyLimit: BODY_LIMIT,
    requestTimeout: ARRIVES_WITHIN_MS,
    forceCloseConnections: true,
    routerOptions: { maxParamLength: 200 },
    frameworkErrors: (error, _request, reply) => void sendProblem(reply, asProblem(error)),
  });
  app.setValidatorCompiler(validatorCompiler);
  app.setSerializerCompiler(serializerCompiler);
  knowAuthors(app);
  app.addHook('onRequest', async (request) => mustBeOwn(request));
  app.removeContentTypeParser('application/json');
  app.addContentTypeParser('application/json', { parseAs: 'buffer' }, async (_request: FastifyRequest, body: Buffer) =>
    body.length === 0 ? undefined : readJson(body),
  );
  app.addHook('onSend', async (_request, reply) => {
    reply.header('content-security-policy', CONTENT_SECURITY_POLICY);
    reply.header('x-content-type-options', 'nosniff');
    reply.header('referrer-policy', 'no-referrer');
    reply.header('cross-origin-resource-policy', 'same-origin');
    reply.header('cross-origin-opener-policy', 'same-origin');
  });
  app.setErrorHandler((error: FastifyError, request, reply) => {
    const problem = asProblem(error);
    // Not the error itself: its message would be logged, which of a database's ends with the statement and its values.
    if (problem.status >= 500) request.log.error({ err: error }, 'A request failed');
    return sendProblem(reply, problem);
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
  // Built files have their content's hash in their name: a browser keeps them, also for when the server is away.
  const kept = (reply: FastifyReply, path: string) => {
    if (web !== undefined && dirname(path).startsWith(web) && HASHED.test(path)) {
      reply.header('cache-control', 'public, max-age=31536000, immutable');
    }
  };
  await app.register(
    fastifyStatic,
    web ? { root: web, preCompressed: true, setHeaders: kept } : { serve: false, root: '/' },
  );
  await app.register(
    async (api) => {
      api.get('/health', { schema: { tags: ['health'], summary: 'Whether server and database answer' } }, async () => {
        // By a connection of its own, so that it answers while all others are busy.
        const answer = ground.pulse.query('SELECT 1', { type: QueryTypes.SELECT });
        const late = sleep(HEALTH_MS, undefined, { ref: false }).then(() => {
          throw new Problem('database-away', 'The database does not answer just now.');
        });
        await Promise.race([answer, late]);
        return { status: 'ok' };
      });
      for (const { routes } of features) await api.register(routes);
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

function sendProblem(reply: FastifyReply, problem: Problem): FastifyReply {
  return reply.code(problem.status).type('application/problem+json').send(JSON.stringify(problem.document()));
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
  if (error instanceof ZodError) {
    const [issue] = error.issues;
    const field = issue?.path.map(String).join('.') ?? '';
    return new Problem('invalid-request', `${field}: ${issue?.message ?? 'invalid'}`, { field });
  }
  const away = databaseProblem(error);
  if (away) return away;
  if (error.statusCode === 413) return new Problem('too-large', 'The request is larger than this place takes.');
  if (error.statusCode === 415) return new Problem('wrong-type', error.message);
  if (error.statusCode === 416) return new Problem('no-such-range', error.message);
  if (error.statusCode === 408) return new Problem('too-slow', 'The request did not arrive in time. Send it again.');
  // The parser of uploads says of nothing that it is wrong with the request.
  if (/unexpected end of (?:form|multipart)|malformed part|boundary/i.test(error.message)) {
    return new Problem('invalid-request', 'The upload is not whole. Send it again.');
  }
  if (error.statusCode === 404) return new Problem('not-found', error.message);
  if (error.statusCode !== undefined && error.statusCode < 500) return new Problem('invalid-request', error.message);
  return new Problem('internal', 'Nothing was changed. The server log says more.');
}
