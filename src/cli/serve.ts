import { once } from 'node:events';
import next from 'next';
import { rootFolder } from '../server/base/data-folder';
import { createOwnServer } from '../server/http/serve';
import { UsageError } from './usage';

const HOST = '127.0.0.1';

/** What ending in good order may take, ms. */
const PATIENCE_MS = 5000;

/** What the routes keep open in this process: see server/workshop/workshop.ts, of which the pages have a copy of their own. */
const shared = globalThis as { irimiWorkshop?: Promise<{ readonly jobs: { leave(): Promise<void> } }> };

/** Serves the pages on `PORT` until the program is told to end; what is under way then begins again with the next start. */
export async function serveCommand(): Promise<void> {
  const port = Number(process.env.PORT ?? 4310);
  const app = next({ dev: false, dir: rootFolder(), hostname: HOST, port });
  const handler = app.getRequestHandler();
  await app.prepare();
  const server = createOwnServer((request, response) => handler(request, response));
  server.listen(port, HOST);
  await once(server, 'listening').catch((error: Error & { code?: string }) => {
    throw error.code === 'EADDRINUSE' ? new UsageError(`port ${port} is in use; choose another with PORT=…`) : error;
  });
  console.log(`Irimi is at http://${HOST}:${port}`);
  const signal = await new Promise<NodeJS.Signals>((resolve) => {
    for (const name of ['SIGINT', 'SIGTERM', 'SIGHUP'] as const) process.once(name, () => resolve(name));
  });
  const patience = setTimeout(() => process.exit(1), PATIENCE_MS);
  server.close();
  await (await shared.irimiWorkshop?.catch(() => null))?.jobs.leave();
  clearTimeout(patience);
  process.exit(signal === 'SIGINT' ? 130 : 143);
}
