#!/usr/bin/env node
// Builds what has changed: the command line and worker threads into dist/, the pages into .next/.
//   node scripts/build.mjs [--tools]     --tools: only dist/
import { spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { existsSync, mkdirSync, readdirSync, readFileSync, statSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import './build-kernels.mjs';

/** One line that changes with any file under `paths`. */
function digestOf(paths) {
  const digest = createHash('sha256');
  const walk = (path) => {
    if (!existsSync(path)) return;
    if (statSync(path).isFile()) digest.update(path).update(readFileSync(path));
    else for (const entry of readdirSync(path).sort()) walk(join(path, entry));
  };
  for (const path of paths) walk(path);
  return digest.digest('hex');
}

/** Runs `make` unless `name`, of which `made` is a part, was made from the same files before. */
async function once(name, made, paths, make) {
  const stamp = join('dist', `${name}.stamp`);
  const digest = digestOf([...paths, 'package-lock.json', 'tsconfig.json', 'scripts']);
  if (existsSync(made) && existsSync(stamp) && readFileSync(stamp, 'utf8') === digest) return;
  await make();
  mkdirSync('dist', { recursive: true });
  writeFileSync(stamp, digest);
}

await once('tools', 'dist/cli.mjs', ['src', 'bench', 'demo/truth.ts'], async () => {
  const { build } = await import('esbuild');
  await build({
    entryPoints: {
      cli: 'src/cli/main.ts',
      compose: 'src/workers/compose.ts',
      onsets: 'src/workers/onsets.ts',
      analysis: 'src/workers/analysis.ts',
      bench: 'bench/main.ts',
    },
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
});

if (!process.argv.includes('--tools')) {
  await once('pages', '.next/BUILD_ID', ['src', 'next.config.ts', 'postcss.config.mjs'], () => {
    const next = spawnSync(process.execPath, ['node_modules/next/dist/bin/next', 'build'], {
      stdio: ['ignore', 'inherit', 'inherit'],
      env: { ...process.env, NEXT_TELEMETRY_DISABLED: '1' },
    });
    if (next.status !== 0) process.exit(next.status ?? 1);
  });
}
