import { once } from 'node:events';
import type { Server } from 'node:http';
import { connect, type AddressInfo } from 'node:net';
import { afterEach, describe, expect, it } from 'vitest';
import { createOwnServer } from './serve';

let server: Server;
afterEach(() => new Promise<void>((resolve) => server.close(() => resolve())));

const SILENCE = 300;

async function port(handler: Parameters<typeof createOwnServer>[0]): Promise<number> {
  server = createOwnServer(handler, SILENCE);
  server.listen(0, '127.0.0.1');
  await once(server, 'listening');
  return (server.address() as AddressInfo).port;
}

/** What comes back on a connection on which `sent` is said, and how long it stays open. */
async function said(at: number, sent: string): Promise<{ readonly text: string; readonly ms: number }> {
  const began = performance.now();
  const socket = connect(at, '127.0.0.1');
  let text = '';
  socket.on('data', (part: Buffer) => (text += part.toString()));
  socket.on('error', () => undefined); // closed on us, which is what is looked at
  socket.write(sent);
  await once(socket, 'close');
  return { text, ms: performance.now() - began };
}

const HOST = 'Host: 127.0.0.1\r\nConnection: close\r\n';

describe('a connection that says nothing', () => {
  it.each([
    ['at all', ''],
    ['after the first line', 'POST / HTTP/1.1\r\n'],
    ['of the body it promised', `POST / HTTP/1.1\r\n${HOST}Content-Length: 100\r\n\r\n{`],
  ])('%s is closed', async (_, sent) => {
    const at = await port(() => undefined);
    const { ms } = await said(at, sent);
    expect(ms).toBeGreaterThan(SILENCE * 0.8);
    expect(ms).toBeLessThan(SILENCE * 6);
  });

  it('because it has said all and waits is answered', async () => {
    const at = await port(async (_, response) => {
      await new Promise((resolve) => setTimeout(resolve, 3 * SILENCE));
      response.end('late');
    });
    expect((await said(at, `GET /slow HTTP/1.1\r\n${HOST}\r\n`)).text).toMatch(/200 OK[^]*late/);
  });

  it('but goes on in time may take as long as it likes', async () => {
    const at = await port((request, response) => {
      let size = 0;
      request.on('data', (part: Buffer) => (size += part.length));
      request.on('end', () => response.end(`${size} bytes`));
    });
    const socket = connect(at, '127.0.0.1');
    let text = '';
    socket.on('data', (part: Buffer) => (text += part.toString()));
    socket.write(`POST / HTTP/1.1\r\n${HOST}Content-Length: 8\r\n\r\n`);
    for (let n = 0; n < 8; n++) {
      await new Promise((resolve) => setTimeout(resolve, SILENCE / 2));
      socket.write('x');
    }
    await once(socket, 'close');
    expect(text).toMatch(/8 bytes/);
  });
});

it('answers what no page gets to see', async () => {
  const at = await port((_, response) => void response.end('a page'));
  const ask = async (line: string): Promise<string> => (await said(at, `${line} HTTP/1.1\r\n${HOST}\r\n`)).text;
  expect(await ask('TRACE /')).toMatch(/^HTTP\/1.1 405 [^]*allow: GET/i);
  expect(await ask('GET /films/%ff')).toMatch(/^HTTP\/1.1 400 [^]*cannot be read/);
  expect(await ask('GET /favicon.ico')).toMatch(/^HTTP\/1.1 308 [^]*location: \/icon.svg/i);
  expect(await ask('GET /films')).toMatch(/a page/);
});
