#!/usr/bin/env node
// Builds what has changed: the command line and worker threads into dist/, the pages into .next/.
//   node scripts/build.mjs [--tools]     --tools: only dist/
import { spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { existsSync, mkdirSync, readdirSync, readFileSync, statSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { build } from 'esbuild';
import './build-kernels.mjs';

await build({
  entryPoints: { cli: 'src/cli/main.ts', compose: 'src/workers/compose.ts', analysis: 'src/workers/analysis.ts', bench: 'bench/main.ts' },
  outdir: 'dist',
  outExtension: { '.js': '.mjs' },
  bundle: true,
  platform: 'node',
  format: 'esm',
  target: 'node20',
  packages: 'external',
  sourcemap: true,
  logLevel: 'warning',
});

if (!process.argv.includes('--tools')) {
  const digest = createHash('sha256');
  const walk = (path) => {
    if (!existsSync(path)) return;
    if (statSync(path).isFile()) digest.update(path).update(readFileSync(path));
    else for (const entry of readdirSync(path).sort()) walk(join(path, entry));
  };
  for (const path of ['src', 'next.config.ts', 'postcss.config.mjs', 'package-lock.json', 'tsconfig.json']) walk(path);
  const stamp = digest.digest('hex');
  if (!existsSync('.next/BUILD_ID') || !existsSync('dist/pages.stamp') || readFileSync('dist/pages.stamp', 'utf8') !== stamp) {
    const next = spawnSync(process.execPath, ['node_modules/next/dist/bin/next', 'build'], {
      stdio: ['ignore', 'inherit', 'inherit'],
      env: { ...process.env, NEXT_TELEMETRY_DISABLED: '1' },
    });
    if (next.status !== 0) process.exit(next.status ?? 1);
    mkdirSync('dist', { recursive: true });
    writeFileSync('dist/pages.stamp', stamp);
  }
}
