import type { Image } from '../../core/image/pixels';
import { Compositor } from '../../core/render/cpu/compositor';
import { drawView, type Compositors } from './draw';
import { Measurer } from './measure';
import type { FramesReply, FramesRequest, ProxySource } from './protocol';
import { Scheduler, type DrawRequest, type MeasureRequest } from './scheduler';
import { Sources, type Decoder } from './sources';

/** Where requests come from and replies go to: a worker's own scope, or a port. */
export interface FramesPort {
  onmessage: ((event: MessageEvent<FramesRequest>) => void) | null;
  postMessage(message: FramesReply, transfer: Transferable[]): void;
}

/** What only a browser has. */
export interface FramesHost {
  open(source: ProxySource): Decoder;
  toBitmap(image: Image): Promise<ImageBitmap>;
}

/** Draws and measures what is asked for on `port`, one job at a time, the most urgent first. */
export function serveFrames(port: FramesPort, { open, toBitmap }: FramesHost): void {
  const sources = new Sources(open);
  const compositors = new Map<string, Compositor>();
  const compositorOf: Compositors = (width, height) => {
    const key = `${width}x${height}`;
    const known = compositors.get(key) ?? new Compositor(width, height);
    compositors.set(key, known);
    return known;
  };
  const measurer = new Measurer(sources, compositorOf);
  const reply = (message: FramesReply, transfer: Transferable[] = []): void => port.postMessage(message, transfer);
  const waiting = new Scheduler((job) => reply({ kind: 'dropped', job }));
  let isBusy = false;

  const answer = async (request: DrawRequest | MeasureRequest): Promise<void> => {
    const { job } = request;
    switch (request.kind) {
      case 'draw': {
        const bitmap = await toBitmap(await drawView(sources, compositorOf, request));
        return reply({ kind: 'drawn', job, bitmap }, [bitmap]);
      }
      case 'measure':
        return reply({ kind: 'measured', job, empty: await measurer.measure(request.plan) });
      case 'measure hole':
        return reply({ kind: 'hole', job, hole: await measurer.holeOf(request.plan) });
      case 'align':
        return reply({ kind: 'aligned', job, ...(await measurer.align(request)) });
      case 'step':
        return reply({ kind: 'stepped', job, step: await measurer.step(request.plan, request.over) });
      case 'carry points':
        return reply({ kind: 'carried points', job, points: await measurer.carry(request) });
      case 'look':
        return reply({ kind: 'looked', job, look: await measurer.look(request.plans) });
    }
  };
  const work = async (): Promise<void> => {
    isBusy = true;
    for (let request = waiting.take(); request !== undefined; request = waiting.take()) {
      const { job } = request;
      await answer(request).catch((error: Error) => reply({ kind: 'failed', job, reason: error.message }));
      // let newer messages in: what the hand wants now goes before thumbnails
      await new Promise((resolve) => setTimeout(resolve, 0));
    }
    isBusy = false;
  };
  port.onmessage = ({ data }) => {
    switch (data.kind) {
      case 'media':
        return sources.add(data.media);
      case 'mattes':
        sources.mattesUrl = data.url;
        return;
      case 'forget':
        return sources.forget(data.matteId, data.frame);
      case 'drop measures':
        return waiting.dropMeasures(data.owner);
      case 'drop':
        return waiting.dropLane(data.lane);
      default:
        waiting.add(data);
        if (!isBusy) void work();
    }
  };
}
