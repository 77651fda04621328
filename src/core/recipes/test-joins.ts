import type { Film, Media } from '../film/film';
import { changed, sampleFilm, sampleMedium } from '../film/sample-film';
import { placedJoins, type PlacedJoin } from '../film/timing';
import { createImage, type Image } from '../image/pixels';
import { corner } from '../matte/outline/outline';
import { planFrame } from '../plan/plan-film';
import type { PictureRef } from '../plan/frame-plan';
import { CpuCompositor } from '../render/cpu/compositor';
import { measureHole, type HoleShape } from './hole-shape';
import { fillPolygon, HARD_EDGE } from '../geometry/polygon-raster';
import { flattenOutline, transformPoint } from '../matte/outline/outline';
import { translation } from '../geometry/matrix';

/** Joins for tests: shots of one colour each, so that a drawn frame tells what shows where. */

/** Four shots of 60 frames each of their own medium, with handles of 20 on either side; 160 × 90. */
export const MEDIA: Media = new Map(['a', 'b', 'c', 'd'].map((id) => [id, sampleMedium(id, 100)]));

export const REEL: Film = changed(sampleFilm([...MEDIA.values()]), (d) => {
  for (const shot of d.shots) {
    shot.inFrame = 20;
    shot.length = 60;
  }
  const points = [corner(-20, -20), corner(20, -20), corner(20, 20), corner(-20, 20)];
  for (const mediumId of MEDIA.keys())
    d.mattes.push({
      id: `box-${mediumId}`,
      mediumId,
      name: `Box ${mediumId}`,
      outline: { closed: true, keys: [{ frame: 0, ease: 'straight', points }] },
    });
});

export const joinAt = (film: Film, i = 0): PlacedJoin => placedJoins(film)[i]!;

const COLOURS: Readonly<Record<string, readonly [number, number, number]>> = {
  a: [255, 0, 0],
  b: [0, 255, 0],
  c: [0, 0, 255],
  d: [255, 255, 0],
};

const SIZE = [160, 90] as const;
const compositor = new CpuCompositor(...SIZE);

/** Draws a film frame as it is shown, with every picture of one colour: red, green, blue and yellow for the media a to d. */
export function drawn(film: Film, frame: number): Image {
  const out = createImage(...SIZE);
  const flat = ({ mediumId }: PictureRef): Image => {
    const [r, g, b] = COLOURS[mediumId]!;
    return { width: 1, height: 1, data: new Uint8ClampedArray([r, g, b, 255]) };
  };
  compositor.draw(planFrame(film, MEDIA, frame, { samples: 4 }), flat, out, () => null);
  return out;
}

/** The least that any pixel of a frame is covered, 0..255. */
export function leastCovered({ data }: Image): number {
  let least = 255;
  for (let i = 3; i < data.length; i += 4) least = Math.min(least, data[i]!);
  return least;
}

/** The colour of a pixel, counted from the frame's middle. */
export const pixel = ({ data, width, height }: Image, x: number, y: number): readonly number[] => {
  const i = 4 * ((y + height / 2) * width + x + width / 2);
  return [...data.slice(i, i + 4)];
};

/** What is measured of a box of film pixels. */
export function measuredBox(left: number, top: number, right: number, bottom: number): HoleShape {
  const coverage = new Uint8Array(SIZE[0] * SIZE[1]);
  const points = [corner(left, top), corner(right, top), corner(right, bottom), corner(left, bottom)];
  const shifted = points.map((p) => transformPoint(p, translation(SIZE[0] / 2, SIZE[1] / 2)));
  fillPolygon(flattenOutline(shifted), HARD_EDGE, ...SIZE, coverage);
  return measureHole(coverage, ...SIZE, ...SIZE)!;
}

/** How many random cases a test goes through: a quarter of `all` as part of every run, all with `IRIMI_LONG=1`. */
export const casesOf = (all: number): number => (process.env.IRIMI_LONG === '1' ? all : Math.ceil(all / 4));

/** A row of chances that is the same on every run. */
export function chances(seed: number): (below: number) => number {
  let state = seed;
  return (below) => {
    state = (Math.imul(state, 1103515245) + 12345) & 0x7fffffff;
    return Math.floor((state / 0x80000000) * below);
  };
}
