import { createServer, type IncomingMessage, type Server, type ServerResponse } from 'node:http';
import type { Socket } from 'node:net';

// The program's own HTTP server around the pages and routes: what no page or route gets to see is answered here.

/** A connection on which nothing comes for so long, while something is to come, is closed. */
const SILENCE_MS = 30_000;

type Handler = (request: IncomingMessage, response: ServerResponse) => Promise<void> | void;

const METHODS = new Set(['GET', 'HEAD', 'POST', 'PUT', 'PATCH', 'DELETE', 'OPTIONS']);

function answer(response: ServerResponse, status: number, message: string, headers: Record<string, string> = {}): void {
  response.writeHead(status, { 'content-type': 'application/json', 'x-content-type-options': 'nosniff', ...headers });
  response.end(JSON.stringify({ code: status === 405 ? 'method' : 'bad-request', message }));
}

const isReadable = (url: string): boolean => {
  try {
    decodeURIComponent(new URL(url, 'http://localhost').pathname);
    return true;
  } catch {
    return false; // an escape that stands for no character
  }
};

/** A server that hands everything it understands to `handler`, and waits for nobody who says nothing for `silenceMs`. */
export function createOwnServer(handler: Handler, silenceMs = SILENCE_MS): Server {
  const last = new WeakMap<Socket, IncomingMessage>();
  const server = createServer(
    // a long upload may take as long as it goes on
    { requestTimeout: 0, headersTimeout: silenceMs, connectionsCheckingInterval: Math.min(5000, silenceMs) },
    (request, response) => {
      last.set(request.socket, request);
      if (!METHODS.has(request.method ?? ''))
        return answer(response, 405, `${request.method} is not answered here.`, { allow: [...METHODS].join(', ') });
      if (!isReadable(request.url ?? '/')) return answer(response, 400, 'This address cannot be read.');
      if (request.url === '/favicon.ico') return void response.writeHead(308, { location: '/icon.svg' }).end();
      void handler(request, response);
    },
  );
  server.timeout = silenceMs;
  server.on('timeout', (socket: Socket) => {
    const request = last.get(socket);
    // whoever has said all waits for an answer, which may take its time
    if (request?.complete !== true) socket.destroy();
  });
  return server;
}
