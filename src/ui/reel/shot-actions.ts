import { copyShots } from '../../core/film/edits/copies';
import { duplicateShots, faultOfSplit, moveShots, pasteShots, removeShots, splitShot, swapWithNext } from '../../core/film/edits/reel';
import type { Film, Shot } from '../../core/film/film';
import { startOfShot } from '../../core/film/timing';
import type { FilmStore } from '../store/film-store';
import { chooseNoShots, chooseShots, useReelChoice } from '../store/reel-choice';
import { heldShots, holdShots } from './shot-clipboard';
import { changeOf } from './shot-drag';
import { newId } from '../store/new-id';

/** The shot under a film frame. */
export const shotUnder = (film: Film, frame: number): Shot | undefined =>
  film.shots.find((s) => frame < startOfShot(film, s.id) + s.length);

const named = (shots: readonly Shot[]): string => (shots.length === 1 ? shots[0]!.name : `${shots.length} shots`);

/** What is done to the shots that are selected on the reel as it is then. `frameNow` is where the playhead stands. */
export function shotActions(store: FilmStore, frameNow: () => number) {
  const now = (): { readonly film: Film; readonly chosen: readonly Shot[]; readonly ids: ReadonlySet<string> } => {
    const film = store.snapshot().film!;
    const { shotId, alsoShots } = useReelChoice.getState();
    const chosen = film.shots.filter((s) => s.id === shotId || alsoShots.has(s.id));
    return { film, chosen, ids: new Set(chosen.map((s) => s.id)) };
  };
  /** Does something with what is selected; says so when nothing is. */
  const withChosen = (act: (at: ReturnType<typeof now>) => void): void => {
    const at = now();
    if (at.chosen.length > 0) act(at);
    else store.notify('Select a shot first.');
  };
  const remove = (): void =>
    withChosen(({ chosen, ids }) => {
      chooseNoShots();
      store.edit(`Removed ${named(chosen)} from the reel`, (d) => removeShots(d, ids, newId));
    });
  const hold = (): void => withChosen(({ film, ids }) => holdShots(copyShots(film, store.filmId, ids)));
  return {
    /** Splits the shot under the playhead. */
    split(): void {
      const { film } = now();
      const shot = shotUnder(film, frameNow());
      const medium = shot === undefined ? undefined : store.snapshot().media.get(shot.mediumId);
      if (shot === undefined || medium === undefined) return;
      const fault = faultOfSplit(film, shot.id, frameNow());
      if (fault === null) store.edit(`Split ${shot.name}`, (d) => splitShot(d, medium, shot.id, frameNow(), newId));
      else store.notify(fault);
    },
    duplicate: (): void =>
      withChosen(({ chosen, ids }) => {
        let made: readonly string[] = [];
        store.edit(`Duplicated ${named(chosen)}`, (d) => void (made = duplicateShots(d, ids, newId)));
        chooseShots(made);
      }),
    copy: (): void =>
      withChosen(({ chosen }) => {
        hold();
        store.notify(`Copied ${named(chosen)}. Ctrl V pastes at the playhead.`);
      }),
    cut(): void {
      hold();
      remove();
    },
    /** Lays what was copied at the cut nearest to the playhead. */
    paste(): void {
      const clip = heldShots();
      if (clip === null) return store.notify('Nothing to paste: copy shots first.');
      const { media } = store.snapshot();
      const lacking = clip.shots.find((s) => !media.has(s.mediumId));
      if (lacking !== undefined)
        return store.notify(`${lacking.name} cannot be pasted here: its media is not on the shelf of this film. Import it first.`);
      const { film } = now();
      const index = film.shots.filter((s) => startOfShot(film, s.id) + s.length / 2 <= frameNow()).length;
      let made: readonly string[] = [];
      store.edit(`Pasted ${named(clip.shots)}`, (d) => void (made = pasteShots(d, clip, index, newId)));
      chooseShots(made);
    },
    remove,
    /** Moves what is selected by so many places. */
    move: (by: number): void =>
      withChosen(({ film, chosen, ids }) => {
        const first = film.shots.indexOf(chosen[0]!);
        const index = Math.max(0, Math.min(film.shots.length - chosen.length, first + by));
        if (index !== first) store.edit(`Moved ${named(chosen)}`, (d) => moveShots(d, ids, index, newId));
      }),
    /** Slips or slides the first of what is selected, or rolls the cut at its start, by so many frames to the right. */
    nudge: (kind: 'slip' | 'slide' | 'roll', by: number): void =>
      withChosen(({ film, chosen: [shot] }) => {
        const { media } = store.snapshot();
        const change = changeOf(film, media, { kind, id: shot!.id, ids: new Set([shot!.id]), from: 0, dx: 0, by, index: 0 }, newId);
        if (change === null) store.notify(`${shot!.name} has no cut at its start to roll.`);
        else store.edit(change.name, change.change);
        if (change !== null && store.snapshot().film === film) store.notify(`${shot!.name} is at its end: there is nothing more that way.`);
      }),
    swap: (): void =>
      withChosen(({ film, chosen: [shot] }) => {
        if (film.shots.at(-1) !== shot) store.edit(`Swapped ${shot!.name} with the next`, (d) => swapWithNext(d, shot!.id, newId));
      }),
    turnOff: (): void =>
      withChosen(({ chosen, ids }) => {
        const isOn = chosen.some((s) => s.isOff !== true);
        store.edit(`Turned ${named(chosen)} ${isOn ? 'off' : 'on'}`, (d) => {
          for (const shot of d.shots.filter((s) => ids.has(s.id))) {
            if (isOn) shot.isOff = true;
            else delete shot.isOff;
          }
        });
      }),
    chooseAll: (): void => chooseShots(now().film.shots.map((s) => s.id)),
    chooseToEnd(): void {
      const { film, chosen } = now();
      const from = chosen[0] ?? shotUnder(film, frameNow());
      if (from !== undefined) chooseShots(film.shots.slice(film.shots.indexOf(from)).map((s) => s.id));
    },
  };
}

export type ShotActions = ReturnType<typeof shotActions>;
