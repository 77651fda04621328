#!/usr/bin/env node
// Compiles the loops in src/core/kernels/assembly to WebAssembly, kept as text in src/core/kernels/kernels-wasm.ts.
// Runs after `npm ci` and before every build; does nothing when the sources have not changed.
import { createHash } from 'node:crypto';
import { existsSync, readdirSync, readFileSync, renameSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';

const root = join(dirname(fileURLToPath(import.meta.url)), '..');
const folder = join(root, 'src/core/kernels/assembly');
const out = join(root, 'src/core/kernels/kernels-wasm.ts');

const digest = createHash('sha256').update(readFileSync(fileURLToPath(import.meta.url)));
for (const name of readdirSync(folder).sort()) digest.update(name).update(readFileSync(join(folder, name)));
const stamp = `// ${digest.digest('hex')}`;

if (!existsSync(out) || !readFileSync(out, 'utf8').startsWith(stamp)) {
  const { default: asc } = await import('assemblyscript/asc');
  const files = new Map();
  const memory = ['--importMemory', '--enable', 'threads', '--sharedMemory', '--initialMemory', '6144', '--maximumMemory', '32768'];
  const options = ['-O3', '--enable', 'simd', '--runtime', 'stub', '--noAssert', ...memory, '--outFile', 'kernels.wasm'];
  const { error, stderr } = await asc.main([join(folder, 'index.ts'), '--baseDir', '/', ...options], {
    writeFile: (name, contents) => files.set(name, contents),
  });
  if (error !== null) {
    process.stderr.write(stderr.toString());
    process.exit(1);
  }
  const text = Buffer.from(files.get('kernels.wasm')).toString('base64');
  const partial = `${out}.part`;
  writeFileSync(partial, `${stamp}\n/** Made by scripts/build-kernels.mjs. */\nexport const KERNELS_BASE64 =\n  '${text}';\n`);
  renameSync(partial, out);
}
