import type { ShotSide } from '../film/composition';
import { byId, type Film, type Media } from '../film/film';
import { framesText, mediumFramesPerFilmFrame, mediumOf, shotFrameAt, startsAround, type PlacedJoin } from '../film/timing';
import { broughtTogether, interestInFilm } from '../pair/bring-together';
import { type Finding } from './finding';
import { pictureJumps } from './jumps';
import { checkSubjects } from './lacks';
import type { FrameLook, MatteLook } from './look';

/** A matte whose shape differs so much from the mean of its neighbours, a share of itself, and so many times as much as it usually does, jumps. */
const SHAPE_JUMP = 0.07;
const SHAPE_TIMES = 3.5;
/** One that is so much larger or smaller than between its neighbours, or so far off them, jumps: shares of itself, and of the frame's width. */
const AREA_JUMP = 0.14;
const PLACE_JUMP = 0.02;
/** Mattes smaller than this share of the frame are too small to judge. */
const SMALL_MATTE = 0.002;
/** Along so much of its edge, on any frame, a hole leaks. */
const LEAK_SHARE = 0.18;
/** A picture that differs so much from the one before, 0..255, and so many times as much as those around, is another scene. */
const SCENE_STEP = 18;
const SCENE_TIMES = 4;
/** A shot whose pictures differ by so much moves; one that differs by less than such a share of that is the same. */
const LIVELY = 0.35;
const SAME = 0.02;
/** Where the eye is may jump so far at a cut, a share of the frame's width. */
const EYE_JUMP = 0.12;
/** Of a shot's frames at least this share has to stand still, or be left out, to be told. */
const UNEVEN = 0.08;

const median = (values: readonly number[]): number => [...values].sort((a, b) => a - b)[Math.floor(values.length / 2)] ?? 0;

/**
 * What an attentive viewer would notice that can only be told from the pictures. `looks` are those of the overlap's frames, with one frame before
 * and one after.
 */
export function checkLooks(film: Film, media: Media, placed: PlacedJoin, looks: readonly (FrameLook | null)[]): Finding[] {
  const frameOf = (i: number): number => placed.from - 1 + i;
  return [
    ...pictureJumps(placed, looks, frameOf),
    ...checkSubjects(placed, film, looks),
    ...mattes(film, media, looks, frameOf),
    ...scenes(placed, looks, frameOf),
    ...repeats(film, media, placed, looks, frameOf),
  ];
}

/** What can be told of how shots run, and where the eye is, without any picture. */
export function checkTiming(film: Film, media: Media, placed: PlacedJoin): Finding[] {
  return [...unevenFrames(film, media, placed), ...eyeJump(film, media, placed)];
}

function mattes(film: Film, media: Media, looks: readonly (FrameLook | null)[], frameOf: (i: number) => number): Finding[] {
  const ids = [...new Set(looks.flatMap((l) => l?.mattes.map((m) => m.matteId) ?? []))];
  return ids.flatMap((id) => {
    const row = looks.map((l) => l?.mattes.find((m) => m.matteId === id) ?? null);
    const { name } = byId(film.mattes, id, 'matte');
    return [...jumpsOf(film, name, row, frameOf), ...leakOf(film, media, name, row, frameOf)];
  });
}

/** How far a matte lies off what its neighbours make likely, as a share of what is told as a jump; and in which way. */
function offOf(
  film: Film,
  row: readonly (MatteLook | null)[],
  i: number,
  usualShape: number,
): { readonly much: number; readonly what: string } {
  const none = { much: 0, what: '' };
  const [before, look, after] = [row[i - 1], row[i], row[i + 1]];
  if (look == null || before == null || after == null) return none;
  if (Math.min(look.area, before.area, after.area) < SMALL_MATTE) return none;
  // a matte that comes into the frame or leaves it changes on both sides
  if (Math.abs(before.area / after.area - 1) >= AREA_JUMP) return none;
  const off = look.area / ((before.area + after.area) / 2) - 1;
  const away = Math.hypot(look.x - (before.x + after.x) / 2, look.y - (before.y + after.y) / 2);
  const [byArea, byPlace] = [Math.abs(off) / AREA_JUMP, away / (PLACE_JUMP * film.width)];
  const byShape = shapeOff(before, look, after) / Math.max(SHAPE_JUMP, SHAPE_TIMES * usualShape);
  if (byShape > Math.max(byArea, byPlace))
    return { much: byShape, what: 'has another outline, or a hole, that the frames beside it do not have' };
  return byArea >= byPlace
    ? { much: byArea, what: `is ${Math.round(100 * Math.abs(off))} % ${off > 0 ? 'larger' : 'smaller'} than on the frames beside it` }
    : { much: byPlace, what: `lies ${Math.round(away)} px off where it is on the frames beside it` };
}

/** How much the shape of a matte differs from the mean of those beside it, a share of what it covers. */
function shapeOff(before: MatteLook, look: MatteLook, after: MatteLook): number {
  const sum = look.squares.reduce((all, v) => all + v, 0);
  const off = look.squares.reduce((all, v, k) => all + Math.abs(v - (before.squares[k]! + after.squares[k]!) / 2), 0);
  return sum === 0 ? 0 : off / sum;
}

/** Frames on which a matte lies off what its neighbours make likely; a frame that is off makes its neighbours seem so too. */
function jumpsOf(film: Film, name: string, row: readonly (MatteLook | null)[], frameOf: (i: number) => number): Finding[] {
  const shapes = row.flatMap((look, i) => {
    const [before, after] = [row[i - 1], row[i + 1]];
    return look == null || before == null || after == null ? [] : [shapeOff(before, look, after)];
  });
  const usual = Math.max(1e-3, median(shapes));
  const offs = row.map((_, i) => offOf(film, row, i, usual));
  return offs.flatMap(({ much, what }, i): Finding[] => {
    if (much < 1 || much < Math.max(offs[i - 1]?.much ?? 0, offs[i + 1]?.much ?? 0)) return [];
    const { x, y } = row[i]!;
    return [
      {
        kind: 'matte jump',
        from: frameOf(i),
        to: frameOf(i),
        place: { x, y },
        text: `${name} jumps on frame ${frameOf(i)}: it ${what}.`,
        advice: 'Correct this frame in Mask and carry from it.',
        repair: null,
      },
    ];
  });
}

/** A hole along whose edge what was cut out still shows, on its worst frame. */
function leakOf(film: Film, media: Media, name: string, row: readonly (MatteLook | null)[], frameOf: (i: number) => number): Finding[] {
  const frames = row.flatMap((look, i) => (look?.leak != null && look.leak.share >= LEAK_SHARE ? [i] : []));
  if (frames.length === 0) return [];
  const worst = frames.reduce((a, b) => (row[b]!.leak!.share > row[a]!.leak!.share ? b : a));
  const { matteId, leak } = row[worst]!;
  const medium = media.get(byId(film.mattes, matteId, 'matte').mediumId);
  const fill = medium === undefined ? 1 : Math.max(film.width / medium.width, film.height / medium.height);
  const byPx = Math.max(1, Math.ceil(leak!.widthPx / fill));
  return [
    {
      kind: 'leak',
      from: frameOf(frames[0]!),
      to: frameOf(frames.at(-1)!),
      best: frameOf(worst),
      place: leak!.at,
      text: `Along ${Math.round(100 * leak!.share)} % of the edge of ${name} what was cut out still shows, most on frame ${frameOf(worst)}.`,
      advice: `Let the hole grow by ${byPx} px, or correct its edge in Mask.`,
      repair: { kind: 'grow matte', matteId, byPx },
    },
  ];
}

/** How much each of a shot's small pictures differs from the one before, 0..255; null where one of the two is not there. */
const stepsOf = (looks: readonly (FrameLook | null)[], side: ShotSide): readonly (number | null)[] =>
  looks.map((look, i) => {
    const [now, before] = [look?.shots[side] ?? null, looks[i - 1]?.shots[side] ?? null];
    return now === null || before === null ? null : now.reduce((sum, v, k) => sum + Math.abs(v - before[k]!), 0) / now.length;
  });

/** Frames on which a shot that moves shows the very picture of the frame before: its medium has it twice. */
function repeats(
  film: Film,
  media: Media,
  placed: PlacedJoin,
  looks: readonly (FrameLook | null)[],
  frameOf: (i: number) => number,
): Finding[] {
  return (['leaving', 'entering'] as const).flatMap((side) => {
    const steps = stepsOf(looks, side);
    const usual = median(steps.flatMap((s) => (s === null ? [] : [s])));
    const shown = (frame: number): number | null => shotFrameAt(film, media, placed[side], startsAround(placed)[side], frame);
    if (usual < LIVELY) return [];
    return steps.flatMap((step, i): Finding[] => {
      const at = frameOf(i);
      // the same picture of its medium is the rate's doing, and told as that
      if (step === null || step > SAME * usual || shown(at) === shown(at - 1)) return [];
      return [
        {
          kind: 'repeated',
          from: at,
          to: at,
          text: `${placed[side].name} shows the same picture on frame ${at} as on the one before, while it moves.`,
          advice: 'Its media has this picture twice: slide the shot, or run it a little faster here.',
          repair: null,
        },
      ];
    });
  });
}

/** Frames within the overlap on which a shot goes over to another scene of its medium. */
function scenes(placed: PlacedJoin, looks: readonly (FrameLook | null)[], frameOf: (i: number) => number): Finding[] {
  const { join, cut } = placed;
  return (['leaving', 'entering'] as const).flatMap((side) => {
    const steps = stepsOf(looks, side);
    const usual = median(steps.flatMap((s) => (s === null ? [] : [s])));
    return steps.flatMap((step, i): Finding[] => {
      if (step === null || step < Math.max(SCENE_STEP, SCENE_TIMES * usual)) return [];
      const at = frameOf(i);
      // a shot shows in the overlap only as far as that goes on
      if (side === 'leaving' ? at >= placed.to : at <= placed.from) return [];
      const repair =
        side === 'leaving' && at > cut
          ? ({ kind: 'overlap', before: join.before, after: at - cut } as const)
          : side === 'entering' && at < cut
            ? ({ kind: 'overlap', before: cut - at, after: join.after } as const)
            : null;
      return [
        {
          kind: 'scene change',
          from: at,
          to: at,
          text: `${placed[side].name} changes to another scene on frame ${at}, within the join.`,
          advice: 'Shift the shot, or let the overlap end before.',
          repair,
        },
      ];
    });
  });
}

/** Shots that stand still, or leave pictures out, now and then: their rate is another than the film's. */
function unevenFrames(film: Film, media: Media, placed: PlacedJoin): Finding[] {
  return (['leaving', 'entering'] as const).flatMap((side: ShotSide): Finding[] => {
    const shot = placed[side];
    const medium = mediumOf(media, shot);
    if (medium === null || shot.time !== undefined || medium.kind === 'still' || placed.to - placed.from < 4) return [];
    const shown = Array.from({ length: placed.to - placed.from }, (_, i) =>
      shotFrameAt(film, media, shot, startsAround(placed)[side], placed.from + i),
    );
    const steps = shown.slice(1).flatMap((f, i) => (f === null || shown[i] == null ? [] : [f - shown[i]]));
    const stands = steps.filter((s) => s === 0).length;
    const leaves = steps.filter((s) => s > Math.ceil(mediumFramesPerFilmFrame(film, medium) - 1e-6)).length;
    const skips = mediumFramesPerFilmFrame(film, medium) > 1.02 ? steps.filter((s) => s > 1).length : leaves;
    const [count, what] = stands >= skips ? [stands, 'stands still on'] : [skips, 'leaves a picture out on'];
    if (steps.length === 0 || count < Math.max(1, UNEVEN * steps.length) || count === steps.length) return [];
    const perSecond = (medium.rate.numerator / medium.rate.denominator).toFixed(2).replace(/\.?0+$/, '');
    return [
      {
        kind: 'uneven',
        from: placed.from,
        to: placed.to - 1,
        text: `${shot.name} ${what} ${framesText(count)} of the overlap: it has ${perSecond} pictures a second.`,
        advice: 'Make the pictures between by motion.',
        repair: { kind: 'between', side },
      },
    ];
  });
}

/** How far the eye has to go at a cut, where it was marked in both shots. */
function eyeJump(film: Film, media: Media, placed: PlacedJoin): Finding[] {
  if (placed.to > placed.from) return [];
  const [a] = interestInFilm(film, media, placed, 'leaving', placed.cut - 1);
  const [b] = interestInFilm(film, media, placed, 'entering', placed.cut);
  if (a === undefined || b === undefined) return [];
  const away = Math.hypot(a.x - b.x, a.y - b.y);
  if (away < EYE_JUMP * film.width) return [];
  return [
    {
      kind: 'eye jump',
      from: placed.cut,
      to: placed.cut,
      place: { x: b.x, y: b.y },
      text: `The eye jumps ${Math.round(away)} px at the cut, from one marked point to the other.`,
      advice: 'Bring both together by shifting the entering shot.',
      repair: broughtTogether(film, media, placed) === null ? null : { kind: 'bring together' },
    },
  ];
}
