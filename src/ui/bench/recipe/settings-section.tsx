'use client';
import { Pencil, X } from 'lucide-react';
import type { ShotSide } from '../../../core/film/composition';
import type { Film } from '../../../core/film/film';
import type { Pin } from '../../../core/film/recipe-settings';
import { mediumOf, shotFrameAt, startsAround, type PlacedJoin } from '../../../core/film/timing';
import { againstOwn, pinByPoints } from '../../../core/pair/bring-together';
import { kindNamed, type AnySettings } from '../../../core/recipes/kinds';
import { layJoin, setSettings } from '../../../core/recipes/making';
import { offersFor } from '../../../core/recipes/offers';
import type { RecipeName } from '../../../core/film/recipe-settings';
import { addOutlineOnTrack } from '../../../core/film/edits/mattes';
import { isMade, isOfRecipe } from '../../../core/film/mattes';
import type { Field } from '../../../core/recipes/kind';
import { Button, IconButton } from '../../parts/button';
import { NumberRow } from '../../parts/number-field';
import { Section } from '../../parts/section';
import { SelectRow } from '../../parts/select-row';
import { useFilm, useTools } from '../../store/film-context';
import { useMeasures } from '../../store/measure-keeper';
import { AlignControls, PlaceRows } from '../pair/align-section';
import { EyePoints } from '../pair/eye-section';
import { OverlapByHandNote } from '../common/overlap-note';
import { FieldRow, isPlain } from './field-row';
import { ByHandNote, GoesOnRow, Notes, OverRow } from './recipe-rows';
import { newId } from '../../store/new-id';

interface SettingsProps {
  readonly placed: PlacedJoin;
  readonly kind: RecipeName;
  readonly settings: AnySettings;
  /** The film frame one stands on. */
  readonly frame: number;
  readonly onGoTo: (frame: number) => void;
  readonly onOpen: (matteId: string, side: ShotSide) => void;
  readonly onView: (view: ShotSide) => void;
}

/** The settings of a kind of join, a row each, and what it came to. */
export function SettingsSection({ placed, kind, settings, frame, onGoTo, onOpen, onView }: SettingsProps) {
  const { store } = useTools();
  const { film, media } = useFilm('film', 'media');
  const measures = useMeasures((s) => s.measures);
  const { join } = placed;
  const { name } = kindNamed(kind);
  const { fields, overlap, notes, ownLength } = kindNamed(kind);
  const change = (title: string, part: object): void =>
    store.edit(`${name}: ${title.toLowerCase()}`, (d) => setSettings(d, media, join.id, kind, part, measures));
  const row = (field: Field<AnySettings>): React.ReactNode => {
    const set = (part: object): void => change(field.label, part);
    if (isPlain(field) && field.name === 'goesOn')
      return (
        <GoesOnRow
          field={field}
          settings={settings}
          join={join}
          change={(d, part, found) => setSettings(d, media, join.id, kind, part, found)}
          onChange={set}
        />
      );
    if (isPlain(field)) return <FieldRow field={field} settings={settings} onChange={set} />;
    const value: unknown = settings[field.name];
    const { kind: of } = field;
    if (of === 'matte')
      return <MatteRow placed={placed} field={field} settings={settings} value={value as string | null} onChange={set} onOpen={onOpen} />;
    if (of === 'mattes') return <MattesRow field={field} value={value as readonly string[]} onChange={set} />;
    if (of === 'medium') return <MediumRow field={field} value={value as string | null} onChange={set} />;
    if (of === 'moment') return <MomentRow placed={placed} field={field} settings={settings} frame={frame} onChange={set} />;
    return (
      <PinRows
        placed={placed}
        within={of === 'pin' && field.within === true}
        value={value as Pin | null}
        onGoTo={onGoTo}
        onView={onView}
        onChange={(pin) => set({ [field.name]: pin })}
      />
    );
  };
  return (
    <Section title={name} name="Recipe">
      {ownLength !== true && overlap?.(film, media, placed, settings) == null && <OverRow join={join} kind={kind} />}
      <OverlapByHandNote join={join} />
      {fields
        .filter((f) => f.when?.(settings) ?? true)
        .map((field) => (
          <div key={field.name} className="contents">
            {row(field)}
          </div>
        ))}
      <Notes notes={notes?.(film, media, placed, settings, measures.get(join.id)) ?? []} onGoTo={onGoTo} />
      <ByHandNote join={join} name={name.toLowerCase()} onAnew={(d) => layJoin(d, media, join.id, measures)} />
    </Section>
  );
}

const optionOf = (m: Film['mattes'][number]): { readonly value: string; readonly text: string } => ({ value: m.id, text: m.name });

interface MatteRowProps {
  readonly placed: PlacedJoin;
  readonly field: Extract<Field<AnySettings>, { readonly kind: 'matte' }>;
  readonly settings: AnySettings;
  readonly value: string | null;
  readonly onChange: (part: object) => void;
  readonly onOpen: (matteId: string, side: ShotSide) => void;
}

/** A matte chosen from those that are there, or made of a track's region where that serves too, and a way to where it is painted. */
function MatteRow({ placed, field, settings, value, onChange, onOpen }: MatteRowProps) {
  const { store } = useTools();
  const { film, media } = useFilm('film', 'media');
  const side = typeof field.side === 'function' ? field.side(settings) : field.side;
  const mattes = film.mattes.filter((m) => m.id === value || ((side === 'any' || m.mediumId === placed[side].mediumId) && !isOfRecipe(m)));
  const chosen = film.mattes.find((m) => m.id === value);
  const paintedIn = (['leaving', 'entering'] as const).find((s) => placed[s].mediumId === chosen?.mediumId);
  const { kind } = placed.join.recipe!;
  const tracks = field.orTrack === true ? offersFor(film, placed, kindNamed(kind).need).filter((o) => o.kind === 'track') : [];
  const none = value === null || field.orNone !== undefined ? [{ value: '', text: field.orNone ?? 'choose…' }] : [];
  const choose = (id: string): void => {
    if (!tracks.some((t) => t.id === id)) return onChange({ [field.name]: id === '' ? null : id });
    store.edit(`${field.label}: the region of a track`, (d) => {
      const made = addOutlineOnTrack(d, id, newId);
      setSettings(d, media, placed.join.id, kind, { [field.name]: made });
    });
  };
  return (
    <div className="flex items-center gap-1">
      <div className="min-w-0 grow">
        <SelectRow
          label={field.label}
          value={value ?? ''}
          options={[...none, ...mattes.map(optionOf), ...tracks.map((t) => ({ value: t.id, text: `Track: ${t.name}` }))]}
          onChange={choose}
        />
      </div>
      {chosen !== undefined && paintedIn !== undefined && (
        <IconButton label={`Paint it in ${placed[paintedIn].name}`} onClick={() => onOpen(chosen.id, paintedIn)}>
          <Pencil size={12} />
        </IconButton>
      )}
    </div>
  );
}

/** Several mattes in order, of any medium. */
function MattesRow({
  field,
  value,
  onChange,
}: {
  readonly field: Extract<Field<AnySettings>, { readonly kind: 'mattes' }>;
  readonly value: readonly string[];
  readonly onChange: (part: object) => void;
}) {
  const { film } = useFilm('film');
  const free = film.mattes.filter((m) => !value.includes(m.id) && isMade(m) && !isOfRecipe(m));
  return (
    <>
      {value.map((id) => {
        const name = film.mattes.find((m) => m.id === id)?.name ?? id;
        return (
          <div key={id} className="flex items-center justify-between gap-1">
            <span className="min-w-0 truncate">
              {field.label}: {name}
            </span>
            <IconButton label={`Without ${name}`} onClick={() => onChange({ [field.name]: value.filter((v) => v !== id) })}>
              <X size={12} />
            </IconButton>
          </div>
        );
      })}
      {free.length > 0 && value.length < field.most && (
        <SelectRow
          label={value.length === 0 ? field.label : 'And'}
          value=""
          options={[{ value: '', text: 'nothing' }, ...free.map(optionOf)]}
          onChange={(id) => id !== '' && onChange({ [field.name]: [...value, id] })}
        />
      )}
    </>
  );
}

/** A frame of one of the shots, by its number in its media or the one that is looked at. */
function MomentRow({
  placed,
  field,
  settings,
  frame,
  onChange,
}: {
  readonly placed: PlacedJoin;
  readonly field: Extract<Field<AnySettings>, { readonly kind: 'moment' }>;
  readonly settings: AnySettings;
  readonly frame: number;
  readonly onChange: (part: object) => void;
}) {
  const { film, media } = useFilm('film', 'media');
  const side = field.side(settings);
  const value = (settings[field.name] ?? null) as unknown as number | null;
  const here = shotFrameAt(film, media, placed[side], startsAround(placed)[side], frame);
  const last = (mediumOf(media, placed[side])?.frames ?? 1) - 1;
  return (
    <div className="flex flex-col gap-1.5">
      {value !== null && (
        <NumberRow
          label={field.label}
          unit="fr"
          min={0}
          max={last}
          value={value}
          onCommit={(v) => onChange({ [field.name]: Math.round(v) })}
        />
      )}
      <div className="flex items-center justify-between gap-1.5">
        <span>{value === null ? `${field.label}: at the cut` : ''}</span>
        <span className="flex gap-1.5">
          <Button disabled={here === null || here === value} onClick={() => onChange({ [field.name]: here })}>
            Use this frame
          </Button>
          {value !== null && <Button onClick={() => onChange({ [field.name]: null })}>At the cut</Button>}
        </span>
      </div>
    </div>
  );
}

function MediumRow({
  field,
  value,
  onChange,
}: {
  readonly field: Extract<Field<AnySettings>, { readonly kind: 'medium' }>;
  readonly value: string | null;
  readonly onChange: (part: object) => void;
}) {
  const { media } = useFilm('media');
  return (
    <SelectRow
      label={field.label}
      value={value ?? ''}
      options={[
        ...(value === null ? [{ value: '', text: 'choose…' }] : []),
        ...[...media.values()].map((m) => ({ value: m.id, text: m.name })),
      ]}
      onChange={(id) => onChange({ [field.name]: id === '' ? null : id })}
    />
  );
}

/** How the entering shot lies over the leaving one where both show the same: found, from points in both, or by numbers. */
function PinRows({
  placed,
  value,
  within,
  onChange,
  onGoTo,
  onView,
}: {
  readonly placed: PlacedJoin;
  readonly value: Pin | null;
  readonly within: boolean;
  readonly onChange: (pin: Pin | null) => void;
  readonly onGoTo: (frame: number) => void;
  readonly onView: (view: ShotSide) => void;
}) {
  const { film, media } = useFilm('film', 'media');
  const byPoints = pinByPoints(film, media, placed);
  const found = (pin: Pin): void => onChange(againstOwn(pin, placed.entering));
  return (
    <div className="flex flex-col gap-1.5 border-l-[3px] border-seam pl-2">
      <span>What is the same in both</span>
      <EyePoints placed={placed} onView={onView} onFrame={onGoTo} />
      <AlignControls placed={placed} onFound={found} within={within}>
        {byPoints !== null && <Button onClick={() => found(byPoints)}>From the points</Button>}
        {value !== null && <Button onClick={() => onChange(null)}>None</Button>}
      </AlignControls>
      {value !== null && <PlaceRows value={value} onChange={(_, part) => onChange({ ...value, ...part })} />}
    </div>
  );
}
