import { execFileSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { cpSync, existsSync, readFileSync, renameSync, rmSync } from 'node:fs';
import { join, resolve } from 'node:path';
import { Server } from './server';

/** The demo film on a server of its own. */
export interface Demo {
  readonly server: Server;
  readonly filmId: string;
  filmUrl(query?: Record<string, string | number>): string;
  /** The bench of a join of the reel. */
  joinUrl(name: string, query: Record<string, string | number>): string;
  /** The film frame on which the shot that leaves a join shows a frame of its medium. */
  leavingFrame(joinName: string, mediumFrame: number): number;
  close(): Promise<void>;
}

const search = (query: Record<string, string | number>): string =>
  new URLSearchParams(Object.entries(query).map(([k, v]) => [k, String(v)])).toString();

/** A data folder with the demo film is made once for what is built now, and copied for each that asks. */
export function seededFolder(): string {
  const stamp = createHash('sha1').update(readFileSync('dist/cli.mjs')).digest('hex');
  const folder = join('.run', 'demo-seeds', stamp);
  if (existsSync(folder)) return folder;
  rmSync(join('.run', 'demo-seeds'), { recursive: true, force: true });
  execFileSync(process.execPath, ['dist/cli.mjs', 'seed-demo'], {
    env: { ...process.env, IRIMI_ROOT: process.cwd(), IRIMI_DATA: resolve(`${folder}.part`) },
    stdio: ['ignore', 'ignore', 'inherit'],
  });
  renameSync(`${folder}.part`, folder);
  return folder;
}

interface Reel {
  readonly shots: readonly { readonly id: string; readonly inFrame: number; readonly length: number }[];
  readonly joins: readonly { readonly id: string; readonly name: string; readonly leavingShotId: string }[];
}

export async function openDemo(dataFolder: string): Promise<Demo> {
  cpSync(seededFolder(), dataFolder, { recursive: true });
  const server = await Server.start(dataFolder);
  const [entry] = (await (await fetch(`${server.url}/api/films`)).json()) as { id: string }[];
  const filmId = entry!.id;
  const { film } = (await (await fetch(`${server.url}/api/films/${filmId}`)).json()) as { film: Reel };
  const joinNamed = (name: string): Reel['joins'][number] => {
    const found = film.joins.find((j) => j.name === name);
    if (found === undefined) throw new Error(`the demo film has no join ${name}`);
    return found;
  };
  return {
    server,
    filmId,
    filmUrl: (query = {}) => `${server.url}/films/${filmId}?${search(query)}`,
    joinUrl: (name, query) => `${server.url}/films/${filmId}/joins/${joinNamed(name).id}?${search(query)}`,
    leavingFrame(name, mediumFrame) {
      const at = film.shots.findIndex((s) => s.id === joinNamed(name).leavingShotId);
      return film.shots.slice(0, at).reduce((sum, s) => sum + s.length, 0) + mediumFrame - film.shots[at]!.inFrame;
    },
    close: () => server.stop(),
  };
}
