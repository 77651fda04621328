// Browser worker: cuts mattes from strokes while they are painted.
import { shrunkTo } from '../core/image/image';
import { createPlane, type Image } from '../core/image/pixels';
import { StrokeCutter } from '../core/matte/cut/cut';
import { paintTouches } from '../core/matte/cut/touches';
import { analysisSize, bytesOf, paintingSize, planeOf, resized } from '../core/matte/coverage/resize';
import { placeStrokes } from '../core/matte/cut/strokes';
import type { CutReply, CutRequest } from './cut-protocol';
import type { Decoder } from './pictures/bank';
import { openDecoder } from './pictures/open-decoder';

const decoders = new Map<string, Decoder>();
/** The picture painted on, and what its cutters keep between strokes. */
let open: { readonly key: string; readonly picture: Image; fine: StrokeCutter | null; quick: StrokeCutter | null } | null = null;
let waiting: CutRequest | null = null;
let busy = false;

// copied, not transferred: once a thread has given a buffer away, every access to an array in it is checked for that
const reply = (message: CutReply): void => self.postMessage(message);

self.onmessage = ({ data }: MessageEvent<CutRequest>) => {
  if (waiting !== null) reply({ kind: 'dropped', job: waiting.job });
  waiting = data;
  if (!busy) void work();
};

async function work(): Promise<void> {
  busy = true;
  while (waiting !== null) {
    const request: CutRequest = waiting;
    waiting = null;
    try {
      const coverage = await cut(request);
      reply({ kind: 'cut', job: request.job, coverage });
    } catch (error) {
      reply({ kind: 'failed', job: request.job, reason: (error as Error).message });
    }
    // let newer strokes in
    await new Promise((resolve) => setTimeout(resolve, 0));
  }
  busy = false;
}

async function cut(request: CutRequest): Promise<{ width: number; height: number; data: Uint8Array<ArrayBuffer> }> {
  const { source, mediumWidth, mediumHeight, frame, quick, prior } = request;
  const full = analysisSize(mediumWidth, mediumHeight);
  const key = `${source.mediumId}:${frame}`;
  if (open?.key !== key) open = { key, picture: await pictureOf(request, full.width, full.height), fine: null, quick: null };
  const { width, height } = quick ? paintingSize(mediumWidth, mediumHeight) : full;
  const cutter = quick
    ? (open.quick ??= new StrokeCutter(shrunkTo(open.picture, width, height), true))
    : (open.fine ??= new StrokeCutter(open.picture));
  const strokes = placeStrokes(request.strokes, width / mediumWidth, width / 2, height / 2);
  const usable = prior !== null && prior.width === full.width && prior.height === full.height;
  const before = usable ? resized(planeOf(prior), width, height) : null;
  const isCut = strokes.keep.length + strokes.drop.length + (strokes.hair?.length ?? 0) > 0;
  const alpha = isCut ? cutter.cut(strokes, before) : (before ?? createPlane(width, height));
  paintTouches(alpha, strokes.touches ?? []);
  return { width, height, data: bytesOf(alpha) };
}

async function pictureOf({ source, frame }: CutRequest, width: number, height: number): Promise<Image> {
  let decoder = decoders.get(source.mediumId);
  if (decoder === undefined) decoders.set(source.mediumId, (decoder = openDecoder(source)));
  const full = await decoder.decode(frame);
  return shrunkTo(full, Math.min(width, full.width), Math.min(height, full.height));
}
