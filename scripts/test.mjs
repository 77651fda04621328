#!/usr/bin/env node
// Everything that must hold, in order: lint, formatting, types, import directions, unit tests, build, the screens in Chromium.
//   node scripts/test.mjs [lint|unit|screens …]     default: all. The last line counts the tests.
import { spawn } from 'node:child_process';
import { once } from 'node:events';
import { mkdirSync, readFileSync, rmSync } from 'node:fs';

/** Whether a program of Node's ended well. */
async function node(...args) {
  const env = { ...process.env, IRIMI_ROOT: process.cwd(), NEXT_TELEMETRY_DISABLED: '1' };
  const [code] = await once(spawn(process.execPath, args, { stdio: 'inherit', env }), 'exit');
  return code === 0;
}
const bin = (path, ...args) => node(`node_modules/${path}`, ...args);

/** Where imports are looked at. */
const CODE = ['src', 'bench', 'tests', 'demo'];

let passed = 0;
let failed = 0;
const count = (name, ok) => {
  console.log(`${ok ? 'ok' : 'FAILED'}: ${name}`);
  if (ok) passed++;
  else failed++;
};

/** Runs Vitest and adds its counts; a run without a report is a failure. */
async function vitest(name, ...args) {
  mkdirSync('.run', { recursive: true });
  const report = `.run/${name}.json`;
  rmSync(report, { force: true });
  await bin('vitest/vitest.mjs', 'run', '--reporter=default', '--reporter=json', `--outputFile.json=${report}`, ...args);
  try {
    const { numPassedTests, numFailedTests, numTotalTestSuites, success } = JSON.parse(readFileSync(report, 'utf8'));
    passed += numPassedTests;
    failed += numFailedTests + (!success && numFailedTests === 0 ? 1 : 0) + (numTotalTestSuites === 0 ? 1 : 0);
  } catch (error) {
    console.error(`no report of the ${name} tests: ${error.message}`);
    failed++;
  }
}

/** The pages and tools as they are now; it also makes the route types that both type checks read. */
const build = async () => count('build', await node('scripts/build.mjs'));

/** What reads the code without running it. Linting takes as long as all else together: it has a core of its own. */
async function read() {
  const others = async () => {
    count('formatting', await bin('prettier/bin/prettier.cjs', '--check', '--log-level', 'warn', '.'));
    count('import directions', await bin('dependency-cruiser/bin/dependency-cruise.mjs', '--config', '.dependency-cruiser.cjs', ...CODE));
    count('types', await bin('typescript/bin/tsc', '--noEmit'));
  };
  const lint = async () => count('lint', await bin('eslint/bin/eslint.js', '.'));
  await Promise.all([lint(), others()]);
}

const unit = () => vitest('unit');
const screens = () => vitest('screens', '--config', 'vitest.screens.config.ts');

const parts = { lint: read, unit, screens };

const wanted = process.argv.slice(2);
const unknown = wanted.find((part) => parts[part] === undefined);
if (unknown !== undefined) {
  console.error(`unknown part "${unknown}"; known: ${Object.keys(parts).join(', ')}`);
  process.exit(2);
}
await build();
if (failed === 0) for (const part of wanted.length === 0 ? Object.keys(parts) : wanted) await parts[part]();
console.log(`${passed} passed, ${failed} failed`);
process.exit(failed === 0 && passed > 0 ? 0 : 1);
