/**
 * Reads the test runners' JSON reports and closes with one line that counts every test; the exit code says whether all is well.
 * What failed is named, with its reason, right above that line: whoever sees only the end of a log sees what to mend.
 */
import { existsSync, readFileSync } from 'node:fs';
import { join, relative } from 'node:path';

/** Most lines of a reason that are worth repeating; the whole of it stands further up. */
const REASON_LINES = 14;

const [directory, counted, ...broken] = process.argv.slice(2);
const parts = counted.split(' ').filter(Boolean);
const failures = [];
const flaky = [];
let passed = 0;
let failed = 0;
for (const name of parts) {
  const path = join(directory, `${name}.json`);
  if (!existsSync(path)) {
    broken.push(`${name}: no report`);
    continue;
  }
  const report = JSON.parse(readFileSync(path, 'utf8'));
  passed += report.numPassedTests ?? report.stats.expected + report.stats.flaky;
  failed += report.numFailedTests ?? report.stats.unexpected;
  if (report.testResults) failures.push(...failedInVitest(report.testResults));
  else readBrowser(report.suites);
}
for (const { title, reason } of failures) {
  console.log(`✗ ${title}`);
  const lines = reason
    .trim()
    .split('\n')
    .filter((line) => !line.includes('node_modules'));
  for (const line of lines.slice(0, REASON_LINES)) console.log(`    ${line}`);
}
for (const title of flaky) console.log(`≈ ${title}: well at its second try only`);
if (broken.length > 0) console.log(`Not well: ${broken.join(', ')}`);
if (parts.length > 0) console.log(`${passed} passed, ${failed} failed`);
process.exit(broken.length > 0 || failed > 0 || (parts.length > 0 && passed === 0) ? 1 : 0);

/** A file that could not even be loaded has no tests, and is named by itself. */
function failedInVitest(files) {
  return files.flatMap(({ name, status, message, assertionResults }) => {
    const file = relative(process.cwd(), name);
    if (status === 'failed' && assertionResults.length === 0) return [{ title: file, reason: message ?? '' }];
    return assertionResults
      .filter((test) => test.status === 'failed')
      .map((test) => ({ title: `${file} › ${test.fullName}`, reason: (test.failureMessages ?? []).join('\n') }));
  });
}

/** Suites hold suites. A test has failed where none of its tries was well; one that was well at its second try has found something too. */
function readBrowser(suites) {
  for (const suite of suites) {
    readBrowser(suite.suites ?? []);
    for (const { file, line, title, ok, tests } of suite.specs ?? []) {
      const name = `${file}:${line} › ${title}`;
      const reasons = tests.flatMap((test) => test.results.map((result) => result.error?.message ?? ''));
      if (!ok) failures.push({ title: name, reason: reasons.join('\n') });
      else if (tests.some((test) => test.status === 'flaky')) flaky.push(name);
    }
  }
}
