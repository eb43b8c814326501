import { CoreError } from '../error';

interface Outcome {
  readonly success: boolean;
  readonly data?: unknown;
  readonly error?: { readonly issues: readonly { readonly path: readonly PropertyKey[]; readonly message: string }[] };
}

/** What a schema made of a value. @throws CoreError `invalid-entity` with the place and what is wrong there. */
export function checked(outcome: Outcome, where: readonly string[]): unknown {
  if (outcome.success) return outcome.data;
  const issue = outcome.error?.issues[0];
  const path = [...where, ...(issue?.path ?? []).map(String)].join('.');
  throw new CoreError('invalid-entity', `${path}: ${issue?.message ?? 'invalid'}`, path);
}
