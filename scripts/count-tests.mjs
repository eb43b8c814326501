/** Reads the test runners' JSON reports and closes with one line that counts every test; the exit code says whether all is well. */
import { existsSync, readFileSync } from 'node:fs';
import { join } from 'node:path';

const [directory, ...broken] = process.argv.slice(2);
let passed = 0;
let failed = 0;
for (const name of ['unit', 'server', 'browser']) {
  const path = join(directory, `${name}.json`);
  if (!existsSync(path)) {
    broken.push(`${name}: no report`);
    continue;
  }
  const report = JSON.parse(readFileSync(path, 'utf8'));
  passed += report.numPassedTests ?? report.stats.expected + report.stats.flaky;
  failed += report.numFailedTests ?? report.stats.unexpected;
}
if (broken.length > 0) console.log(`Not well: ${broken.join(', ')}`);
console.log(`${passed} passed, ${failed} failed`);
process.exit(broken.length > 0 || failed > 0 || passed === 0 ? 1 : 0);
