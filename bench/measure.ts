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

/** Median milliseconds of `runs` runs, after a few that do not count. */
export async function medianMs(runs: number, run: () => unknown): Promise<number> {
  for (let i = 0; i < WARM_UP; i++) await run();
  const times: number[] = [];
  for (let i = 0; i < runs; i++) {
    const begin = performance.now();
    await run();
    times.push(performance.now() - begin);
  }
  return median(times);
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
