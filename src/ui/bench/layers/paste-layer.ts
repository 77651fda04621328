import type { Layer } from '../../../core/film/composition';
import { pasteLayer } from '../../../core/film/edits/layers';
import type { FilmStore } from '../../store/film-store';
import { select } from '../../store/bench-state';
import { newId } from '../../store/new-id';

/** Lays a copied layer in front of all others of a join, and selects it. */
export function pasteCopied(store: FilmStore, joinId: string, layer: Layer): void {
  let id = '';
  store.edit(`Pasted the layer ${layer.name}`, (d) => void (id = pasteLayer(d, joinId, layer, newId)));
  select({ kind: 'layer', id });
}
