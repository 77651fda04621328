import { describe, expect, it } from 'vitest';
import { rational } from '../geometry/rational';
import { createFilm, type Film } from './film';
import { applyEdit, areApart, inTheWay, makeEdit, redoEdit, undoEdit, undoStacks, type Edit, type StoredEdit } from './history';

const start = createFilm('one', 16, 16, rational(24, 1));
const rename = (film: Film, name: string) => makeEdit(film, `Named it ${name}`, (d) => void (d.name = name))!;

/** A film with its history, as the page keeps it. */
function player(window: string | null = null) {
  let film = start;
  const history: StoredEdit[] = [];
  const push = (edit: Edit, askedAt: number | null = null): void => {
    film = applyEdit(film, edit);
    history.push({ ...edit, revision: history.length + 1, id: String(history.length), window, askedAt });
  };
  return {
    name: () => film.name,
    edit: (name: string) => push(rename(film, name).edit),
    /** What a job did that was asked for at a revision. */
    job: (name: string, askedAt: number) =>
      push(makeEdit(film, name, (d) => void (d.markers = [...(d.markers ?? []), { id: name, frame: 0, name }]))!.edit, askedAt),
    undo: () => push(undoEdit(undoStacks(history).undo.at(-1)!)),
    redo: () => push(redoEdit(undoStacks(history).redo.at(-1)!)),
    names: () => ({ undo: undoStacks(history).undo.map((e) => e.name), redo: undoStacks(history).redo.map((e) => e.name) }),
  };
}

it('takes back and brings back, as edits of their own', () => {
  const p = player();
  p.edit('two');
  p.edit('three');
  p.undo();
  expect(p.name()).toBe('two');
  p.undo();
  expect(p.name()).toBe('one');
  expect(p.names()).toEqual({ undo: [], redo: ['Named it three', 'Named it two'] });
  p.redo();
  p.redo();
  expect(p.name()).toBe('three');
  p.undo();
  p.redo();
  p.undo();
  expect(p.name()).toBe('two');
});

it('has nothing to bring back after a new edit', () => {
  const p = player();
  p.edit('two');
  p.undo();
  p.edit('four');
  expect(p.names()).toEqual({ undo: ['Named it four'], redo: [] });
});

it('lists what a job did where it was asked for, and leaves what can be brought back', () => {
  const p = player();
  p.edit('two');
  p.edit('three');
  p.job('Carried', 1);
  expect(p.names().undo).toEqual(['Named it two', 'Carried', 'Named it three']);
  p.undo();
  expect(p.name()).toBe('two');
  p.job('Followed', 2);
  expect(p.names()).toEqual({ undo: ['Named it two', 'Carried', 'Followed'], redo: ['Named it three'] });
  // one that was asked for after that is new work, like a new edit
  p.job('Smoothed', 4);
  expect(p.names()).toEqual({ undo: ['Named it two', 'Carried', 'Followed', 'Smoothed'], redo: [] });
});

it('makes no edit of a change that changes nothing', () => {
  expect(makeEdit(start, 'nothing', (d) => void (d.name = 'one'))).toBeNull();
});

it('survives being stored as text', () => {
  const { edit, film } = rename(start, 'two');
  const stored = JSON.parse(JSON.stringify(edit)) as Edit;
  expect(applyEdit(start, stored)).toEqual(film);
});

describe('edits that are apart', () => {
  const film: Film = {
    ...start,
    mattes: ['a', 'b'].map((id) => ({ id, mediumId: 'm', name: id, outline: { closed: false, keys: [] } })),
    shots: ['s', 't'].map((id) => ({ id, mediumId: 'm', name: id, inFrame: 0, length: 10 })),
  };
  const edit = (change: Parameters<typeof makeEdit>[2]): Edit => makeEdit(film, 'change', change)!.edit;
  const renamedShot = edit((d) => void (d.shots[1]!.name = 'x'));
  const renamedMatte = edit((d) => void (d.mattes[0]!.name = 'x'));
  const listedCarry = edit((d) => void (d.mattes[0]!.frameEdits = ['1']));

  it('touch different things, or different values of one thing', () => {
    expect(areApart(renamedShot, renamedMatte)).toBe(true);
    expect(areApart(renamedMatte, listedCarry)).toBe(true);
    const [one, other] = [renamedShot, renamedMatte].map((e) => applyEdit(film, e));
    expect(applyEdit(one!, renamedMatte)).toEqual(applyEdit(other!, renamedShot));
  });

  it('are not apart when both change one value', () => {
    expect(
      areApart(
        renamedShot,
        edit((d) => void (d.shots[1]!.name = 'y')),
      ),
    ).toBe(false);
  });

  it('are not apart when one moves the elements of the list that the other works in', () => {
    expect(
      areApart(
        renamedShot,
        edit((d) => void d.shots.shift()),
      ),
    ).toBe(false);
    expect(
      areApart(
        edit((d) => void d.mattes.push({ ...d.mattes[0]!, id: 'c' })),
        renamedMatte,
      ),
    ).toBe(false);
    expect(
      areApart(
        edit((d) => void d.shots.pop()),
        renamedMatte,
      ),
    ).toBe(true);
  });
});

describe('two windows', () => {
  const wide = makeEdit(start, 'Made it wider', (d) => void (d.width = 32))!.edit;
  const stored = (edit: Edit, revision: number, window: string): StoredEdit => ({
    ...edit,
    revision,
    id: String(revision),
    window,
    askedAt: null,
  });
  const mine = stored(rename(start, 'two').edit, 1, 'a');
  const theirs = stored(wide, 2, 'b');
  const isMine = (e: StoredEdit): boolean => e.window === 'a';

  it('take back each its own', () => {
    expect(undoStacks([mine, theirs], isMine).undo).toEqual([mine]);
    const back = stored(undoEdit(mine), 3, 'a');
    expect(undoStacks([mine, theirs, back], isMine)).toEqual({ undo: [], redo: [mine] });
    // what another has taken back is not there to be taken back again
    expect(undoStacks([mine, theirs, { ...back, window: 'b' }], isMine)).toEqual({ undo: [], redo: [] });
  });

  it('are in each other’s way only where they touch the same, and as long as that holds', () => {
    expect(inTheWay([mine, theirs], undoEdit(mine))).toBeNull();
    const same = stored(rename(applyEdit(start, mine), 'three').edit, 2, 'b');
    expect(inTheWay([mine, same], undoEdit(mine))).toBe(same);
    expect(inTheWay([mine, same, stored(undoEdit(same), 3, 'b')], undoEdit(mine))).toBeNull();
  });
});
