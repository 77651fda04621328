import { readdir } from 'node:fs/promises';
import { join } from 'node:path';
import { parseArgs } from 'node:util';
import { EASE_NAMES, EASE_SHAPES, type EaseName } from '../core/motion/eases';
import { compose, translation, type Matrix } from '../core/geometry/matrix';
import { solveZoom, zoomMap, type SolverSettings } from '../core/recipes/zoom-through/cover-solver';
import { measureHole, type HoleShape } from '../core/recipes/hole-shape';
import { zoomNotes } from '../core/recipes/zoom-through/zoom-notes';
import { readPicture } from '../server/video/picture-files';
import { takes } from './help';
import { fromCaller, outputFile, writeText } from './output';
import { UsageError, wholeNumber } from './usage';

/** Pictures read at a time. */
const AT_ONCE = 3;

/**
 * `tool solve`: the move of a zoom through a hole whose mattes are numbered PNGs, white where the hole is. For each frame it gives the maps of the
 * leaving and of the entering picture, row by row, pixels of the frame from its centre.
 */
export async function solveCommand(args: readonly string[]): Promise<void> {
  const { values } = parseArgs({
    args: [...args],
    options: {
      ...{ hole: { type: 'string' }, width: { type: 'string' }, height: { type: 'string' }, out: { type: 'string' } },
      ...{ room: { type: 'string' }, entering: { type: 'string' }, ease: { type: 'string' }, start: { type: 'string' } },
    } as const,
  });
  if (values.hole === undefined || values.out === undefined || values.width === undefined || values.height === undefined)
    throw new UsageError(takes('solve'));
  const width = wholeNumber(values.width, '--width', 1);
  const height = wholeNumber(values.height, '--height', 1);
  const out = outputFile(values.out);
  const pictures = await numberedMattes(values.hole);
  const settings: SolverSettings = {
    room: roomOf(values.room),
    entering: enteringOf(values.entering),
    ease: EASE_SHAPES[easeOf(values.ease)],
    start: values.start === undefined ? 0 : wholeNumber(values.start, '--start', 0),
    startRate: 0,
    startPivot: null,
    mirrored: false,
    blurred: false,
  };
  const holes: (HoleShape | null)[] = [];
  for (let i = 0; i < pictures.length; i += AT_ONCE)
    holes.push(...(await Promise.all(pictures.slice(i, i + AT_ONCE).map((p) => readHole(p.path, width, height)))));
  const solution = solveZoom(width, height, holes, settings);
  const notes = zoomNotes(solution, (i) => pictures[i]!.number, 1).map((n) => n.text);
  const frames = pictures.map(({ number }, i) => ({
    frame: number,
    leaving: rounded(i <= solution.end ? zoomMap(solution.leaving[i]!) : outOfSight(zoomMap(solution.leaving[i]!), width)),
    entering: rounded(zoomMap(solution.entering[i]!)),
  }));
  await writeText(out, `${JSON.stringify({ frames, notes })}\n`);
}

async function numberedMattes(folder: string): Promise<{ readonly number: number; readonly path: string }[]> {
  const path = fromCaller(folder);
  const names = await readdir(path).catch(() => {
    throw new UsageError(`${folder} is no folder that can be read`);
  });
  const found = names.flatMap((name) => {
    const number = /(\d+)\.png$/i.exec(name)?.[1];
    return number === undefined ? [] : [{ number: Number(number), path: join(path, name) }];
  });
  if (found.length === 0) throw new UsageError(`${folder} holds no numbered PNGs`);
  return found.sort((a, b) => a.number - b.number);
}

async function readHole(path: string, width: number, height: number): Promise<HoleShape | null> {
  const picture = await readPicture(path);
  const coverage = new Uint8Array(picture.width * picture.height);
  for (let i = 0; i < coverage.length; i++) coverage[i] = picture.data[4 * i]!;
  return measureHole(coverage, picture.width, picture.height, width, height);
}

function roomOf(text: string | undefined): number {
  const percent = text === undefined ? 6 : Number(text);
  if (!(percent >= 0 && percent <= 100)) throw new UsageError(`--room takes a percentage from 0 to 100, not "${text}"`);
  return percent / 100;
}

function enteringOf(text = 'grows'): SolverSettings['entering'] {
  if (text === 'grows' || text === 'waits' || text === 'pushes on') return text;
  throw new UsageError(`--entering takes grows, waits or "pushes on", not "${text}"`);
}

function easeOf(text = 'soft both'): EaseName {
  const name = EASE_NAMES.find((n) => n === text);
  if (name === undefined) throw new UsageError(`--ease takes one of ${EASE_NAMES.join(', ')}, not "${text}"`);
  return name;
}

/** Where the move has ended the leaving picture is gone, though its hole is lost: it lies beside the frame. */
const outOfSight = (map: Matrix, width: number): Matrix => compose(map, translation(2 * width * (1 + Math.abs(map[0])), 0));

const rounded = (m: Matrix): number[] => m.map((v) => Math.round(v * 1e9) / 1e9);
