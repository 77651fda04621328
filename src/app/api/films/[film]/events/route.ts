import { listenToFilm } from '../../../../../server/base/events';
import { parse } from '../../../../../server/base/parse';
import { idSchema } from '../../../../../server/http/request-schema';
import { handle } from '../../../../../server/http/http';
import { getWorkshop } from '../../../../../server/workshop/workshop';

export const dynamic = 'force-dynamic';

/** Server-sent events of one film; the first comes at once. */
export const GET = handle<{ film: string }>(async (request, { params }) => {
  const id = parse(idSchema, (await params).film);
  await getWorkshop();
  const text = new TextEncoder();
  let stop = (): void => undefined;
  const body = new ReadableStream<Uint8Array>({
    start(controller) {
      const send = (line: string): void => controller.enqueue(text.encode(line));
      const off = listenToFilm(id, (event) => send(`data: ${JSON.stringify(event)}\n\n`));
      const beat = setInterval(() => send(': still here\n\n'), 20_000);
      stop = () => {
        off();
        clearInterval(beat);
      };
      send('retry: 1500\n\n');
      request.signal.addEventListener('abort', () => {
        stop();
        controller.close();
      });
    },
    cancel() {
      stop();
    },
  });
  return new Response(body, { headers: { 'content-type': 'text/event-stream', 'cache-control': 'no-cache, no-transform' } });
});
