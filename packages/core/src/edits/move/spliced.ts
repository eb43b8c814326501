import type { AfterLast, Curve, Key } from '../../curve';
import { dividedAt, handleAt, merged } from '../../curve';

const NO_HANDLE = { flicks: 0, value: 0 };

/**
 * A curve with a piece put into it from the piece's first to its last key. What came before keeps its form up to there, the ease
 * with which it arrives too; what came after goes on from the piece's end.
 * @param after what the curve does after its last key; up to the piece it is keyed as it goes on.
 */
export function spliced(curve: Curve, piece: Curve, after: AfterLast = 'stay'): Curve {
  const [first, last] = [piece[0], piece.at(-1)];
  if (!first || !last) return curve;
  const whole = dividedAt(unrolled(curve, after, first.atFlicks), first.atFlicks);
  const early = whole.filter((key) => key.atFlicks < first.atFlicks);
  const index = whole.findIndex((key) => key.atFlicks === first.atFlicks);
  const into = index >= 0 ? handleAt(whole, index, 'in') : NO_HANDLE;
  // Where the curve rested before the piece begins, it rests up to there.
  const rested = index < 0 ? early.map((key, i) => (i === early.length - 1 ? resting(key) : key)) : early;
  const joined = piece.map((key, i): Key => {
    if (i > 0 && i < piece.length - 1) return key;
    const [own, out] = [handleAt(piece, i, 'in'), handleAt(piece, i, 'out')];
    if (i === 0) {
      if (key.shape === 'linear' || key.shape === 'hold') return { ...key, in: into };
      return { ...key, shape: 'free', in: into, out: piece.length > 1 ? out : NO_HANDLE };
    }
    return { ...key, shape: 'free', in: own, out: NO_HANDLE };
  });
  const late = whole.filter((key) => key.atFlicks > last.atFlicks);
  return merged([...rested, ...late], joined);
}

/** A last key that the curve stays at. */
function resting(key: Key): Key {
  return key.shape === 'free' ? { ...key, out: NO_HANDLE } : key;
}

/** A curve that goes on after its last key, keyed as it does up to a time. */
function unrolled(curve: Curve, after: AfterLast, untilFlicks: number): Curve {
  const [first, last] = [curve[0], curve.at(-1)];
  if (!first || !last || after === 'stay' || last.atFlicks <= first.atFlicks) return curve;
  const length = last.atFlicks - first.atFlicks;
  const rise = after === 'onward' ? last.value - first.value : 0;
  const straight = curve.at(-2)?.shape === 'linear' && first.shape === 'linear';
  const arriving: Key = { ...last, shape: 'free', in: handleAt(curve, curve.length - 1, 'in'), out: NO_HANDLE };
  const leaving: Key =
    first.shape === 'linear' || first.shape === 'hold'
      ? first
      : { ...first, shape: 'free', in: NO_HANDLE, out: handleAt(curve, 0, 'out') };
  let all = curve;
  for (let round = 1; first.atFlicks + round * length < untilFlicks; round++) {
    const later = (key: Key, more = 0): Key => {
      return { ...key, atFlicks: key.atFlicks + round * length + more, value: key.value + round * rise };
    };
    const end = all.at(-1) as Key;
    // One round ends as it did, and the next begins as the first did: a flick later, unless one straight line goes on.
    const goesOn = straight && Math.abs(end.value - later(first).value) < 1e-9;
    const seam = goesOn
      ? [later(first)]
      : [{ ...arriving, atFlicks: end.atFlicks, value: end.value }, later(leaving, 1)];
    all = [...all.slice(0, -1), ...seam, ...curve.slice(1).map((key) => later(key))];
  }
  return all;
}
