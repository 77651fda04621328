#!/usr/bin/env node
// Takes the pictures of docs/screenshots from the demo film, at 1280 × 800.
import { spawnSync } from 'node:child_process';
import { mkdirSync } from 'node:fs';
import { build } from 'esbuild';

const built = spawnSync(process.execPath, ['scripts/build.mjs'], { stdio: 'inherit' });
if (built.status !== 0) process.exit(1);
mkdirSync('.run', { recursive: true });
await build({
  entryPoints: ['tests/screens/screenshots.ts'],
  outfile: '.run/screenshots.mjs',
  bundle: true,
  platform: 'node',
  format: 'esm',
  packages: 'external',
});
process.exit(spawnSync(process.execPath, ['.run/screenshots.mjs', ...process.argv.slice(2)], { stdio: 'inherit' }).status ?? 1);
