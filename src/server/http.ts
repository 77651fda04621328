import { createReadStream, type ReadStream } from 'node:fs';
import { stat } from 'node:fs/promises';
import { NextResponse, type NextRequest } from 'next/server';
import { AppError } from './errors';

type Handler<P> = (request: NextRequest, context: { params: Promise<P> }) => Promise<Response>;

/** Runs a route; an AppError becomes its status with a message for the user, anything else a bare 500 and a log line. */
export function handle<P = object>(work: Handler<P>): Handler<P> {
  return async (request, context) => {
    try {
      requireOwnPage(request);
      return await work(request, context);
    } catch (error) {
      if (error instanceof AppError) return NextResponse.json({ code: error.code, message: error.message }, { status: error.status });
      console.error(`${request.method} ${request.nextUrl.pathname}:`, error);
      return NextResponse.json({ code: 'internal', message: 'Something went wrong on the server; its log says what.' }, { status: 500 });
    }
  };
}

/** Other sites a browser has open must not change films here. */
function requireOwnPage(request: NextRequest): void {
  const origin = request.headers.get('origin');
  if (origin !== null && new URL(origin).host !== request.headers.get('host'))
    throw new AppError('bad-request', 'Requests from other sites are not accepted.');
}

const MAX_JSON_BYTES = 32 * 2 ** 20;

/** @throws AppError 'bad-request' when the body is no JSON, 'too-large' over 32 MiB. */
export async function readJson(request: NextRequest): Promise<unknown> {
  if (Number(request.headers.get('content-length') ?? 0) > MAX_JSON_BYTES)
    throw new AppError('too-large', 'This change is too large to be stored at once.');
  try {
    return await request.json();
  } catch {
    throw new AppError('bad-request', 'The request is not JSON.');
  }
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
