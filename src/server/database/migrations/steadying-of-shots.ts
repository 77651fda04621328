import type { Knex } from 'knex';

interface OldLayer {
  readonly source: 'leaving' | 'entering';
  steadying?: { readonly trackId: string };
}
interface OldFilm {
  schemaVersion: number;
  readonly shots: { readonly id: string; steadying?: OldLayer['steadying'] }[];
  readonly tracks?: readonly { readonly id: string }[];
  readonly joins: { readonly leavingShotId: string; readonly enteringShotId: string; readonly layers: OldLayer[] }[];
}
interface OldPatch {
  readonly path: readonly (string | number)[];
  readonly value?: unknown;
}

/** Holding still belongs to a shot, where it belonged to a layer of a join. */
export async function moveSteadyingToShots(db: Knex): Promise<void> {
  for (const { id, document } of await db<{ id: string; document: string }>('films').select('id', 'document')) {
    const film = JSON.parse(document) as OldFilm;
    for (const join of film.joins) {
      for (const layer of join.layers) {
        const shot = film.shots.find((s) => s.id === (layer.source === 'leaving' ? join.leavingShotId : join.enteringShotId));
        const isTracked = film.tracks?.some((t) => t.id === layer.steadying?.trackId) === true;
        if (shot !== undefined && isTracked) shot.steadying ??= layer.steadying;
        delete layer.steadying;
      }
    }
    film.schemaVersion = 2;
    await db('films')
      .where({ id })
      .update({ document: JSON.stringify(film) });
  }
  const edits = db<{ film_id: string; revision: number; patches: string; inverse: string }>('film_edits');
  for (const { film_id, revision, patches, inverse } of await edits.select('film_id', 'revision', 'patches', 'inverse')) {
    if (!patches.includes('"steadying"') && !inverse.includes('"steadying"')) continue;
    await db('film_edits')
      .where({ film_id, revision })
      .update({ patches: withoutLayersSteadying(patches), inverse: withoutLayersSteadying(inverse) });
  }
}

/** A patch that held a layer still becomes one that changes nothing, so that what was done before it can still be taken back. */
function withoutLayersSteadying(patches: string): string {
  const list = JSON.parse(patches, (key, value: unknown) => (key === 'steadying' ? undefined : value)) as OldPatch[];
  return JSON.stringify(list.map((p) => (p.path.includes('steadying') ? { op: 'replace', path: ['schemaVersion'], value: 2 } : p)));
}
