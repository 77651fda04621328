import type { Image } from '../../core/image/pixels';
import type { Compositor } from '../../core/render/compositor';
import { LayerPreparation } from '../../core/render/prepare-layer';
import { CpuCompositor } from '../../core/render/cpu/compositor';
import { drawView, type Compositors } from './draw';
import { Measurer } from './measure';
import type { FramesReply, FramesRequest } from './protocol';
import { Sources } from './sources';

/** Where requests come from and replies go to: a worker's own scope, or a port. */
export interface FramesPort {
  onmessage: ((event: MessageEvent<FramesRequest>) => void) | null;
  postMessage(message: FramesReply, transfer: Transferable[]): void;
}

/** What only a browser has. */
export interface FramesHost {
  toBitmap(image: Image): Promise<ImageBitmap>;
}

type Answered = Extract<FramesRequest, { readonly job: number }>;

/** Draws and measures what is asked for on `port`. Whoever asks waits for the answer before asking again. */
export function serveFrames(port: FramesPort, { toBitmap }: FramesHost): void {
  const sources = new Sources();
  const preparation = new LayerPreparation();
  const compositors = new Map<string, Compositor>();
  const compositorOf: Compositors = (width, height) => {
    const key = `${width}x${height}`;
    const known = compositors.get(key) ?? new CpuCompositor(width, height, preparation);
    compositors.set(key, known);
    return known;
  };
  const measurer = new Measurer(sources, compositorOf);
  const reply = (message: FramesReply, transfer: Transferable[] = []): void => port.postMessage(message, transfer);

  const answer = async (request: Answered): Promise<void> => {
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
  port.onmessage = ({ data }) => {
    switch (data.kind) {
      case 'pictures':
        return sources.askOver(data.port);
      case 'mattes':
        sources.mattesUrl = data.url;
        return;
      case 'forget':
        return sources.forget(data.matteId, data.frame);
      default:
        return void answer(data).catch((error: Error) => reply({ kind: 'failed', job: data.job, reason: error.message }));
    }
  };
}
