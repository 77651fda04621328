import { addShot } from '../../core/film/edits/reel';
import { addBin, putInBin, renameMedium, takeOffShelf } from '../../core/film/edits/shelf';
import { addClip } from '../../core/film/edits/sound';
import type { Bin } from '../../core/film/film';
import { isUsable, type ShelfMedium } from '../../core/film/media-facts';
import { usesOfMedium } from '../../core/film/references';
import type { MenuActions } from '../commands/context-menu';
import { call } from '../store/api';
import type { FilmStore } from '../store/film-store';
import { lookAt } from '../store/reel-choice';
import { askForShelfName, askToReplace, chooseMedia, chooseMedium, meantWith, useShelfChoice } from '../store/shelf-choice';
import { titleOf } from './shelf-view';
import { newId } from '../store/new-id';

const endOfLane = (lane: { readonly clips: readonly { readonly start: number; readonly length: number }[] } | undefined): number =>
  Math.max(0, ...(lane?.clips ?? []).map((c) => c.start + c.length));

/** What is done to media on the shelf. */
export function shelfActions(store: FilmStore) {
  const media = (ids: readonly string[]): readonly ShelfMedium[] => store.snapshot().shelf.filter((m) => ids.includes(m.id));
  const said = (list: readonly ShelfMedium[]): string => (list.length === 1 ? titleOf(list[0]!) : `${list.length} media`);
  return {
    /** Puts media behind all on the reel, sounds behind all in the first lane. */
    put(ids: readonly string[]): void {
      const ready = media(ids).filter(isUsable);
      const pictures = ready.filter((m) => m.facts !== null);
      const sounds = ready.filter((m) => m.facts === null && m.sound !== null);
      if (pictures.length > 0)
        store.edit(`Add ${said(pictures)} to the reel`, (d) => pictures.forEach((m) => addShot(d, m.facts!, d.shots.length, newId)));
      if (sounds.length > 0)
        store.edit(`Added ${said(sounds)} to the sound lanes`, (d) =>
          sounds.forEach((m) => void addClip(d, d.soundLanes?.[0]?.id ?? null, m.sound!, endOfLane(d.soundLanes?.[0]), newId)),
        );
    },
    /** Takes media off the shelf; what is not ready goes for good. What is used stays, and is told. */
    remove(ids: readonly string[]): void {
      const { film } = store.snapshot();
      const used = media(ids).filter((m) => usesOfMedium(film!, m.id).length > 0);
      const free = media(ids).filter((m) => !used.includes(m));
      for (const { id } of free.filter((m) => m.status !== 'ready'))
        call('DELETE', `/api/media/${id}`).then(
          () => store.refreshMedia(),
          (error: Error) => store.notify(error.message),
        );
      const ready = free.filter((m) => m.status === 'ready');
      if (ready.length > 0) store.edit(`Removed ${said(ready)} from the shelf`, (d) => ready.forEach((m) => takeOffShelf(d, m.id)));
      if (used.length > 0) store.notify(`${used.map(titleOf).join(', ')} stayed: ${used.length === 1 ? 'it is' : 'they are'} in use.`);
    },
    rename(medium: ShelfMedium, name: string): void {
      const title = titleOf(medium);
      if (name !== title) store.edit(`Renamed ${title} to ${name}`, (d) => renameMedium(d, medium.id, name));
    },
    /** Puts media in a bin; with null they lie in none. */
    putIn(ids: readonly string[], bin: Pick<Bin, 'id' | 'name'> | null): void {
      const what = said(media(ids));
      store.edit(bin === null ? `Took ${what} out of the bin` : `Put ${what} in ${bin.name}`, (d) => putInBin(d, ids, bin?.id ?? null));
    },
    /** Puts media in a new bin, whose name is asked for; without any it is empty. */
    putInNew(ids: readonly string[]): void {
      let made = '';
      store.edit(ids.length === 0 ? 'Added a bin' : `Put ${said(media(ids))} in a new bin`, (d) => {
        made = addBin(d, newId);
        putInBin(d, ids, made);
      });
      askForShelfName(made);
    },
    tellUses(medium: ShelfMedium): void {
      const uses = [...new Set(usesOfMedium(store.snapshot().film!, medium.id))];
      const title = titleOf(medium);
      store.notify(uses.length === 0 ? `Nothing uses ${title}.` : `${title} is used by ${uses.join(', ')}.`);
    },
  };
}

export type ShelfActions = ReturnType<typeof shelfActions>;

/** The menu of a medium; what it does is done to all that is chosen where the medium is among that. */
export function mediumMenu(store: FilmStore, actions: ShelfActions, medium: ShelfMedium, order: readonly string[]): MenuActions {
  const { film } = store.snapshot();
  const { chosen } = useShelfChoice.getState();
  const ids = meantWith(medium.id);
  const isOne = ids.length === 1;
  const isReady = isUsable(medium);
  const bins = film!.bins ?? [];
  const isUsed = usesOfMedium(film!, medium.id).length > 0;
  return [
    [
      { label: 'Add to the reel', isDisabled: !isReady, onSelect: () => actions.put(ids) },
      { label: 'Look at it', isDisabled: medium.facts === null || !isReady, onSelect: () => lookAt(medium.id) },
      { label: 'Rename…', isDisabled: !isReady, onSelect: () => askForShelfName(medium.id) },
      { label: 'What uses it', onSelect: () => actions.tellUses(medium) },
      { label: 'Use another in its place…', isDisabled: !isReady, onSelect: () => askToReplace(medium.id) },
    ],
    [
      { label: chosen.has(medium.id) ? 'Deselect' : 'Select', onSelect: () => chooseMedium(medium.id, 'toggle') },
      { label: 'Select all', onSelect: () => chooseMedia(order) },
    ],
    [
      { label: 'Put in a new bin', onSelect: () => actions.putInNew(ids) },
      ...bins
        .filter((b) => !ids.every((id) => b.mediumIds.includes(id)))
        .map((b) => ({ label: `Put in ${b.name}`, onSelect: () => actions.putIn(ids, b) })),
      ...(bins.some((b) => ids.some((id) => b.mediumIds.includes(id)))
        ? [{ label: 'Take out of the bin', onSelect: () => actions.putIn(ids, null) }]
        : []),
    ],
    [{ label: isOne ? 'Remove from the shelf' : `Remove ${ids.length} from the shelf`, isDisabled: isOne && isUsed, onSelect: () => actions.remove(ids) }], // prettier-ignore
  ];
}
