/** One line of the table: what was measured, in a unit, against a baseline measured in the same run. */
export interface Line {
  readonly what: string;
  readonly value: number;
  readonly unit: string;
  readonly baseline: string;
  readonly baselineValue: number;
  /** Budget in the same unit, where there is one. */
  readonly budget?: string;
}

const WARM_UP = 3;

/**
 * Median milliseconds of two things that are compared, run in turns (A B A B …) so that a slow moment of the machine meets both.
 * @param runs turns that count, after a few that do not.
 */
export async function pairMs(runs: number, ours: () => unknown, theirs: () => unknown): Promise<[number, number]> {
  const [a, b]: [number[], number[]] = [[], []];
  for (let i = 0; i < runs + WARM_UP; i++) {
    for (const [run, times] of [
      [ours, a],
      [theirs, b],
    ] as const) {
      const begin = performance.now();
      await run();
      if (i >= WARM_UP) times.push(performance.now() - begin);
    }
  }
  return [median(a), median(b)];
}

export function median(values: readonly number[]): number {
  return [...values].sort((a, b) => a - b)[Math.floor(values.length / 2)] ?? NaN;
}

/** Prints the lines as a Markdown table. */
export function printTable(lines: readonly Line[]): void {
  console.log('| what | measured | baseline in the same run | ratio | budget |');
  console.log('| --- | ---: | ---: | ---: | --- |');
  for (const { what, value, unit, baseline, baselineValue, budget } of lines) {
    const ratio = (value / baselineValue).toPrecision(3);
    console.log(
      `| ${what} | ${short(value)} ${unit} | ${baseline}: ${short(baselineValue)} ${unit} | ${ratio} | ${budget ?? ''} |`,
    );
  }
}

function short(value: number): string {
  return value >= 1000 ? Math.round(value).toLocaleString('en') : value.toPrecision(3);
}
