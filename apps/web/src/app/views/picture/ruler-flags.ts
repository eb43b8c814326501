import { CLOSEST_M, placeOf } from './ruler-scale';

/** A subject and its distance along the optical axis, metres. */
export interface Standing {
  readonly id: string;
  readonly name: string;
  readonly distanceM: number;
}

/** A name on the ruler: of one subject, or of several that stand too close to be named apart. */
export interface Flag {
  readonly standing: readonly Standing[];
  readonly name: string;
  /** Places of its subjects, per cent of the ruler. */
  readonly lines: readonly number[];
  readonly at: number;
  /** Where the name stands beside its line, so that close ones do not cover each other. */
  readonly side: 'before' | 'over' | 'after';
}

/** Names nearer than this share of the ruler (per cent) would cover each other. */
const CROWDED = 14;
/** Names this near the ruler's end stand before their line. */
const LAST = 94;

/** Flags of the subjects in front of the camera; two close ones lean apart, more stand together under one name. */
export function flagsOf(standing: readonly Standing[]): Flag[] {
  const groups: Standing[][] = [];
  const inFront = standing.filter((one) => one.distanceM > CLOSEST_M).sort((a, b) => a.distanceM - b.distanceM);
  for (const one of inFront) {
    const last = groups.at(-1)?.at(-1);
    if (last && placeOf(one.distanceM) - placeOf(last.distanceM) < CROWDED) groups.at(-1)?.push(one);
    else groups.push([one]);
  }
  const flags = groups.flatMap((group) => {
    const [first, second] = group;
    if (group.length === 2 && first && second) return [flag([first], 'before'), flag([second], 'after')];
    return [flag(group, 'over')];
  });
  return flags.reduce<Flag[]>(withRoom, []);
}

/** Adds a flag beside the ones before it: leaning away from them, or under one name with the last, where both do not fit. */
function withRoom(placed: readonly Flag[], next: Flag): Flag[] {
  const last = placed.at(-1);
  if (!last || endOf(last) <= startOf(next)) return [...placed, next];
  const leaning: Flag = { ...next, side: next.at > LAST ? 'before' : 'after' };
  if (endOf(last) <= startOf(leaning)) return [...placed, leaning];
  return withRoom(placed.slice(0, -1), flag([...last.standing, ...next.standing], 'over'));
}

/** Share of the ruler that a letter of a name takes, per cent. */
const LETTER = 0.95;
const SHIFT = { before: 1, over: 0.5, after: 0 } as const;

const startOf = ({ at, name, side }: Flag): number => at - name.length * LETTER * SHIFT[side];
const endOf = ({ at, name, side }: Flag): number => at + name.length * LETTER * (1 - SHIFT[side]);

function flag(standing: readonly Standing[], side: Flag['side']): Flag {
  const lines = standing.map(({ distanceM }) => placeOf(distanceM));
  const at = lines.reduce((sum, line) => sum + line, 0) / lines.length;
  const rest = standing.length - 1;
  const name = `${standing[0]?.name ?? ''}${rest > 0 ? ` and ${rest} more` : ''}`;
  return { standing, name, lines, at, side: side !== 'before' && at > LAST ? 'before' : side };
}
