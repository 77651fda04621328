import { describe, expect, it } from 'vitest';
import type { Film } from '../../core/film/film';
import { applyEdit, makeEdit, undoEdit, type Edit, type StoredEdit } from '../../core/film/history';
import { sampleFilm, sampleMedium } from '../../core/film/sample-film';
import { acknowledged, laidOnTop, setAside, withEdit, withFailure, type Edited, type Opened } from './edit-queue';

const FILM = sampleFilm([sampleMedium('a', 50), sampleMedium('b', 60)]);
const start = (film: Film = FILM, revision = 0): Edited => ({ film, history: [], revision, waiting: [], isBehind: false });

const named = (name: string) => (d: { name: string }) => void (d.name = name);
const trimmed = (length: number) => (d: { shots: { length: number }[] }) => void (d.shots[0]!.length = length);
const editOf = (film: Film, name: string, change: Parameters<typeof makeEdit>[2]): Edit => makeEdit(film, name, change)!.edit;

/** Made here, as `id`. */
function made(edited: Edited, id: string, change: Parameters<typeof makeEdit>[2], window = 'here'): Edited {
  const { edit, film } = makeEdit(edited.film, id, change)!;
  return withEdit(edited, edit, film, id, window);
}
const stored = (edit: Edit, id: string, revision: number, window = 'there'): StoredEdit => ({
  ...edit,
  id,
  revision,
  window,
  askedAt: null,
});
/** The server once it has stored edits, in order. */
function server(...edits: readonly (readonly [id: string, edit: Edit])[]): Opened {
  return {
    film: edits.reduce((film, [, edit]) => applyEdit(film, edit), FILM),
    revision: edits.length,
    edits: edits.map(([id, edit], i) => stored(edit, id, i + 1)),
  };
}

describe('edits that wait', () => {
  it('show at once, and stand where they are expected to be stored', () => {
    const two = made(made(start(FILM, 7), 'one', named('Dusk')), 'two', trimmed(30));
    expect([two.film.name, two.film.shots[0]!.length]).toEqual(['Dusk', 30]);
    expect(two.history.map((e) => [e.id, e.revision, e.window])).toEqual([
      ['one', 8, 'here'],
      ['two', 9, 'here'],
    ]);
    expect(two.waiting.map((w) => w.id)).toEqual(['one', 'two']);
    const once = acknowledged(two, 'one', 8);
    expect(once).toMatchObject({ revision: 8, isBehind: false, waiting: [{ id: 'two' }] });
    expect(acknowledged(once, 'two', 9)).toMatchObject({ revision: 9, waiting: [] });
  });

  it('come later by as much as others came before them, and steps back go along', () => {
    let here = made(start(), 'one', named('Dusk'));
    const step = undoEdit(here.history[0]!);
    here = withEdit(here, step, applyEdit(here.film, step), 'back', 'here');
    const later = acknowledged(here, 'one', 3); // two of another window were stored first
    expect(later).toMatchObject({ revision: 3, isBehind: true });
    expect(later.history.map((e) => e.revision)).toEqual([3, 4]);
    expect(later.waiting[0]!.edit.target).toBe(3);
  });

  it('are known when the answer to them was lost: nothing is done twice', () => {
    const here = made(start(), 'one', named('Dusk'));
    const { edited, lost } = laidOnTop(server(['one', here.waiting[0]!.edit]), 0, here.waiting, 'here');
    expect([edited.waiting, lost, edited.film.name, edited.revision]).toEqual([[], [], 'Dusk', 1]);
    // doubled: the server answers with the revision it stored it as before
    expect(acknowledged(acknowledged(here, 'one', 1), 'one', 1)).toMatchObject({ revision: 1, waiting: [] });
  });
});

describe('two windows', () => {
  const theirs = editOf(FILM, 'theirs', trimmed(20));

  it('go on side by side where they change different things', () => {
    const here = made(start(), 'mine', named('Dusk'));
    const { edited, lost } = laidOnTop(server(['theirs', theirs]), 0, here.waiting, 'here');
    expect(lost).toEqual([]);
    expect([edited.film.name, edited.film.shots[0]!.length]).toEqual(['Dusk', 20]);
    expect(edited.history.map((e) => [e.id, e.revision])).toEqual([
      ['theirs', 1],
      ['mine', 2],
    ]);
  });

  it('lose what changes the same, and all that was made after it', () => {
    const here = made(made(start(), 'mine', trimmed(25)), 'after', named('Dusk'));
    const { edited, lost } = laidOnTop(server(['theirs', theirs]), 0, here.waiting, 'here');
    expect(lost.map((w) => w.id)).toEqual(['mine', 'after']);
    expect([edited.film.name, edited.film.shots[0]!.length, edited.waiting]).toEqual([FILM.name, 20, []]);
  });

  it('lose what nobody can tell: the server no longer knows what came between', () => {
    const here = made(start(), 'mine', named('Dusk'));
    const { lost } = laidOnTop(
      { ...server(['theirs', theirs]), revision: 40, edits: [stored(theirs, 'theirs', 40)] },
      0,
      here.waiting,
      'here',
    );
    expect(lost.map((w) => w.id)).toEqual(['mine']);
  });

  it('lay a step back that waits on the revision its edit has by now', () => {
    let here = made(start(), 'mine', named('Dusk'));
    const step = undoEdit(here.history[0]!);
    here = withEdit(here, step, applyEdit(here.film, step), 'back', 'here');
    const mine = here.waiting[0]!.edit;
    const { edited } = laidOnTop(server(['theirs', theirs], ['mine', mine]), 0, here.waiting, 'here');
    expect(edited.waiting).toMatchObject([{ id: 'back', edit: { target: 2 } }]);
    expect(edited.film.name).toBe(FILM.name);
  });
});

describe('an edit that cannot be stored', () => {
  it('is set aside with what builds on it; the rest waits on', () => {
    const here = made(made(made(start(), 'one', trimmed(30)), 'two', named('Dusk')), 'three', trimmed(20));
    const { edited, aside } = setAside(here, here.waiting[0]!, 'No.');
    expect(aside.map((a) => [a.id, a.why])).toEqual([
      ['one', 'No.'],
      ['three', 'it builds on “one”'],
    ]);
    expect(edited.waiting.map((w) => w.id)).toEqual(['two']);
  });

  it('is set aside once the server has failed at it twice', () => {
    const here = made(made(start(), 'one', trimmed(30)), 'two', named('Dusk'));
    const once = withFailure(here);
    expect([once.aside, once.edited.waiting[0]!.failures]).toEqual([[], 1]);
    const twice = withFailure(once.edited);
    expect(twice.aside.map((a) => a.id)).toEqual(['one']);
    expect(twice.edited.waiting.map((w) => w.id)).toEqual(['two']);
    expect(withFailure(start())).toEqual({ edited: start(), aside: [] });
  });
});
