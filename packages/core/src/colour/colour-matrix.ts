type Row = readonly [number, number, number];

/** What red, green and blue are multiplied with, a row for each that comes out. */
export type ColourMatrix = readonly [Row, Row, Row];

/** What `first` does after `second`. */
export function product(first: ColourMatrix, second: ColourMatrix): ColourMatrix {
  const entry = (row: Row, column: 0 | 1 | 2) =>
    row[0] * second[0][column] + row[1] * second[1][column] + row[2] * second[2][column];
  const row = (of: Row): Row => [entry(of, 0), entry(of, 1), entry(of, 2)];
  return [row(first[0]), row(first[1]), row(first[2])];
}
