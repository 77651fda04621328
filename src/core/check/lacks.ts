import type { Layer } from '../film/composition';
import { kindOf, type Film, type Media } from '../film/film';
import { framesText, type PlacedJoin } from '../film/timing';
import { effectNamed } from '../effects/registry';
import { channelAt } from '../motion/curve';
import { kindNamed } from '../recipes/kinds';
import { nextThing } from '../recipes/lacks';
import type { Finding } from './finding';
import type { FrameLook } from './look';

/** What the kind of a join needs and lacks: a subject, a hole, an outline, frames. */
export function checkNeeds(film: Film, media: Media, placed: PlacedJoin): Finding[] {
  // a wipe's outline is looked at frame by frame
  const kind = kindOf(placed.join);
  if (kind === 'cut' || kindNamed(kind).report !== undefined) return [];
  const lacking = nextThing(film, media, placed, { measured: undefined, report: null });
  if (lacking === null) return [];
  return [
    {
      kind: 'nothing arrives',
      from: placed.from,
      to: Math.max(placed.from, placed.to - 1),
      text: `${kindNamed(kind).name} lacks something that it needs.`,
      advice: lacking.text,
      repair: null,
    },
  ];
}

/** A matte covers something from this share of the frame on. */
const SOMETHING = 1e-4;

/** Frames of the overlap on which the thing that a join is about is cut out of nothing: its matte is not there. */
export function checkSubjects({ join, from, to }: PlacedJoin, film: Film, looks: readonly (FrameLook | null)[]): Finding[] {
  const kind = kindOf(join);
  if (kind === 'cut' || kindNamed(kind).need?.what !== 'subject') return [];
  const { matteId } = join.recipe!.settings as { readonly matteId: string | null };
  const matte = film.mattes.find((m) => m.id === matteId);
  // the looks begin one frame before the overlap
  const bare = looks.slice(1, 1 + to - from).flatMap((look, i) => {
    const found = look?.mattes.find((m) => m.matteId === matteId);
    return found !== undefined && found.area < SOMETHING ? [from + i] : [];
  });
  if (matte === undefined || bare.length === 0) return [];
  return [
    {
      kind: 'nothing arrives',
      from: bare[0]!,
      to: bare.at(-1)!,
      text: `${matte.name} covers nothing on ${framesText(bare.length)} of ${to - from}: nothing of it shows there.`,
      advice: 'Carry it over the whole overlap in Mask.',
      repair: null,
    },
  ];
}

/** What of an effect is too little to be seen to end: of a length, px, and of other amounts. */
const UNSEEN_PX = 0.6;
const UNSEEN = 0.04;
/** Effects that still work where the overlap ends, and are gone on the next frame. */
export function checkEffectEnds({ join, cut, to }: PlacedJoin): Finding[] {
  if (join.before + join.after < 2) return [];
  const last = to - 1 - cut;
  const goesOn = (l: Layer): boolean => l.visible && l.source.kind !== 'leaving' && channelAt(l.opacity, last, 1) > 0.1;
  const all = [
    ...join.finish.map((effect) => ({ effect, of: join.name, ends: undefined as number | undefined })),
    ...join.layers.filter(goesOn).flatMap((l) => l.effects.map((effect) => ({ effect, of: l.name, ends: l.span?.last }))),
  ];
  return all.flatMap(({ effect, of, ends }): Finding[] => {
    const { amount, name, params, endsInSight } = effectNamed(effect.kind);
    if (!effect.visible || amount === null || endsInSight !== true) return [];
    // one with a span of its own ends where that says, also past the overlap
    if (effect.span !== undefined || (ends !== undefined && ends > last)) return [];
    const value = Math.abs(channelAt(effect.params[amount] ?? params[amount]!.initial, last));
    if (value < (params[amount]!.isLength === true ? UNSEEN_PX : UNSEEN)) return [];
    const unit = params[amount]!.unit;
    return [
      {
        kind: 'cut off',
        from: to - 1,
        to: to - 1,
        text: `${name} of ${of} is cut off where the overlap ends: it is still ${Number(value.toFixed(1))}${unit === '' ? '' : ` ${unit}`}.`,
        advice: 'Let it fade out before, or give it a span of its own that lasts beyond the overlap.',
        repair: null,
      },
    ];
  });
}
