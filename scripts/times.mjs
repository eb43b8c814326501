/**
 * Says where the time of a check went: its parts, the whole machine, and the tests that took longest.
 * Reads NAME.time of each part ("wall user system", seconds), `machine` (first lines of /proc/stat before and after) and the reports of
 * the test runners.
 */
import { existsSync, readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';

/** As many tests are named as fit on a screen. */
const SLOWEST = 15;
const TICKS_A_SECOND = 100;

const [directory] = process.argv.slice(2);
const read = (name) => readFileSync(join(directory, name), 'utf8').trim();
const seconds = (value) => `${value.toFixed(0).padStart(5)} s`;

for (const file of readdirSync(directory).filter((name) => name.endsWith('.time'))) {
  const [wall, user, system] = read(file).split(/\s+/).map(Number);
  const name = file.replace('.time', '').padEnd(12);
  console.log(`${name}${seconds(wall)}   processor ${seconds(user + system)}`);
}

/** Fields of /proc/stat's first line: user, nice, system, idle, iowait, irq, softirq, steal. */
const [before, after] = read('machine')
  .split('\n')
  .map((line) => line.split(/\s+/).slice(1, 9).map(Number));
const spent = (...fields) => fields.reduce((sum, i) => sum + (after[i] - before[i]) / TICKS_A_SECOND, 0);
console.log(
  `processors  ${seconds(spent(0, 1, 2, 5, 6))} busy, ${seconds(spent(3, 4))} idle, ${seconds(spent(7))} taken by other machines`,
);

const tests = ['unit', 'components', 'server', 'browser'].flatMap((part) => {
  if (!existsSync(join(directory, `${part}.json`))) return [];
  const report = JSON.parse(read(`${part}.json`));
  return report.testResults ? testsOfVitest(report.testResults) : testsOfBrowser(report.suites);
});
for (const { title, ms } of tests.sort((a, b) => b.ms - a.ms).slice(0, SLOWEST))
  console.log(`${seconds(ms / 1000)}  ${title}`);

function testsOfVitest(files) {
  return files.flatMap(({ assertionResults }) =>
    assertionResults.map(({ fullName, duration }) => ({ title: fullName, ms: duration ?? 0 })),
  );
}

function testsOfBrowser(suites) {
  return suites.flatMap((suite) => [
    ...testsOfBrowser(suite.suites ?? []),
    ...(suite.specs ?? []).map(({ file, title, tests: tries }) => ({
      title: `${file} › ${title}`,
      ms: tries.flatMap(({ results }) => results).reduce((sum, { duration }) => sum + duration, 0),
    })),
  ]);
}
