import * as z from 'zod';

/** Where files of each kind are kept. */
const PLACES = { geometry: 'geometry', picture: 'pictures', sound: 'sounds', lut: 'luts' } as const;

const missingSchema = z.object({
  type: z.literal('/problems/file-missing'),
  file: z.object({ kind: z.enum(['geometry', 'picture', 'sound', 'lut']), hash: z.string() }),
});

/**
 * Sends a file again that a change names and the server has not got any more, where this browser still has it: it keeps for a year what is
 * named by its content. @returns whether the change can be sent again.
 */
export async function sentAgain(problem: object): Promise<boolean> {
  const missing = missingSchema.safeParse(problem);
  if (!missing.success) return false;
  const { kind, hash } = missing.data.file;
  const place = `/api/${PLACES[kind]}`;
  try {
    const kept = await fetch(`${place}/${hash}`, { cache: 'only-if-cached', mode: 'same-origin' });
    if (!kept.ok) return false;
    const form = new FormData();
    form.append('file', await kept.blob(), hash);
    return (await fetch(place, { method: 'POST', body: form })).ok;
  } catch {
    return false; // it is not in the cache: the refusal is told
  }
}
