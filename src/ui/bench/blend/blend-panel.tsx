'use client';
import { BLEND_MODES, EDGE_FILLS, type Layer, type LateCopies } from '../../../core/film/composition';
import { setLayer } from '../../../core/film/edits/layers';
import type { PlacedJoin } from '../../../core/film/timing';
import { SHUTTER } from '../../../core/motion/motion';
import { ColourRow } from '../../parts/colour-row';
import { NumberField, NumberRow } from '../../parts/number-field';
import { Section } from '../../parts/section';
import { SelectRow, SwitchRow } from '../../parts/select-row';
import { useFilm, useTools } from '../../store/film-context';
import { useBench } from '../../store/bench-state';
import { ChannelRow } from '../move/motion-section';
import type { PreviewChange } from '../../store/preview';
import { EffectsList } from './effects-list';

interface BlendProps {
  readonly placed: PlacedJoin;
  readonly frame: number;
  readonly onPreview: (change: PreviewChange) => void;
}

/** The controls of Blend: how the selected layer lies over the others, its effects, and the finish of the join and the film. */
export function BlendPanel({ placed, frame, onPreview }: BlendProps) {
  const selected = useBench((s) => s.selected);
  const layer = selected?.kind === 'layer' ? placed.join.layers.find((l) => l.id === selected.id) : undefined;
  const { join } = placed;
  return (
    <>
      {layer === undefined ? (
        <p className="border-b border-rule px-3.5 py-3 text-soft">Select a layer on the left to set how it blends with the others.</p>
      ) : (
        <>
          <LayerSection placed={placed} frame={frame} layer={layer} onPreview={onPreview} />
          <Section title={`Effects of ${layer.name}`} name="Effects">
            <EffectsList
              placed={placed}
              frame={frame}
              place={{ kind: 'layer', joinId: join.id, layerId: layer.id }}
              onPreview={onPreview}
            />
          </Section>
        </>
      )}
      <Section title="Effects on the join">
        <EffectsList placed={placed} frame={frame} place={{ kind: 'join', joinId: join.id }} onPreview={onPreview} />
      </Section>
      <Section title="Effects on the film" startsFolded>
        <EffectsList placed={placed} frame={frame} place={{ kind: 'film' }} onPreview={onPreview} />
      </Section>
      <ShutterSection onPreview={onPreview} />
    </>
  );
}

function LayerSection({ placed, frame, layer, onPreview }: BlendProps & { readonly layer: Layer }) {
  const { store } = useTools();
  const { join } = placed;
  const set = (name: string, change: Parameters<typeof setLayer>[3]): void =>
    store.edit(`${name} of ${layer.name}`, (d) => setLayer(d, join.id, layer.id, change));
  const copies: LateCopies = layer.copies ?? { count: 0, delay: 2, fall: 0.35 };
  const setCopies = (part: Partial<LateCopies>): void => {
    const next = { ...copies, ...part };
    set('Late copies', { copies: next.count === 0 ? undefined : next });
  };
  const span = layer.span ?? { first: placed.from - placed.cut, last: Math.max(placed.from, placed.to - 1) - placed.cut };
  const setSpan = (part: { first?: number; last?: number }): void => {
    const next = { ...span, ...part };
    set('Span', { span: { first: Math.min(next.first, next.last), last: Math.max(next.first, next.last) } });
  };
  return (
    <Section title={layer.name} name="Layer">
      <ChannelRow placed={placed} frame={frame} target={{ kind: 'opacity', layerId: layer.id }} onPreview={onPreview} />
      <SelectRow
        label="Blend mode"
        value={layer.blend}
        options={BLEND_MODES.map((v) => ({ value: v, text: v }))}
        onChange={(blend) => set(`Blend mode ${blend}`, { blend })}
      />
      <SelectRow
        label="Edge"
        value={layer.edges}
        options={EDGE_FILLS.map((v) => ({ value: v, text: v === 'none' ? 'transparent' : v }))}
        onChange={(edges) => set('Edge', { edges })}
      />
      <SwitchRow label="Blurred by the shutter" value={layer.blur} onChange={(blur) => set('Motion blur', { blur })} />
      {layer.source.kind === 'colour' && (
        <ColourRow
          label="Colour"
          value={layer.source.colour}
          onChange={(colour) => set('Colour', { source: { kind: 'colour', colour } })}
        />
      )}
      <div className="flex items-center justify-between gap-1.5">
        <span>Visible from, to</span>
        <span className="flex gap-1">
          <NumberField
            label="Visible from frame"
            unit="fr"
            value={span.first + placed.cut}
            onCommit={(v) => setSpan({ first: v - placed.cut })}
          />
          <NumberField
            label="Visible to frame"
            unit="fr"
            value={span.last + placed.cut}
            onCommit={(v) => setSpan({ last: v - placed.cut })}
          />
        </span>
      </div>
      <NumberRow label="Late copies" min={0} max={50} value={copies.count} onCommit={(count) => setCopies({ count })} />
      {copies.count > 0 && (
        <>
          <NumberRow
            label="Frames between them"
            unit="fr"
            min={1}
            max={100}
            value={copies.delay}
            onCommit={(delay) => setCopies({ delay })}
          />
          <NumberRow
            label="Each fainter by"
            unit="%"
            min={0}
            max={100}
            value={100 * copies.fall}
            onCommit={(v) => setCopies({ fall: v / 100 })}
          />
        </>
      )}
    </Section>
  );
}

function ShutterSection({ onPreview }: Pick<BlendProps, 'onPreview'>) {
  const { store } = useTools();
  const { film } = useFilm('film');
  const shutter = film.shutter ?? SHUTTER;
  const change =
    (part: Partial<typeof shutter>): PreviewChange =>
    (d) =>
      void (d.shutter = { ...shutter, ...part });
  return (
    <Section title="Shutter of the film" startsFolded>
      <NumberRow
        label="Open for"
        unit="°"
        min={0}
        max={360}
        value={shutter.angle}
        onPreview={(angle) => onPreview(change({ angle }))}
        onCommit={(angle) => store.edit(`Shutter ${angle}°`, change({ angle }))}
      />
      <NumberRow
        label="Opens at"
        unit="°"
        min={-360}
        max={360}
        value={shutter.phase}
        onPreview={(phase) => onPreview(change({ phase }))}
        onCommit={(phase) => store.edit(`Shutter opens at ${phase}°`, change({ phase }))}
      />
      <p className="text-soft">180° from −90° on is half the frame’s time, about its middle.</p>
    </Section>
  );
}
