import type { Report } from 'gltf-validator';
import { validateBytes, validateString } from 'gltf-validator';
import { InterchangeError } from '../error';

/** No limit: errors must not hide behind what is harmless and comes first. */
const ALL_ISSUES = 0;
/** Severity of an error; the others are warnings, information and hints. */
const ERROR = 0;

/** @throws InterchangeError naming the first place of a GLB that is wrong by the standard. */
export async function mustBeValidGlb(bytes: Uint8Array): Promise<void> {
  mustHaveNoErrors(await validateBytes(bytes, { maxIssues: ALL_ISSUES }));
}

/** @throws InterchangeError naming the first place of a glTF that is wrong by the standard. */
export async function mustBeValidGltf(text: string, read: (uri: string) => Promise<Uint8Array>): Promise<void> {
  mustHaveNoErrors(await validateString(text, { maxIssues: ALL_ISSUES, externalResourceFunction: read }));
}

function mustHaveNoErrors({ issues }: Report): void {
  const first = issues.messages.find(({ severity }) => severity === ERROR);
  if (first) {
    const where = first.pointer ?? `byte ${first.offset ?? 0}`;
    throw new InterchangeError(`${first.message} (at ${where}). Export the file again.`, where);
  }
  if (issues.truncated) throw new InterchangeError('The file has more faults than can be listed. Export it again.');
}
