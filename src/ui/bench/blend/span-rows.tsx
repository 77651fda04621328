'use client';
import { effectNamed } from '../../../core/effects/registry';
import type { Effect, Span } from '../../../core/film/composition';
import type { FilmDraft } from '../../../core/film/drafts';
import { effectsAt, setEffects, setLayer, type EffectPlace } from '../../../core/film/edits/layers';
import type { FilmMark } from '../../../core/film/edits/marks';
import type { Film } from '../../../core/film/film';
import type { PlacedJoin } from '../../../core/film/timing';
import { useTools } from '../../store/film-context';
import { useWeaveGrip } from '../../weave/weave-grip';
import type { PreviewChange } from '../../store/preview';
import { useBench } from '../../store/bench-state';

/** Height of a row, CSS pixels. */
export const SPAN_ROW = 20;

/** Something that is there for some frames: a layer, or an effect. Film frames, both included. */
interface SpanRow {
  readonly id: string;
  readonly name: string;
  readonly of: string;
  readonly span: Span;
  readonly set: (film: FilmDraft, span: Span) => void;
}

/** The spans that are shown: of the selected layer and its effects, of the join's finish and of the film's. */
export function spanRows(film: Film, placed: PlacedJoin, layerId: string | null): readonly SpanRow[] {
  const { join, cut, from, to } = placed;
  const layer = join.layers.find((l) => l.id === layerId);
  const whole: Span = { first: from, last: Math.max(from, to - 1) };
  const shown = (span: Span | undefined, origin: number): Span =>
    span === undefined ? whole : { first: span.first + origin, last: span.last + origin };
  const rowsOf = (place: EffectPlace, origin: number, of: string): SpanRow[] =>
    effectsAt(film, place).map((effect) => ({
      id: effect.id,
      name: effectNamed(effect.kind).name,
      of,
      span: shown(effect.span, origin),
      set: (d, { first, last }) => {
        const next = (e: Effect): Effect => (e.id === effect.id ? { ...e, span: { first: first - origin, last: last - origin } } : e);
        setEffects(d, place, effectsAt(d, place).map(next));
      },
    }));
  const own: SpanRow[] =
    layer === undefined
      ? []
      : [
          {
            id: layer.id,
            name: layer.name,
            of: 'is there',
            span: shown(layer.span, cut),
            set: (d, { first, last }) => setLayer(d, join.id, layer.id, { span: { first: first - cut, last: last - cut } }),
          },
          ...rowsOf({ kind: 'layer', joinId: join.id, layerId: layer.id }, cut, layer.name),
        ];
  return [...own, ...rowsOf({ kind: 'join', joinId: join.id }, cut, 'join'), ...rowsOf({ kind: 'film' }, 0, 'film')];
}

export const useSpanRows = (film: Film, placed: PlacedJoin): readonly SpanRow[] => {
  const selected = useBench((s) => s.selected);
  return spanRows(film, placed, selected?.kind === 'layer' ? selected.id : null);
};

export function SpanLabels({ rows }: { readonly rows: readonly SpanRow[] }) {
  return rows.map((row) => (
    <div key={row.id} className="flex items-center justify-between px-3.5 text-[12px]" style={{ height: SPAN_ROW }}>
      <span className="truncate">{row.name}</span>
      <span className="shrink-0 pl-2 text-[11px] text-soft">{row.of}</span>
    </div>
  ));
}

interface SpanBarsProps {
  readonly rows: readonly SpanRow[];
  readonly x: (frame: number) => number;
  readonly marks: readonly FilmMark[];
  readonly onPreview: (change: PreviewChange) => void;
}

/** Each span as a bar under the frames it is there on: dragged as a whole or by its ends, to marks, or moved by the arrows. */
export function SpanBars({ rows, ...rest }: SpanBarsProps) {
  return rows.map((row) => (
    <div key={row.id} className="relative border-t border-rule/60" style={{ height: SPAN_ROW }}>
      <SpanBar row={row} {...rest} />
    </div>
  ));
}

function SpanBar({ row, x, marks, onPreview }: Omit<SpanBarsProps, 'rows'> & { readonly row: SpanRow }) {
  const { store } = useTools();
  const { first, last } = row.span;
  const change = (span: Span, final: boolean): void => {
    if (final) store.edit(`Span of ${row.name.toLowerCase()}`, (d) => row.set(d, span));
    else onPreview((d) => row.set(d, span));
  };
  const length = last - first;
  const body = useWeaveGrip(`${row.name}, ${row.of}: when it is there`, 'Drag to move it', first, marks, (by, final, from) =>
    change({ first: from + by, last: from + by + length }, final),
  );
  const start = useWeaveGrip(`${row.name}, ${row.of}: first frame`, 'Drag its start', first, marks, (by, final, from) =>
    change({ first: Math.min(from + by, last), last }, final),
  );
  const end = useWeaveGrip(`${row.name}, ${row.of}: last frame`, 'Drag its end', last, marks, (by, final, from) =>
    change({ first, last: Math.max(first, from + by) }, final),
  );
  const grip = 'absolute top-[4px] z-10 h-[12px] w-[9px] cursor-ew-resize touch-none bg-seam';
  return (
    <>
      <div
        {...body}
        className="absolute top-[4px] h-[12px] cursor-grab touch-none rounded-[3px] bg-seam/35"
        style={{ left: x(first), width: x(last + 1) - x(first) }}
      />
      <div {...start} className={`${grip} rounded-l-[3px]`} style={{ left: x(first) }} />
      <div {...end} className={`${grip} rounded-r-[3px]`} style={{ left: x(last + 1) - 9 }} />
    </>
  );
}
