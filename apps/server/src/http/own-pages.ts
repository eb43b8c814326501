import type { FastifyRequest } from 'fastify';
import { Problem } from '../problem/problem';

/** Names by which this machine calls itself: a page elsewhere that has its own name lead here is not ours. */
const OWN_NAMES: ReadonlySet<string> = new Set(['127.0.0.1', 'localhost', '[::1]']);

/** Methods that only read: a browser gives what they answer to nobody of another origin. */
const READING: ReadonlySet<string> = new Set(['GET', 'HEAD', 'OPTIONS']);

/**
 * Lets in who asks this application by its own name and, where something is written, from its own pages or from no page at all.
 * @throws Problem `wrong-host` or `foreign-page`.
 */
export function mustBeOwn({ method, headers, raw }: Pick<FastifyRequest, 'method' | 'headers' | 'raw'>): void {
  const host = headers.host ?? '';
  // Two names, or another one in the address itself, are no name (RFC 9112, 3.2).
  const hosts = raw.rawHeaders.filter((name, i) => i % 2 === 0 && name.toLowerCase() === 'host').length;
  if (hosts > 1 || !(raw.url ?? '/').startsWith('/'))
    throw new Problem('wrong-host', 'A request has one Host, and an address that begins with "/".');
  if (!isOwn(host))
    throw new Problem('wrong-host', `"${host}" is not this application. Open http://127.0.0.1 with its port.`);
  if (READING.has(method)) return;
  const { origin } = headers;
  const site = headers['sec-fetch-site'];
  const foreign = origin !== undefined ? origin !== `http://${host}` : site === 'cross-site' || site === 'same-site';
  if (foreign) throw new Problem('foreign-page', 'Only pages of this application may change something here.');
}

/** Whether a Host header names this machine, with or without a port. */
function isOwn(host: string): boolean {
  const name = /^(\[[0-9a-f:]+\]|[^:]+)(?::\d{1,5})?$/i.exec(host)?.[1];
  return name !== undefined && OWN_NAMES.has(name.toLowerCase());
}
