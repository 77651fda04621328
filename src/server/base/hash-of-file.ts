import { createHash } from 'node:crypto';
import { createReadStream } from 'node:fs';
import { pipeline } from 'node:stream/promises';

/** The SHA-256 of a file's bytes, in hex. */
export async function hashOfFile(path: string): Promise<string> {
  const digest = createHash('sha256');
  await pipeline(createReadStream(path, { highWaterMark: 2 ** 20 }), digest);
  return digest.digest('hex');
}
