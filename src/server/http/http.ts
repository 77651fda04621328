import { createReadStream, type ReadStream } from 'node:fs';
import { stat } from 'node:fs/promises';
import { NextResponse, type NextRequest } from 'next/server';
import { LIMITS } from '../../core/film/limits';
import { dataFolder } from '../base/data-folder';
import { AppError, troubleOf } from '../base/errors';
import { parse } from '../base/parse';
import { windowSchema } from './request-schema';
import { foreignness } from './own-page';
import { reopenWorkshop } from '../workshop/workshop';

type Handler<P> = (request: NextRequest, context: { params: Promise<P> }) => Promise<Response>;

/** Runs a route; an AppError becomes its status with a message for the user, anything else a bare 500 and a log line. */
export function handle<P = object>(work: Handler<P>): Handler<P> {
  return async (request, context) => {
    try {
      const foreign = foreignness(request.method, request.headers);
      if (foreign !== null) throw new AppError('foreign', foreign);
      return await work(request, context);
    } catch (error) {
      const told = error instanceof AppError ? error : await trouble(error);
      if (told !== null) return NextResponse.json({ code: told.code, message: told.message }, { status: told.status });
      console.error(`${request.method} ${request.nextUrl.pathname}:`, error);
      return NextResponse.json({ code: 'internal', message: 'Something went wrong on the server; its log says what.' }, { status: 500 });
    }
  };
}

/** What the disk or the database complains of. The database is opened anew for the next request, as it may be mended by then. */
async function trouble(error: unknown): Promise<AppError | null> {
  const found = troubleOf(error, dataFolder());
  if (found === null) return null;
  console.error(found.message, error);
  const { code } = error as { code?: string };
  if (code?.startsWith('SQLITE_') === true && !/^SQLITE_(BUSY|LOCKED|FULL)/.test(code)) await reopenWorkshop();
  return found;
}

/** The window that a request comes from, by its own name; null where it gives none. */
export const windowOf = (request: NextRequest): string | null => parse(windowSchema, request.headers.get('x-irimi-window'));

/** @throws AppError 'bad-request' when the body is no JSON or is not said to be, 'too-large' over 32 MiB. */
export async function readJson(request: NextRequest): Promise<unknown> {
  if (!/^application\/json\b/i.test(request.headers.get('content-type') ?? ''))
    throw new AppError('bad-request', 'The request is not of the type application/json.');
  const text = new TextDecoder().decode(await readBytes(request, LIMITS.requestBytes, 'This change is too large to be stored at once.'));
  try {
    return JSON.parse(text) as unknown;
  } catch {
    throw new AppError('bad-request', 'The request is not JSON.');
  }
}

/** The body, counted as it comes: what it says of its length is not trusted. @throws AppError 'too-large' with the sentence given */
export async function readBytes(request: NextRequest, most: number, tooLarge: string): Promise<Uint8Array> {
  const chunks: Uint8Array[] = [];
  let size = 0;
  const reader = request.body?.getReader();
  for (let part = await reader?.read(); part !== undefined && !part.done; part = await reader?.read()) {
    const chunk = part.value as Uint8Array;
    size += chunk.length;
    if (size > most) {
      await reader?.cancel();
      throw new AppError('too-large', tooLarge);
    }
    chunks.push(chunk);
  }
  return new Uint8Array(Buffer.concat(chunks));
}

/** Serves a file, whole or the range the request asks for. @throws AppError 'not-found' */
export async function fileResponse(
  request: NextRequest,
  path: string,
  type: string,
  headers: Record<string, string> = {},
): Promise<Response> {
  const found = await stat(path).catch(() => null);
  if (found === null) throw new AppError('not-found', 'This file is not here (any more).');
  const range = /^bytes=(\d*)-(\d*)$/.exec(request.headers.get('range') ?? '');
  let start = 0;
  let end = found.size - 1;
  if (range !== null && (range[1] !== '' || range[2] !== '')) {
    start = range[1] === '' ? Math.max(0, found.size - Number(range[2])) : Number(range[1]);
    end = range[1] === '' || range[2] === '' ? end : Math.min(end, Number(range[2]));
    if (start > end) return new Response(null, { status: 416, headers: { 'content-range': `bytes */${found.size}` } });
  }
  return new Response(streamOf(createReadStream(path, { start, end: Math.max(start, end) })), {
    status: range === null ? 200 : 206,
    headers: {
      'content-type': type,
      'content-length': String(end - start + 1),
      'accept-ranges': 'bytes',
      'cross-origin-resource-policy': 'same-origin',
      ...(range === null ? {} : { 'content-range': `bytes ${start}-${end}/${found.size}` }),
      ...headers,
    },
  });
}

function streamOf(file: ReadStream): ReadableStream<Uint8Array> {
  const chunks = file[Symbol.asyncIterator]() as AsyncIterator<Buffer>;
  return new ReadableStream({
    async pull(controller) {
      const { done, value } = (await chunks.next()) as IteratorResult<Buffer, undefined>;
      if (done === true) controller.close();
      else controller.enqueue(value);
    },
    cancel() {
      file.destroy();
    },
  });
}
