/** Reads the test runners' JSON reports and closes with one line that counts every test; the exit code says whether all is well. */
import { existsSync, readFileSync } from 'node:fs';
import { join } from 'node:path';

const [directory, counted, ...broken] = process.argv.slice(2);
const parts = counted.split(' ').filter(Boolean);
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
}
if (broken.length > 0) console.log(`Not well: ${broken.join(', ')}`);
if (parts.length > 0) console.log(`${passed} passed, ${failed} failed`);
process.exit(broken.length > 0 || failed > 0 || (parts.length > 0 && passed === 0) ? 1 : 0);
