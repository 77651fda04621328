'use client';
import { Plus } from 'lucide-react';
import { DropdownMenu } from 'radix-ui';
import type { LayerSource } from '../../../core/film/composition';
import { addCarrier, addLayer, setCamera } from '../../../core/film/edits/layers';
import { meltSource } from '../../../core/recipes/melt';
import { shotFrameAt, startsAround, type PlacedJoin } from '../../../core/film/timing';
import { IconButton } from '../../parts/button';
import { useFilm, useTools } from '../../store/film-context';
import { select, useCopiedLayer } from '../bench-state';
import { pasteCopied } from './paste-layer';

const newId = (): string => crypto.randomUUID();
const item = 'cursor-pointer rounded-[4px] px-2.5 py-1 outline-none data-[highlighted]:bg-pressed';

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
    <DropdownMenu.Root>
      <DropdownMenu.Trigger asChild>
        <IconButton label="Add a layer, a carrier or the camera">
          <Plus size={14} />
        </IconButton>
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content
          align="end"
          className="z-50 max-h-[70vh] overflow-y-auto rounded-md border border-rule bg-sheet p-1 shadow-sm"
        >
          {copied !== null && (
            <DropdownMenu.Item className={item} onSelect={() => pasteCopied(store, join.id, copied)}>
              The copied layer {copied.name}
            </DropdownMenu.Item>
          )}
          <DropdownMenu.Item className={item} onSelect={() => add(leaving.name, { kind: 'leaving' })}>
            {leaving.name}, leaving
          </DropdownMenu.Item>
          <DropdownMenu.Item className={item} onSelect={() => add(entering.name, { kind: 'entering' })}>
            {entering.name}, entering
          </DropdownMenu.Item>
          <DropdownMenu.Item className={item} onSelect={() => held('leaving')}>
            This frame of {leaving.name}, held
          </DropdownMenu.Item>
          <DropdownMenu.Item className={item} onSelect={() => held('entering')}>
            This frame of {entering.name}, held
          </DropdownMenu.Item>
          <DropdownMenu.Item className={item} onSelect={() => add('Melt', meltSource('soft both', 'fine', join))}>
            Both shots, melted
          </DropdownMenu.Item>
          <DropdownMenu.Item className={item} onSelect={() => add('Colour', { kind: 'colour', colour: [40, 38, 34] })}>
            A colour
          </DropdownMenu.Item>
          <DropdownMenu.Item className={item} onSelect={() => add('All beneath', { kind: 'all beneath' })}>
            All beneath, for effects
          </DropdownMenu.Item>
          <DropdownMenu.Separator className="my-1 h-px bg-rule" />
          <DropdownMenu.Label className="px-2.5 py-1 text-[11.5px] text-soft">A medium of the shelf</DropdownMenu.Label>
          {[...media.values()].map((m) => (
            <DropdownMenu.Item key={m.id} className={item} onSelect={() => add(m.name, { kind: 'medium', mediumId: m.id, frame: 0 })}>
              {m.name}
            </DropdownMenu.Item>
          ))}
          <DropdownMenu.Separator className="my-1 h-px bg-rule" />
          <DropdownMenu.Item
            className={item}
            onSelect={() => {
              let id = '';
              store.edit('Added a carrier', (d) => void (id = addCarrier(d, join.id, 'Carrier', newId)));
              select({ kind: 'carrier', id });
            }}
          >
            A carrier
          </DropdownMenu.Item>
          {join.camera === undefined && (
            <DropdownMenu.Item
              className={item}
              onSelect={() => {
                store.edit('Added the camera', (d) => setCamera(d, join.id, {}));
                select({ kind: 'camera' });
              }}
            >
              The camera
            </DropdownMenu.Item>
          )}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}
