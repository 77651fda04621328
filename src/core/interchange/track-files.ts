import type { Medium } from '../film/film';
import { regionAt, type Track, type TrackFrame } from '../track/track';
import type { Corner } from '../track/plane-template';

/** Files hold pixels of the medium, x right, y down, pixel centres at whole numbers; films hold pixels from its centre. */
const toFile = (points: readonly Corner[], { width, height }: Medium): Corner[] =>
  points.map(([x, y]) => [hundredth(x + width / 2 - 0.5), hundredth(y + height / 2 - 0.5)]);
const fromFile = (points: readonly Corner[], { width, height }: Medium): Corner[] =>
  points.map(([x, y]) => [x + 0.5 - width / 2, y + 0.5 - height / 2]);
const hundredth = (v: number): number => Math.round(100 * v) / 100;

/** Every frame on which the track's region is known, in order. */
export function knownFrames(track: Track): TrackFrame[] {
  const frames = new Set([...track.keys, ...track.frames].map((f) => f.frame));
  return [...frames].sort((a, b) => a - b).map((frame) => regionAt(track, frame)!);
}

/** {"name","model","frames":[{"frame","corners":[[x,y],…],"confidence"}]} */
export function trackToJson(track: Track, medium: Medium): string {
  const frames = knownFrames(track).map(({ frame, corners, confidence }) => ({ frame, corners: toFile(corners, medium), confidence }));
  return `${JSON.stringify({ name: track.name, model: track.model, frames }, null, 1)}\n`;
}

/** One line a frame: frame, confidence, x1, y1, x2, y2, … */
export function trackToCsv(track: Track, medium: Medium): string {
  const known = knownFrames(track);
  const corners = known[0]?.corners.length ?? 0;
  const head = ['frame', 'confidence', ...Array.from({ length: corners }, (_, i) => [`x${i + 1}`, `y${i + 1}`]).flat()];
  const lines = known.map((f) => [f.frame, hundredth(f.confidence), ...toFile(f.corners, medium).flat()].join(','));
  return `${[head.join(','), ...lines].join('\n')}\n`;
}

export interface ReadTrack {
  readonly name: string | null;
  /** Rising frames, at least one, all with the same number of corners, medium pixels from the centre. */
  readonly frames: readonly TrackFrame[];
}

const isNumber = (v: unknown): v is number => typeof v === 'number' && Number.isFinite(v);

function checked(name: string | null, frames: TrackFrame[]): ReadTrack {
  const [first] = frames;
  if (first === undefined) throw new RangeError('the file holds no frame');
  const bad = frames.find((f) => !Number.isInteger(f.frame) || f.frame < 0);
  if (bad !== undefined) throw new RangeError(`${bad.frame} is no frame number`);
  const odd = frames.find((f) => f.corners.length !== first.corners.length || f.corners.length < 3);
  if (odd !== undefined)
    throw new RangeError(`frame ${odd.frame} has ${odd.corners.length} corners; every frame needs the same number, three or more`);
  const sorted = [...frames].sort((a, b) => a.frame - b.frame);
  const twice = sorted.find((f, i) => sorted[i + 1]?.frame === f.frame);
  if (twice !== undefined) throw new RangeError(`frame ${twice.frame} is there twice`);
  return { name, frames: sorted };
}

function readJson(text: string, medium: Medium): ReadTrack {
  let value: unknown;
  try {
    value = JSON.parse(text);
  } catch {
    throw new RangeError('the file is neither JSON nor CSV that can be read');
  }
  const { frames, name } = (value ?? {}) as { frames?: unknown; name?: unknown };
  if (!Array.isArray(frames)) throw new RangeError('the file has no list "frames"');
  const read = frames.map((f: unknown): TrackFrame => {
    const { frame, corners, confidence } = (f ?? {}) as { frame?: unknown; corners?: unknown; confidence?: unknown };
    if (!isNumber(frame)) throw new RangeError('a frame has no number');
    const isCorner = (c: unknown): c is [number, number] => Array.isArray(c) && c.length === 2 && c.every(isNumber);
    if (!Array.isArray(corners) || !corners.every(isCorner)) throw new RangeError(`frame ${frame} has no corners`);
    return { frame, corners: fromFile(corners, medium), confidence: isNumber(confidence) ? Math.max(0, Math.min(1, confidence)) : 1 };
  });
  return checked(typeof name === 'string' ? name : null, read);
}

function readCsv(text: string, medium: Medium): ReadTrack {
  const lines = text.split(/\r?\n/).filter((l) => l.trim() !== '');
  const frames = lines.flatMap((line, i): TrackFrame[] => {
    const cells = line.split(/[,;\t]/).map((c) => c.trim());
    if (i === 0 && !isNumber(Number(cells[0]))) return []; // the line of names
    const [frame, confidence, ...places] = cells.map(Number);
    if (![frame, confidence, ...places].every(isNumber) || places.length % 2 !== 0)
      throw new RangeError(`line ${i + 1} does not read: frame, confidence, x1, y1, x2, y2, …`);
    const corners = Array.from({ length: places.length / 2 }, (_, k): [number, number] => [places[2 * k]!, places[2 * k + 1]!]);
    return [{ frame: frame!, corners: fromFile(corners, medium), confidence: Math.max(0, Math.min(1, confidence!)) }];
  });
  return checked(null, frames);
}

/** Reads what `trackToJson`, `trackToCsv` or `tool follow` wrote. @throws RangeError saying what is wrong. */
export const readTrack = (text: string, medium: Medium): ReadTrack =>
  text.trimStart().startsWith('{') ? readJson(text, medium) : readCsv(text, medium);
