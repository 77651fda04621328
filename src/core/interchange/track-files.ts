import Papa from 'papaparse';
import type { Medium } from '../film/film';
import { centreOf, patchAround, regionAt, type Track, type TrackFrame, type TrackModel } from '../track/track';
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

/** What a file says of a frame: the point of a track that follows one, else its corners. */
const placesOf = (track: Track, { corners }: TrackFrame): readonly Corner[] => (track.model === 'position' ? [centreOf(corners)] : corners);

/** {"name","model","frames":[{"frame","corners":[[x,y],…],"confidence"}]}, or with "points":[[x,y]] where it follows a point. */
export function trackToJson(track: Track, medium: Medium): string {
  const frames = knownFrames(track).map((known) => ({
    frame: known.frame,
    [track.model === 'position' ? 'points' : 'corners']: toFile(placesOf(track, known), medium),
    confidence: known.confidence,
  }));
  return `${JSON.stringify({ name: track.name, model: track.model, frames }, null, 1)}\n`;
}

/** One line a frame: frame, confidence, x1, y1, x2, y2, …; one place where it follows a point. */
export function trackToCsv(track: Track, medium: Medium): string {
  const known = knownFrames(track);
  const places = known[0] === undefined ? 0 : placesOf(track, known[0]).length;
  const head = ['frame', 'confidence', ...Array.from({ length: places }, (_, i) => [`x${i + 1}`, `y${i + 1}`]).flat()];
  const lines = known.map((f) => [f.frame, hundredth(f.confidence), ...toFile(placesOf(track, f), medium).flat()].join(','));
  return `${[head.join(','), ...lines].join('\n')}\n`;
}

export interface ReadTrack {
  readonly name: string;
  readonly model: TrackModel;
  /** Rising frames, at least one, all with the same number of corners, medium pixels from the centre. */
  readonly frames: readonly TrackFrame[];
}

/** What a file says of one frame, in its own coordinates; a place is null where it cannot be seen. */
interface Line {
  readonly frame: number;
  readonly confidence: number;
  readonly places: readonly (Corner | null)[];
}

const MODELS: readonly TrackModel[] = ['position', 'similarity', 'affine', 'perspective'];
const isNumber = (v: unknown): v is number => typeof v === 'number' && Number.isFinite(v);
const isPlace = (c: unknown): c is Corner => Array.isArray(c) && c.length === 2 && c.every(isNumber);

/** The lines in order. @throws RangeError unless they are one track's, or several points'. */
function checked(lines: readonly Line[]): Line[] {
  const [first] = lines;
  if (first === undefined) throw new RangeError('the file holds no frame');
  const bad = lines.find((f) => !Number.isInteger(f.frame) || f.frame < 0);
  if (bad !== undefined) throw new RangeError(`${bad.frame} is no frame number`);
  const odd = lines.find((f) => f.places.length !== first.places.length);
  if (odd !== undefined)
    throw new RangeError(
      `frame ${odd.frame} has ${odd.places.length} places, frame ${first.frame} ${first.places.length}; every frame needs as many`,
    );
  const sorted = [...lines].sort((a, b) => a.frame - b.frame);
  const twice = sorted.find((f, i) => sorted[i + 1]?.frame === f.frame);
  if (twice !== undefined) throw new RangeError(`frame ${twice.frame} is there twice`);
  return sorted;
}

/** A track a place: each is a point of its own, left out on the frames on which it cannot be seen. */
function pointTracks(name: string, lines: readonly Line[], medium: Medium): ReadTrack[] {
  const count = lines[0]!.places.length;
  return Array.from({ length: count }, (_, k): ReadTrack => ({
    name: count === 1 ? name : `${name} ${k + 1}`,
    model: 'position',
    frames: lines.flatMap(({ frame, confidence, places }) => {
      const place = places[k] ?? null;
      return place === null ? [] : [{ frame, confidence, corners: patchAround(fromFile([place], medium)[0]!, medium.width) }];
    }),
  })).filter((track) => track.frames.length > 0);
}

function regionTrack(name: string, asked: TrackModel | undefined, lines: readonly Line[], medium: Medium): ReadTrack {
  const corners = lines[0]!.places.length;
  if (corners < 3) throw new RangeError(`frame ${lines[0]!.frame} has ${corners} corners; a region needs three or more`);
  const fitting = corners < 4 ? 'affine' : 'perspective';
  const model = asked === undefined || asked === 'position' || (asked === 'perspective' && corners < 4) ? fitting : asked;
  const frames = lines.map(({ frame, confidence, places }) => ({
    frame,
    confidence,
    corners: fromFile(
      places.filter((p) => p !== null),
      medium,
    ),
  }));
  return { name, model, frames };
}

function readJson(text: string, fileName: string, medium: Medium): ReadTrack[] {
  let value: unknown;
  try {
    value = JSON.parse(text);
  } catch {
    throw new RangeError('the file is neither JSON nor CSV that can be read');
  }
  const { frames, name, model } = (value ?? {}) as { frames?: unknown; name?: unknown; model?: unknown };
  if (!Array.isArray(frames)) throw new RangeError('the file has no list "frames"');
  const called = typeof name === 'string' ? name : fileName;
  const ofPoints = frames.some((f) => (f as { points?: unknown } | null)?.points !== undefined);
  const lines = checked(
    frames.map((f: unknown): Line => {
      const { frame, corners, points, confidence } = (f ?? {}) as {
        frame?: unknown;
        corners?: unknown;
        points?: unknown;
        confidence?: unknown;
      };
      if (!isNumber(frame)) throw new RangeError('a frame has no number');
      const places = ofPoints ? points : corners;
      const isRead = (p: unknown): p is Corner | null => isPlace(p) || (ofPoints && p === null);
      if (!Array.isArray(places) || !places.every(isRead)) throw new RangeError(`frame ${frame} has no ${ofPoints ? 'points' : 'corners'}`);
      return { frame, places, confidence: isNumber(confidence) ? within01(confidence) : 1 };
    }),
  );
  const asked = MODELS.find((m) => m === model);
  return ofPoints ? pointTracks(called, lines, medium) : [regionTrack(called, asked, lines, medium)];
}

const within01 = (v: number): number => Math.max(0, Math.min(1, v));

function readCsv(text: string, fileName: string, medium: Medium): ReadTrack[] {
  const { data } = Papa.parse<string[]>(text, { skipEmptyLines: 'greedy', delimitersToGuess: [',', ';', '\t'] });
  const lines = data.flatMap((row, i): Line[] => {
    const cells = row.map((c) => c.trim());
    if (i === 0 && !isNumber(Number(cells[0]))) return []; // the line of names
    const [frame, ...numbers] = cells.map((c) => (c === '' ? NaN : Number(c)));
    if (numbers.length < 2 || ![frame, ...numbers].every(isNumber))
      throw new RangeError(`line ${i + 1} does not read: frame, confidence, x1, y1, x2, y2, …`);
    const confidence = numbers.length % 2 === 1 ? numbers.shift()! : 1; // may be left out
    const places = Array.from({ length: numbers.length / 2 }, (_, k): Corner => [numbers[2 * k]!, numbers[2 * k + 1]!]);
    return [{ frame: frame!, confidence: within01(confidence), places }];
  });
  const read = checked(lines);
  return read[0]!.places.length === 1 ? pointTracks(fileName, read, medium) : [regionTrack(fileName, undefined, read, medium)];
}

/**
 * Reads what `trackToJson`, `trackToCsv` or `tool follow` wrote: one region, or points, each a track of its own. They are called as
 * the file says, or as the file is.
 * @throws RangeError saying what is wrong.
 */
export function readTracks(text: string, fileName: string, medium: Medium): ReadTrack[] {
  const tracks = text.trimStart().startsWith('{') ? readJson(text, fileName, medium) : readCsv(text, fileName, medium);
  if (tracks.length === 0) throw new RangeError('none of its points can be seen on any frame');
  return tracks;
}
