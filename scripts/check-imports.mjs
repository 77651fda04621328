#!/usr/bin/env node
// Arrows point down only: app → server → core, ui → workers → core, cli → server → core.
import { readdirSync, readFileSync, statSync } from 'node:fs';
import { dirname, join, relative, resolve } from 'node:path';

/** Folder of src/ → folders it may import from. A page may show ui; the server starts worker threads. */
const ALLOWED = {
  core: ['core'],
  workers: ['workers', 'core'],
  server: ['server', 'workers', 'core'],
  ui: ['ui', 'workers', 'core'],
  app: ['app', 'ui', 'server', 'core'],
  cli: ['cli', 'server', 'core'],
  'proxy.ts': ['server'],
};
/** What core may use besides itself. */
const CORE_PACKAGES = ['immer', 'vitest'];

function* sources(path) {
  for (const entry of readdirSync(path)) {
    const full = join(path, entry);
    if (statSync(full).isDirectory()) yield* sources(full);
    else if (/\.tsx?$/.test(entry)) yield full;
  }
}

const faults = [];
for (const file of sources('src')) {
  const layer = relative('src', file).split('/')[0];
  for (const [, name] of readFileSync(file, 'utf8').matchAll(/(?:from|import)\s*\(?\s*'([^'\s]+)'/g)) {
    if (name.startsWith('.')) {
      const target = relative(resolve('src'), resolve(dirname(file), name)).split('/')[0];
      const isTest = /\.test\.tsx?$/.test(file);
      if (!ALLOWED[layer]?.includes(target) && !(isTest && target.startsWith('..'))) faults.push(`${file} must not import ${name}`);
    } else if (layer === 'core' && !CORE_PACKAGES.includes(name)) {
      if (!(file.endsWith('.test.ts') && name.startsWith('node:'))) faults.push(`${file}: core must not use ${name}`);
    }
  }
}
for (const fault of faults) console.error(fault);
console.log(faults.length === 0 ? 'imports: all point down' : `${faults.length} imports point the wrong way`);
process.exit(faults.length === 0 ? 0 : 1);
