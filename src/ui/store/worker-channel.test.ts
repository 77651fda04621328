import { expect, it } from 'vitest';
import { WorkerChannel, type WorkerPort } from './worker-channel';

type Request = { readonly kind: 'double'; readonly job: number; readonly of: number } | { readonly kind: 'forget' };
type Reply =
  | { readonly kind: 'doubled'; readonly job: number; readonly is: number }
  | { readonly kind: 'dropped'; readonly job: number }
  | { readonly kind: 'failed'; readonly job: number; readonly reason: string };

/** A worker that keeps what it is sent, and answers when told to. */
function held(): { port: WorkerPort; sent: Request[]; reply(reply: Reply): void } {
  const sent: Request[] = [];
  const port: WorkerPort = {
    onmessage: null,
    onerror: null,
    postMessage: (message) => void sent.push(message as Request),
    terminate: () => undefined,
  };
  return { port, sent, reply: (data) => port.onmessage?.({ data } as MessageEvent) };
}

it('gives each answer to whoever asked, in whatever order they come', async () => {
  const { port, sent, reply } = held();
  const channel = new WorkerChannel<Request, Reply>(port, 'The doubler');
  const [first, second] = [channel.ask({ kind: 'double', of: 3 }), channel.ask({ kind: 'double', of: 4 })];
  channel.tell({ kind: 'forget' });
  expect(sent).toEqual([{ kind: 'double', of: 3, job: 1 }, { kind: 'double', of: 4, job: 2 }, { kind: 'forget' }]);
  reply({ kind: 'doubled', job: 2, is: 8 });
  reply({ kind: 'doubled', job: 1, is: 6 });
  reply({ kind: 'doubled', job: 1, is: 7 }); // answered already
  expect([(await first)?.is, (await second)?.is]).toEqual([6, 8]);
});

it('gives null for what was dropped, and says why something failed', async () => {
  const { port, reply } = held();
  const channel = new WorkerChannel<Request, Reply>(port, 'The doubler');
  const [first, second] = [channel.ask({ kind: 'double', of: 3 }), channel.ask({ kind: 'double', of: 4 })];
  reply({ kind: 'dropped', job: 1 });
  reply({ kind: 'failed', job: 2, reason: 'four is too many' });
  expect(await first).toBeNull();
  await expect(second).rejects.toThrow('four is too many');
});

it('fails all that waits when the worker stops', async () => {
  const { port } = held();
  const channel = new WorkerChannel<Request, Reply>(port, 'The doubler');
  const asked = channel.ask({ kind: 'double', of: 3 });
  port.onerror?.({ message: '' } as ErrorEvent);
  await expect(asked).rejects.toThrow('The doubler stopped. Reload the page.');
});
