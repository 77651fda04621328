import { describe, expect, it } from 'vitest';
import { readFileSync } from 'node:fs';
import { pictureOf } from '../plan/frame-plan';
import { planFrame } from '../plan/plan-film';
import { rational } from '../geometry/rational';
import { kindOf, type Film } from './film';
import type { Edit } from './history';
import { applyEdit } from './history';
import { migrateEdit, migrateFilm } from './migrate';
import { sampleMedium } from './sample-film';

interface OldPlan {
  readonly frame: number;
  readonly layers: readonly {
    readonly picture: readonly [string, number];
    readonly matrix: readonly number[];
    readonly opacity: number;
    readonly cleanEdge: number;
    readonly mattes: readonly { kind: string; side: string; featherPx: number; at: unknown }[];
  }[];
}

/** A film as the program stored it when it wrote version 2, and what it drew of it then. */
const stored = JSON.parse(readFileSync('tests/fixtures/film-version-2.json', 'utf8')) as {
  film: { shots: { mediumId: string }[] };
  plans: OldPlan[];
};
const media = new Map(stored.film.shots.map((s) => [s.mediumId, sampleMedium(s.mediumId, 144, rational(24, 1), 1280, 720)]));
const round = (v: number): number => Math.round(v * 1e6) / 1e6;

describe('a film of version 2', () => {
  const film = migrateFilm(stored.film);

  it('shows the same on every frame that was noted: the tram wipe, and the cart over a yard whose opacity is keyed', () => {
    for (const { frame, layers } of stored.plans) {
      const now = planFrame(film, media, frame).layers;
      expect(now.length).toBe(layers.length);
      now.forEach((l, i) => {
        const old = layers[i]!;
        expect([pictureOf(l)!.mediumId, pictureOf(l)!.frame]).toEqual(old.picture);
        expect(l.matrix.map(round)).toEqual(old.matrix.map(round));
        expect(l.samples).toEqual([]);
        expect(l.opacity).toBeCloseTo(old.opacity, 5);
        expect(l.cleanEdge).toBe(old.cleanEdge);
        const mattes = l.mattes.map((m) => ({
          kind: m.kind,
          side: m.side,
          featherPx: m.featherPx,
          at: m.kind === 'outline' ? m.points.slice(0, 2).map((p) => [round(p.x), round(p.y)]) : m.kind === 'coverage' ? m.frame : null,
        }));
        expect(mattes).toEqual(old.mattes);
      });
    }
  });

  it('keeps how its joins were made', () => {
    expect(film.joins.map(kindOf)).toContain('wipe past');
    expect(film.joins.find((j) => kindOf(j) === 'wipe past')!.recipe).toEqual({
      kind: 'wipe past',
      settings: { followsHole: true },
      made: '',
    });
    expect(film.joins.every((j) => j.carriers.length === 0 && j.finish.length === 0)).toBe(true);
  });

  it('is as it is once it is of today, and one of a version to come is refused', () => {
    expect(migrateFilm(film)).toBe(film);
    expect(() => migrateFilm({ schemaVersion: 99 })).toThrow(RangeError);
    expect(migrateFilm('nonsense')).toBe('nonsense');
  });
});

describe('an edit that waited since version 2', () => {
  const film = migrateFilm(stored.film);
  const edit = (path: (string | number)[], value: unknown): Edit => ({
    ...{ name: 'waited', kind: 'edit', target: null },
    patches: [{ op: 'replace', path, value }],
    inverse: [{ op: 'replace', path, value }],
  });
  const join = film.joins.findIndex((j) => kindOf(j) === 'wipe past');
  const after = (waited: Edit): Film => applyEdit(film, migrateEdit(waited, 2)!);

  it('lands where what it changed is now', () => {
    expect(after(edit(['joins', join, 'layers', 0, 'x'], 12)).joins[join]!.layers[0]!.motion.x).toBe(12);
    const keys = [
      { frame: 0, value: 0, ease: 'hold' },
      { frame: 5, value: 1, ease: 'straight' },
    ];
    expect(after(edit(['joins', join, 'layers', 0, 'opacity'], keys)).joins[join]!.layers[0]!.opacity).toEqual([
      { frame: 0, value: 0, into: 'straight', out: 'hold' },
      { frame: 5, value: 1, into: 'straight', out: 'straight' },
    ]);
    expect(after(edit(['joins', join, 'name'], 'Renamed')).joins[join]!.name).toBe('Renamed');
  });

  it('is given up where the edit alone does not tell what it means today', () => {
    expect(migrateEdit(edit(['joins', join, 'layers', 0, 'x', 1, 'ease'], 'hold'), 2)).toBeNull();
    expect(migrateEdit(edit(['joins', join, 'kind'], 'cut'), 2)).toBeNull();
  });
});
