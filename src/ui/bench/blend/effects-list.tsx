'use client';
import { useState } from 'react';
import { ArrowDown, ArrowUp, Copy, Eye, EyeOff, Trash2 } from 'lucide-react';
import type { Colour, Effect } from '../../../core/film/composition';
import { effectsAt, setEffects, type EffectPlace } from '../../../core/film/edits/layers';
import { filmLength, type PlacedJoin } from '../../../core/film/timing';
import { channelAt } from '../../../core/motion/curve';
import { easedKeys } from '../../../core/motion/eases';
import { effectNamed, EFFECTS } from '../../../core/effects/registry';
import { Button, IconButton } from '../../parts/button';
import { ColourRow } from '../../parts/colour-row';
import { NumberField } from '../../parts/number-field';
import { SelectRow } from '../../parts/select-row';
import { useFilm, useTools } from '../../store/film-context';
import { ChannelRow } from '../move/motion-section';
import { useCopiedEffects } from '../../store/bench-state';
import type { PreviewChange } from '../../store/preview';
import { newId } from '../../store/new-id';

interface EffectsListProps {
  readonly placed: PlacedJoin;
  readonly frame: number;
  readonly place: EffectPlace;
  readonly onPreview: (change: PreviewChange) => void;
}

const newEffect = (kind: string): Effect => ({
  id: newId(),
  kind,
  visible: true,
  params: Object.fromEntries(Object.entries(effectNamed(kind).params).map(([name, p]) => [name, p.initial])),
});

/** An effect that is as strong as it is on its first frame and gone `frames` later. */
function dyingAway(effect: Effect, first: number, frames: number): Effect {
  const { amount, params } = effectNamed(effect.kind);
  if (amount === null) return effect;
  const { initial } = params[amount]!;
  const now = channelAt(effect.params[amount] ?? initial, first, initial);
  const keys = easedKeys('soft stop', [first, now === 0 ? initial : now], [first + frames, 0]);
  return { ...effect, params: { ...effect.params, [amount]: keys } };
}

const COLOUR_PARTS = ['red', 'green', 'blue'] as const;

/** The colour of an effect that has one and does not change in time; null else. */
function colourOf({ kind, params }: Effect): Colour | null {
  const parts = COLOUR_PARTS.map((part) => params[part] ?? effectNamed(kind).params[part]?.initial);
  return parts.every((v) => typeof v === 'number') ? (parts as unknown as Colour) : null;
}

/** The numbers of an effect that have a row: those of its colour only where they are keyed. */
function rowsOf(effect: Effect): readonly string[] {
  const hasColour = colourOf(effect) !== null;
  return Object.keys(effectNamed(effect.kind).params).filter((p) => !hasColour || !(COLOUR_PARTS as readonly string[]).includes(p));
}

/** Effects in their order, each with its span and its numbers; the rows are made from what an effect says of itself. */
export function EffectsList({ placed, frame, place, onPreview }: EffectsListProps) {
  const { store } = useTools();
  const { film } = useFilm('film');
  const effects = effectsAt(film, place);
  const copied = useCopiedEffects((s) => s.effects);
  const set = (name: string, next: readonly Effect[]): void => store.edit(name, (d) => setEffects(d, place, next));
  const move = (i: number, by: number): void => {
    const next = [...effects];
    const [one] = next.splice(i, 1);
    next.splice(i + by, 0, one!);
    set('Moved an effect', next);
  };
  return (
    <>
      <ol className="flex flex-col gap-2.5">
        {effects.map((effect, i) => (
          <EffectItem
            key={effect.id}
            placed={placed}
            frame={frame}
            place={place}
            effect={effect}
            at={{ isFirst: i === 0, isLast: i === effects.length - 1 }}
            edits={{
              set: (name, next) =>
                set(
                  name,
                  effects.flatMap((e) => (e.id === effect.id ? (next === null ? [] : [next]) : [e])),
                ),
              move: (by) => move(i, by),
            }}
            onPreview={onPreview}
          />
        ))}
      </ol>
      {copied.length > 0 && (
        <div>
          <Button
            onClick={() =>
              set(`Pasted ${effectNamed(copied[0]!.kind).name.toLowerCase()}`, [...effects, ...copied.map((e) => ({ ...e, id: newId() }))])
            }
          >
            Paste the copied {effectNamed(copied[0]!.kind).name.toLowerCase()} here
          </Button>
        </div>
      )}
      <SelectRow
        label="Add an effect"
        value=""
        options={[{ value: '', text: 'choose…' }, ...EFFECTS.map((e) => ({ value: e.kind, text: e.name }))]}
        onChange={(kind) => kind !== '' && set(`Added ${effectNamed(kind).name.toLowerCase()}`, [...effects, newEffect(kind)])}
      />
    </>
  );
}

interface EffectItemProps {
  readonly placed: PlacedJoin;
  readonly frame: number;
  readonly place: EffectPlace;
  readonly effect: Effect;
  readonly at: { readonly isFirst: boolean; readonly isLast: boolean };
  /** Puts another in its place under a name, or with null takes it away; and moves it among the others. */
  readonly edits: { set(name: string, next: Effect | null): void; move(by: number): void };
  readonly onPreview: (change: PreviewChange) => void;
}

/** One effect: where it stands, its numbers, how it dies away, and its span. */
function EffectItem({ placed, frame, place, effect, at, edits, onPreview }: EffectItemProps) {
  const { film } = useFilm('film');
  const [fading, setFading] = useState(8);
  const { name, params } = effectNamed(effect.kind);
  const called = name.toLowerCase();
  const origin = place.kind === 'film' ? 0 : placed.cut;
  const whole =
    place.kind === 'film'
      ? { first: 0, last: Math.max(0, filmLength(film) - 1) }
      : { first: placed.from - origin, last: Math.max(placed.from, placed.to - 1) - origin };
  const { first, last } = effect.span ?? whole;
  const setSpan = (part: { first?: number; last?: number }): void => {
    const span = { first, last, ...part };
    const rising = { first: Math.min(span.first, span.last), last: Math.max(span.first, span.last) };
    edits.set(`Span of ${called}`, { ...effect, span: rising });
  };
  return (
    <li aria-label={name} className={`flex flex-col gap-1.5 border-l-[3px] border-seam pl-2 ${effect.visible ? '' : 'opacity-50'}`}>
      <div className="flex items-center gap-0.5">
        <span className="min-w-0 grow truncate font-semibold">{name}</span>
        <IconButton label={`${name} earlier`} disabled={at.isFirst} onClick={() => edits.move(-1)}>
          <ArrowUp size={13} />
        </IconButton>
        <IconButton label={`${name} later`} disabled={at.isLast} onClick={() => edits.move(1)}>
          <ArrowDown size={13} />
        </IconButton>
        <IconButton
          label={effect.visible ? `Leave ${name} out` : `Use ${name}`}
          onClick={() => edits.set(effect.visible ? `Left ${called} out` : `Used ${called}`, { ...effect, visible: !effect.visible })}
        >
          {effect.visible ? <Eye size={13} /> : <EyeOff size={13} />}
        </IconButton>
        <IconButton label={`Copy ${name}`} onClick={() => useCopiedEffects.setState({ effects: [effect] })}>
          <Copy size={13} />
        </IconButton>
        <IconButton label={`Remove ${name}`} onClick={() => edits.set(`Removed ${called}`, null)}>
          <Trash2 size={13} />
        </IconButton>
      </div>
      {colourOf(effect) !== null && (
        <ColourRow
          label={`Colour of ${called}`}
          value={colourOf(effect)!}
          onChange={([red, green, blue]) => edits.set(`Colour of ${called}`, { ...effect, params: { ...effect.params, red, green, blue } })}
        />
      )}
      {rowsOf(effect).map((param) => (
        <ChannelRow
          key={param}
          placed={placed}
          frame={frame}
          label={params[param]!.label.toLowerCase()}
          target={{ kind: 'effect', place, effectId: effect.id, param }}
          onPreview={onPreview}
        />
      ))}
      {effectNamed(effect.kind).amount !== null && (
        <div className="flex items-center justify-between gap-1.5">
          <Button onClick={() => edits.set(`${name} fades out`, dyingAway(effect, first, fading))}>Fades out over</Button>
          <NumberField label={`Frames over which ${name} fades out`} unit="fr" min={1} max={1000} value={fading} onCommit={setFading} />
        </div>
      )}
      <div className="flex items-center justify-between gap-1.5">
        <span>From, to</span>
        <span className="flex gap-1">
          <NumberField label={`${name} from frame`} unit="fr" value={first + origin} onCommit={(v) => setSpan({ first: v - origin })} />
          <NumberField label={`${name} to frame`} unit="fr" value={last + origin} onCommit={(v) => setSpan({ last: v - origin })} />
        </span>
      </div>
    </li>
  );
}
