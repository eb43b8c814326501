/** First and last key of a move, flicks; `undefined` when nothing moves. */
export function spanOf(
  curves: Readonly<Record<string, readonly { readonly atFlicks: number }[]>>,
): [number, number] | undefined {
  let [first, last] = [Infinity, -Infinity];
  for (const curve of Object.values(curves)) {
    first = Math.min(first, curve[0]?.atFlicks ?? Infinity);
    last = Math.max(last, curve.at(-1)?.atFlicks ?? -Infinity);
  }
  return first <= last ? [first, last] : undefined;
}
