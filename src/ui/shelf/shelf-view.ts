import type { Bin, Film } from '../../core/film/film';
import type { ShelfMedium } from '../../core/film/media-facts';
import { usesOfMedium } from '../../core/film/references';

/** What of the shelf is shown, and in what order. */

export const SORTS = ['order imported', 'name', 'length', 'size of the file'] as const;
export type Sort = (typeof SORTS)[number];

export const FILTERS = ['everything', 'video', 'stills', 'sound', 'used', 'unused'] as const;
export type Filter = (typeof FILTERS)[number];

export interface ShelfView {
  readonly sought: string;
  readonly filter: Filter;
  readonly sort: Sort;
  /** Cards with pictures, or rows of text. */
  readonly look: 'pictures' | 'list';
}

export const PLAIN_VIEW: ShelfView = { sought: '', filter: 'everything', sort: 'order imported', look: 'pictures' };

/** What a medium is called on the shelf. */
export const titleOf = ({ facts, sound, name }: ShelfMedium): string => facts?.name ?? sound?.name ?? name;

const seconds = ({ facts, sound }: ShelfMedium): number =>
  facts === null ? (sound?.samples ?? 0) / 48_000 : (facts.frames * facts.rate.denominator) / facts.rate.numerator;

const ORDER: Readonly<Record<Sort, (a: ShelfMedium, b: ShelfMedium) => number>> = {
  'order imported': () => 0,
  name: (a, b) => titleOf(a).localeCompare(titleOf(b), undefined, { numeric: true }),
  length: (a, b) => seconds(b) - seconds(a),
  'size of the file': (a, b) => b.bytes - a.bytes,
};

/** The media of a shelf that a view shows. */
export function shownOnShelf(film: Film, shelf: readonly ShelfMedium[], { sought, filter, sort }: ShelfView): readonly ShelfMedium[] {
  const off = new Set(film.offShelf);
  const words = sought.toLowerCase().split(/\s+/).filter((w) => w !== ''); // prettier-ignore
  const isMeant = (m: ShelfMedium): boolean => {
    switch (filter) {
      case 'everything':
        return true;
      case 'video':
        return m.facts?.kind === 'video';
      case 'stills':
        return m.facts?.kind === 'still';
      case 'sound':
        return m.facts === null && m.sound !== null;
      case 'used':
        return usesOfMedium(film, m.id).length > 0;
      case 'unused':
        return usesOfMedium(film, m.id).length === 0;
    }
  };
  const isFound = (m: ShelfMedium): boolean => words.every((w) => `${titleOf(m)} ${m.name}`.toLowerCase().includes(w));
  return shelf.filter((m) => !off.has(m.id) && isFound(m) && isMeant(m)).sort(ORDER[sort]); // prettier-ignore
}

/** A line of the shelf: a bin's head, or a medium. */
export type ShelfRow =
  | { readonly kind: 'bin'; readonly key: string; readonly bin: Bin; readonly count: number; readonly isOpen: boolean }
  | { readonly kind: 'medium'; readonly key: string; readonly medium: ShelfMedium; readonly isInBin: boolean };

/**
 * The lines of a shelf that shows `shown`: bins by name, each with what lies in it unless it is shut, then what lies in none. While
 * something is looked for, bins without it are left out, and those with it are open.
 */
export function shelfRows(film: Film, shown: readonly ShelfMedium[], view: ShelfView, shut: ReadonlySet<string>): readonly ShelfRow[] {
  const binned = new Set<string>();
  const rows: ShelfRow[] = [];
  const isSeeking = view.sought.trim() !== '' || view.filter !== 'everything';
  for (const bin of [...(film.bins ?? [])].sort((a, b) => a.name.localeCompare(b.name, undefined, { numeric: true }))) {
    const held = new Set(bin.mediumIds);
    const inside = shown.filter((m) => held.has(m.id));
    for (const m of inside) binned.add(m.id);
    if (isSeeking && inside.length === 0) continue;
    const isOpen = isSeeking || !shut.has(bin.id);
    rows.push({ kind: 'bin', key: bin.id, bin, count: inside.length, isOpen });
    if (isOpen) rows.push(...inside.map((medium) => ({ kind: 'medium' as const, key: medium.id, medium, isInBin: true })));
  }
  const loose = shown.filter((m) => !binned.has(m.id));
  return [...rows, ...loose.map((medium) => ({ kind: 'medium' as const, key: medium.id, medium, isInBin: false }))];
}
