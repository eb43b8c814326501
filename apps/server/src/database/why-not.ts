import { open } from 'node:fs/promises';

/** As much of the end of the log is looked through for a reason, bytes. */
const LOG_END_BYTES = 16_384;

/** What the log of a database that did not come up says, as a sentence with the way out. */
const REASONS: readonly (readonly [RegExp, string])[] = [
  [
    /No space left on device|Errcode: 28|error: 28\b|Disk is full/i,
    'the disk is full. Make room on it and start again',
  ],
  [/Unable to lock|Can't lock|error: 11\b|another mariadbd process/i, 'another process has its files. Stop that one'],
  [/Permission denied|Errcode: 13/i, 'its files cannot be read or written by this user. Give them to this user'],
  [
    /Table 'mysql\.|mysql\.(?:user|db|plugin).*(?:doesn't exist|not found)|Fatal error: Can't open and lock privilege/i,
    'its own tables are missing. Restore the data directory from a copy',
  ],
  [
    /redo log|ib_logfile|Missing FILE_CHECKPOINT|checkpoint/i,
    'a log file of it is missing or damaged. Restore the data directory from a copy',
  ],
  [
    /corrupt|Checksum mismatch|Cannot open.*ibdata|ibdata1.*(?:size|missing)/i,
    'its files are damaged. Restore the data directory from a copy',
  ],
  [/Address already in use|Bind on TCP/i, 'its port was taken meanwhile. Start again'],
];

/**
 * Why a database did not come up, in one sentence.
 * @param begun how long its log was before this start, bytes.
 * @param said the code of what it answered last, if it answered.
 */
export async function whyNot(log: string, begun: number, said: string): Promise<string> {
  const handle = await open(log, 'r').catch(() => undefined);
  let text = '';
  if (handle) {
    const { size } = await handle.stat();
    const from = Math.max(begun, size - LOG_END_BYTES);
    const { buffer, bytesRead } = await handle.read(Buffer.alloc(Math.max(1, size - from)), 0, size - from, from);
    text = buffer.toString('utf8', 0, bytesRead);
    await handle.close();
  }
  const known = REASONS.find(([what]) => what.test(text))?.[1];
  const denied =
    said === 'ER_ACCESS_DENIED_ERROR'
      ? 'it does not take the secret. Delete the file "secret" beside its log'
      : undefined;
  const why = known ?? denied ?? 'it says why in its log';
  return `The database did not come up: ${why}. Its log is ${log}.`;
}
