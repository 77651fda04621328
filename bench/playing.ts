import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { kindOf, type Film } from '../src/core/film/film';
import type { JoinKind } from '../src/core/film/recipe-settings';
import { placedJoins } from '../src/core/film/timing';
import { toNumber } from '../src/core/geometry/rational';
import { Browser } from '../tests/screens/browser';
import { openDemo } from '../tests/screens/demo';
import type { Line } from './line';

const KINDS: readonly JoinKind[] = ['zoom through', 'melt', 'panels on the beat', 'tiles in space', 'wipe past', 'feature morph'];
const ROUNDS = 3;
const MOST_SECONDS = 20;

/** A frame the stage has shown, and when, ms. */
type Shown = readonly [frame: number, at: number];

/** Joins are played in the real page as soon as their first picture is there: frames shown a second and the longest gap, a round. */
export async function benchPlaying(): Promise<Line[]> {
  const folder = mkdtempSync(join(tmpdir(), 'irimi-bench-'));
  const demo = await openDemo(folder);
  const page = await Browser.open();
  try {
    const { film } = (await (await fetch(`${demo.server.url}/api/films/${demo.filmId}`)).json()) as { film: Film };
    const lines: Line[] = [];
    for (const kind of KINDS) {
      const placed = placedJoins(film).find((p) => kindOf(p.join) === kind);
      if (placed === undefined) continue;
      await page.driver.get(demo.joinUrl(placed.join.name, { step: 'move', view: 'result', frame: placed.from }));
      await page.stageShows(`result, frame ${placed.from}`);
      const shown = await page.driver.executeAsyncScript<Shown[]>(
        `const [most, rounds] = arguments, done = arguments[arguments.length - 1], shown = [];
         const stage = document.querySelector('canvas[data-stage]'), began = performance.now();
         let round = 1, last = -1;
         document.querySelector('[aria-label^="Play ("]').click();
         const look = () => {
           const now = performance.now(), frame = Number(stage.dataset.drawn.split(' ').pop());
           if (frame !== last) { if (frame < last) round++; shown.push([frame, now - began]); last = frame; }
           if (round > rounds || now - began > 1000 * most) { document.querySelector('[aria-label^="Pause ("]').click(); done(shown); }
           else requestAnimationFrame(look);
         };
         look();`,
        MOST_SECONDS,
        ROUNDS,
      );
      lines.push(...roundsOf(shown).map((round, i) => lineOf(kind, i + 1, round, toNumber(film.rate))));
    }
    return lines;
  } finally {
    await page.close();
    await demo.close();
    rmSync(folder, { recursive: true, force: true });
  }
}

/** What is shown, parted where it begins again; the last part is where it was stopped. */
function roundsOf(shown: readonly Shown[]): Shown[][] {
  const rounds: Shown[][] = [[]];
  for (const [i, one] of shown.entries()) {
    if (i > 0 && one[0] < shown[i - 1]![0]) rounds.push([]);
    rounds.at(-1)!.push(one);
  }
  return rounds.slice(0, -1);
}

function lineOf(kind: string, round: number, shown: readonly Shown[], rate: number): Line {
  const gaps = shown.slice(1).map(([, at], i) => at - shown[i]![1]);
  const seconds = gaps.reduce((sum, g) => sum + g, 0) / 1000;
  if (gaps.length === 0)
    return { what: `playing, ${kind}, round ${round}: frames shown`, value: String(shown.length), against: 'none after it' };
  return {
    what: `playing, ${kind}, round ${round}: frames shown a second`,
    value: (gaps.length / seconds).toFixed(1),
    against: `of ${rate}; longest gap ${Math.round(Math.max(...gaps))} ms`,
  };
}
