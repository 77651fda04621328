import { execFileSync } from 'node:child_process';
import { Server } from './server';

/** The demo film on a server of its own. */
export interface Demo {
  readonly server: Server;
  readonly filmId: string;
  filmUrl(query?: Record<string, string | number>): string;
  /** The bench of the reel's join number `index` (0 is first). */
  joinUrl(index: number, query: Record<string, string | number>): string;
  close(): Promise<void>;
}

const search = (query: Record<string, string | number>): string =>
  new URLSearchParams(Object.entries(query).map(([k, v]) => [k, String(v)])).toString();

export async function openDemo(dataFolder: string): Promise<Demo> {
  execFileSync(process.execPath, ['dist/cli.mjs', 'seed-demo'], {
    env: { ...process.env, IRIMI_ROOT: process.cwd(), IRIMI_DATA: dataFolder },
    stdio: 'ignore',
  });
  const server = await Server.start(dataFolder);
  const [entry] = (await (await fetch(`${server.url}/api/films`)).json()) as { id: string }[];
  const filmId = entry!.id;
  const { film } = (await (await fetch(`${server.url}/api/films/${filmId}`)).json()) as { film: { joins: { id: string }[] } };
  return {
    server,
    filmId,
    filmUrl: (query = {}) => `${server.url}/films/${filmId}?${search(query)}`,
    joinUrl: (index, query) => `${server.url}/films/${filmId}/joins/${film.joins[index]!.id}?${search(query)}`,
    close: () => server.stop(),
  };
}
