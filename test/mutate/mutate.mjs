/**
 * Changes single places of the code, one at a time, and says which of the changes no test notices: npm run mutate.
 *   --count N     so many changes (100)          --minutes N   end after so long, whatever is left (30)
 *   --seed N      which of all possible ones; the seed of a run is said at its end, so that it can be had again
 *   --in PATH     of these sources: packages/core/src (the usual), packages/interchange/src, or a folder or file within
 * The sources on the disk stay as they are: a change is made where they are loaded. Every test file says first which places it comes by;
 * a change is then tried by those files alone, the quick ones first, until one of them fails.
 */
import { spawn } from 'node:child_process';
import { mkdtempSync, readdirSync, readFileSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join, relative, resolve } from 'node:path';
import { clearTimeout, setTimeout } from 'node:timers';
import ts from 'typescript';

const option = (name, usual) => {
  const at = process.argv.indexOf(`--${name}`);
  return at < 0 ? usual : process.argv[at + 1];
};
const seed = Number(option('seed', Math.floor(Math.random() * 1e9)));
const until = Date.now() + Number(option('minutes', 30)) * 60_000;
const count = Number(option('count', 100));
const within = resolve(option('in', 'packages/core/src'));
const project = relative('packages', within).split('/')[0] ?? 'core';
/** A change that makes a test file take so much longer than usual hangs, which is noticed, too. */
const [TIMES_LONGER, AND_MS] = [4, 60_000];
const AT_ONCE = 2;
/** Operators, and what each is changed to. */
const OTHER = {
  ...{ '<': '<=', '<=': '<', '>': '>=', '>=': '>', '===': '!==', '!==': '===' },
  ...{ '+': '-', '-': '+', '*': '/', '/': '*', '%': '*', '**': '*' },
  ...{ '&&': '||', '||': '&&', '??': '&&', '+=': '-=', '-=': '+=' },
};

const places = sourcesIn(within).flatMap(placesOf);
const random = randomOf(seed);
const chosen = shuffled(places)
  .slice(0, count)
  .map((place, id) => ({ id, ...place }));
const folder = mkdtempSync(join(tmpdir(), 'arvex-mutate-'));
const list = join(folder, 'mutants.json');
writeFileSync(list, JSON.stringify(chosen));
process.on('exit', () => rmSync(folder, { recursive: true, force: true }));

console.log(
  `${places.length} places in ${relative('.', within)}; ${chosen.length} of them are changed (seed ${seed}).`,
);
const recorded = await vitest('record', []);
if (recorded.code !== 0) {
  console.error(recorded.output.slice(-4000));
  throw new Error('The tests fail as they are: mend them first.');
}
/** Test files with the places that each comes by, and how long it takes. */
const files = readdirSync(folder)
  .filter((name) => name.endsWith('.hits'))
  .map((name) => JSON.parse(readFileSync(join(folder, name), 'utf8')))
  .sort((a, b) => a.ms - b.ms);

const results = new Map();
const waiting = [...chosen];
await Promise.all(
  Array.from({ length: AT_ONCE }, async () => {
    for (let mutant = waiting.shift(); mutant && Date.now() < until; mutant = waiting.shift()) {
      results.set(mutant.id, await tried(mutant));
      process.stdout.write(results.get(mutant.id) === 'noticed' ? '.' : 'S');
    }
  }),
);
process.stdout.write('\n');
const survived = chosen.filter(({ id }) => results.has(id) && results.get(id) !== 'noticed');
for (const { file, line, before, after, id } of survived)
  console.log(`${relative('.', file)}:${line}  ${results.get(id)}\n    ${before}\n  → ${after}`);
const noticed = results.size - survived.length;
console.log(
  `${noticed} of ${results.size} changes were noticed: ${Math.round((100 * noticed) / results.size)} of 100 (seed ${seed}).`,
);

/** Whether a test notices a change. */
async function tried({ id }) {
  const coming = files.filter(({ hits }) => hits.includes(id));
  if (coming.length === 0) return 'no test comes by';
  const usual = coming.reduce((sum, { ms }) => sum + ms, 0);
  const { code } = await vitest(
    String(id),
    coming.map(({ path }) => path),
    usual * TIMES_LONGER + AND_MS,
  );
  return code === 0 ? 'no test notices' : 'noticed';
}

/** Runs test files with one change, or all of them to record where they come by. A run that does not end is ended, and has failed. */
function vitest(mutant, paths, limitMs = 900_000) {
  return new Promise((done) => {
    const given = [
      'vitest',
      'run',
      '--config',
      'test/mutate/mutate.config.ts',
      '--project',
      project,
      '--bail',
      '1',
      ...paths,
    ];
    const env = { ...process.env, ARVEX_MUTANTS: list, ARVEX_MUTANT: mutant };
    const child = spawn('npx', ['--no-install', ...given], { env, detached: true });
    let output = '';
    for (const stream of [child.stdout, child.stderr]) stream.on('data', (chunk) => (output += chunk));
    const late = setTimeout(() => process.kill(-child.pid, 'SIGKILL'), limitMs);
    child.on('close', (code) => {
      clearTimeout(late);
      done({ code, output });
    });
  });
}

function sourcesIn(path) {
  if (statSync(path).isFile()) return [path];
  return readdirSync(path, { recursive: true })
    .filter((name) => name.endsWith('.ts') && !name.endsWith('.d.ts') && !name.endsWith('index.ts'))
    .map((name) => join(path, name))
    .sort();
}

/** Every place of a file that can be changed, with what would stand there. */
function placesOf(file) {
  const source = ts.createSourceFile(file, readFileSync(file, 'utf8'), ts.ScriptTarget.Latest, true);
  const found = [];
  const add = (node, text) => {
    const { line } = source.getLineAndCharacterOfPosition(node.getStart());
    found.push({ file, line: line + 1, start: node.getStart(), end: node.getEnd(), text, ...lines(node, text) });
  };
  const lines = (node, text) => {
    const whole = source.text;
    const from = whole.lastIndexOf('\n', node.getStart()) + 1;
    const to = whole.indexOf('\n', node.getEnd());
    const [head, tail] = [whole.slice(from, node.getStart()), whole.slice(node.getEnd(), to < 0 ? undefined : to)];
    return { before: (head + node.getText() + tail).trim(), after: (head + text + tail).trim() };
  };
  const visit = (node) => {
    if (
      ts.isTypeNode(node) ||
      ts.isInterfaceDeclaration(node) ||
      ts.isTypeAliasDeclaration(node) ||
      ts.isImportDeclaration(node)
    )
      return;
    const text = changed(node);
    if (text !== undefined) add(node, text);
    ts.forEachChild(node, visit);
  };
  visit(source);
  return found;
}

/** What a node may be changed to; nothing where it is not. */
function changed(node) {
  if (ts.isBinaryExpression(node)) {
    const other = OTHER[node.operatorToken.getText()];
    return other && `${node.left.getText()} ${other} ${node.right.getText()}`;
  }
  if (ts.isPrefixUnaryExpression(node)) {
    if (node.operator === ts.SyntaxKind.ExclamationToken) return `Boolean(${node.operand.getText()})`;
    if (node.operator === ts.SyntaxKind.MinusToken) return node.operand.getText();
  }
  if (ts.isConditionalExpression(node))
    return `${node.condition.getText()} ? ${node.whenFalse.getText()} : ${node.whenTrue.getText()}`;
  if (ts.isNumericLiteral(node) && node.parent.name !== node) return String(Number(node.text) + 1);
  if (node.kind === ts.SyntaxKind.TrueKeyword) return 'false';
  if (node.kind === ts.SyntaxKind.FalseKeyword) return 'true';
  if (ts.isPropertyAccessExpression(node) && node.expression.getText() === 'Math') {
    const other = { min: 'max', max: 'min', floor: 'ceil', ceil: 'floor', sin: 'cos', cos: 'sin' }[node.name.text];
    return other && `Math.${other}`;
  }
  return undefined;
}

function shuffled(all) {
  const left = [...all];
  for (let i = left.length - 1; i > 0; i--) {
    const j = Math.floor(random() * (i + 1));
    [left[i], left[j]] = [left[j], left[i]];
  }
  return left;
}

/** Even numbers from 0 to 1 of a seed (mulberry32). */
function randomOf(from) {
  let state = from >>> 0;
  return () => {
    state = (state + 0x6d2b79f5) >>> 0;
    let mixed = Math.imul(state ^ (state >>> 15), state | 1);
    mixed ^= mixed + Math.imul(mixed ^ (mixed >>> 7), mixed | 61);
    return ((mixed ^ (mixed >>> 14)) >>> 0) / 4294967296;
  };
}
