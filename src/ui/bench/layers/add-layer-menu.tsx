'use client';
import { Plus } from 'lucide-react';
import type { LayerSource } from '../../../core/film/composition';
import { addCarrier, addLayer, setCamera } from '../../../core/film/edits/layers';
import { meltSource } from '../../../core/recipes/melt/melt';
import { shotFrameAt, startsAround, type PlacedJoin } from '../../../core/film/timing';
import { Menu, MenuGroup, MenuItem } from '../../parts/menu';
import { useFilm, useTools } from '../../store/film-context';
import { select, useCopiedLayer } from '../../store/bench-state';
import { pasteCopied } from './paste-layer';
import { newId } from '../../store/new-id';

/** Adds a layer of any source, a carrier or the camera, and selects it. */
export function AddLayerMenu({ placed, frame }: { readonly placed: PlacedJoin; readonly frame: number }) {
  const { store } = useTools();
  const { film, media } = useFilm('film', 'media');
  const { join, leaving, entering } = placed;
  const copied = useCopiedLayer((s) => s.layer);
  const add = (name: string, source: LayerSource): void => {
    let id = '';
    store.edit(`Added the layer ${name}`, (d) => void (id = addLayer(d, join.id, name, source, newId)));
    select({ kind: 'layer', id });
  };
  const held = (side: 'leaving' | 'entering'): void => {
    const at = shotFrameAt(film, media, placed[side], startsAround(placed)[side], frame) ?? 0;
    add(`${placed[side].name}, held`, { kind: 'held', side, frame: at });
  };
  return (
    <Menu label="Add a layer, a carrier or the camera" icon={<Plus size={14} />}>
      {copied !== null && <MenuItem onSelect={() => pasteCopied(store, join.id, copied)}>The copied layer {copied.name}</MenuItem>}
      <MenuItem onSelect={() => add(leaving.name, { kind: 'leaving' })}>{leaving.name}, leaving</MenuItem>
      <MenuItem onSelect={() => add(entering.name, { kind: 'entering' })}>{entering.name}, entering</MenuItem>
      <MenuItem onSelect={() => held('leaving')}>This frame of {leaving.name}, held</MenuItem>
      <MenuItem onSelect={() => held('entering')}>This frame of {entering.name}, held</MenuItem>
      <MenuItem onSelect={() => add('Melt', meltSource('soft both', 'fine', join))}>Both shots, melted</MenuItem>
      <MenuItem onSelect={() => add('Colour', { kind: 'colour', colour: [40, 38, 34] })}>A colour</MenuItem>
      <MenuItem onSelect={() => add('All beneath', { kind: 'all beneath' })}>All beneath, for effects</MenuItem>
      <MenuGroup title="Media from the shelf" />
      {[...media.values()].map((m) => (
        <MenuItem key={m.id} onSelect={() => add(m.name, { kind: 'medium', mediumId: m.id, frame: 0 })}>
          {m.name}
        </MenuItem>
      ))}
      <MenuGroup />
      <MenuItem
        onSelect={() => {
          let id = '';
          store.edit('Added a carrier', (d) => void (id = addCarrier(d, join.id, 'Carrier', newId)));
          select({ kind: 'carrier', id });
        }}
      >
        A carrier
      </MenuItem>
      {join.camera === undefined && (
        <MenuItem
          onSelect={() => {
            store.edit('Added the camera', (d) => setCamera(d, join.id, {}));
            select({ kind: 'camera' });
          }}
        >
          The camera
        </MenuItem>
      )}
    </Menu>
  );
}
