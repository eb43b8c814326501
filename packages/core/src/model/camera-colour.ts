/** Paul Tol's and Okabe–Ito's colours that stay apart for colour-blind eyes; the number beside them carries the meaning. */
const PALETTE = ['#56b4e9', '#e69f00', '#009e73', '#cc79a7', '#f0e442', '#d55e00', '#88ccee', '#ddcc77'] as const;

/** The colour of camera `number`, the same wherever it appears. */
export function cameraColour(number: number): string {
  return PALETTE[(number - 1) % PALETTE.length] ?? PALETTE[0];
}
