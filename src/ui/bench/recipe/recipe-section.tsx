'use client';
import type { ZoomSettings } from '../../../core/film/recipe-settings';
import type { FilmDraft } from '../../../core/film/drafts';
import type { ShotSide } from '../../../core/film/composition';
import type { PlacedJoin } from '../../../core/film/timing';
import { addOutlineOnTrack } from '../../../core/film/edits/mattes';
import { isChangedByHand, offersFor, recipeKind } from '../../../core/recipes/recipe';
import { followsHole, setFollowsHole } from '../../../core/recipes/wipe-past';
import { layZooms, notesOfZoom, setZoomSettings, ZOOM_FIELDS } from '../../../core/recipes/zoom-through';
import { Section } from '../../parts/section';
import { SelectRow, SwitchRow } from '../../parts/select-row';
import { useFilm, useTools } from '../../store/film-context';
import { FeatureSection } from './feature-section';
import { MeltSection } from './melt-section';
import { FieldRow, isPlain } from './field-row';
import { ByHandNote, GoesOnRow, Notes } from './recipe-rows';
import { useMeasures } from '../../store/measure-keeper';
import type { AnySettings } from '../../../core/recipes/composed';
import type { AllMeasured } from '../../../core/recipes/composed-kind';
import { ComposedSection } from './composed-section';

interface RecipeProps {
  readonly placed: PlacedJoin;
  /** The film frame one stands on. */
  readonly frame: number;
  readonly onGoTo: (frame: number) => void;
  /** Opens a matte where it is drawn. */
  readonly onOpen: (matteId: string, side: ShotSide) => void;
  readonly onView: (view: ShotSide) => void;
}

/** What the join's recipe takes, its few settings, and what it came to. */
export function RecipeSection(props: RecipeProps) {
  const { recipe } = props.placed.join;
  if (recipe === undefined) return null;
  switch (recipe.kind) {
    case 'wipe past':
      return <WipeSection {...props} />;
    case 'zoom through':
      return <ZoomSection {...props} settings={recipe.settings} />;
    case 'melt':
      return <MeltSection placed={props.placed} settings={recipe.settings} />;
    case 'feature morph':
      return <FeatureSection {...props} settings={recipe.settings} />;
    default:
      return (
        <ComposedSection key={props.placed.join.id} {...props} kind={recipe.kind} settings={recipe.settings as unknown as AnySettings} />
      );
  }
}

function WipeSection({ placed }: RecipeProps) {
  const { store } = useTools();
  const { media } = useFilm('media');
  const { join } = placed;
  return (
    <Section title="Wipe past" name="Recipe">
      <p>The leaving shot lies above; an outline removes the area behind the trailing edge.</p>
      <SwitchRow
        label="Overlap follows the hole"
        value={followsHole(join)}
        onChange={(follows) =>
          store.edit(follows ? 'Fitted the overlap to the hole' : 'Freed the overlap from the hole', (d) =>
            setFollowsHole(d, media, join.id, follows),
          )
        }
      />
    </Section>
  );
}

function ZoomSection({ placed, settings, onGoTo }: RecipeProps & { readonly settings: ZoomSettings }) {
  const { store } = useTools();
  const { film, media } = useFilm('film', 'media');
  const holes = useMeasures((s) => s.measures);
  const { join } = placed;
  const byHand = isChangedByHand(film, join);
  // with the holes as they were measured last the new move is there in the same step
  const lay = (d: FilmDraft, part: Partial<ZoomSettings>, found: AllMeasured = holes): void => {
    setZoomSettings(d, join.id, part);
    if (!byHand && part.matteId === undefined) layZooms(d, join.id, found);
  };
  const change = (name: string, part: Partial<ZoomSettings>): void => store.edit(name, (d) => lay(d, part));
  const title = (field: { readonly label: string }): string => `Zoom through: ${field.label.toLowerCase()}`;
  const notes = notesOfZoom(film, media, placed, holes.get(join.id));
  return (
    <Section title="Zoom through" name="Recipe">
      <HoleRow placed={placed} matteId={settings.matteId} onChange={(matteId) => change('Chose the hole', { matteId })} />
      {ZOOM_FIELDS.filter(isPlain)
        .filter((f) => f.when?.(settings) ?? true)
        .map((field) =>
          field.name === 'goesOn' ? (
            <GoesOnRow
              key={field.name}
              field={field}
              settings={settings}
              join={join}
              change={lay}
              onChange={(part) => change(title(field), part)}
            />
          ) : (
            <FieldRow key={field.name} field={field} settings={settings} onChange={(part) => change(title(field), part)} />
          ),
        )}
      <Notes notes={notes ?? []} onGoTo={onGoTo} />
      <ByHandNote join={join} name="zoom" onAnew={(d) => layZooms(d, join.id, holes)} />
    </Section>
  );
}

/** The hole is chosen from the mattes and tracks that are there. */
function HoleRow({
  placed,
  matteId,
  onChange,
}: {
  readonly placed: PlacedJoin;
  readonly matteId: string | null;
  readonly onChange: (id: string) => void;
}) {
  const { store } = useTools();
  const { film } = useFilm('film');
  const offers = offersFor(film, placed, recipeKind('zoom through').need);
  const begun = film.mattes.find((m) => m.id === matteId);
  const options = [
    ...(begun !== undefined && !offers.some((o) => o.id === matteId) ? [{ value: begun.id, text: begun.name }] : []),
    ...offers.map((o) => ({ value: o.id, text: o.kind === 'track' ? `Track: ${o.name}` : o.name })),
  ];
  if (options.length === 0) return <p className="text-soft">No hole yet: paint or draw one in Mask.</p>;
  return (
    <SelectRow
      label="The hole"
      value={matteId ?? ''}
      options={matteId === null ? [{ value: '', text: 'choose…' }, ...options] : options}
      onChange={(id) => {
        if (offers.find((o) => o.id === id)?.kind !== 'track') return id === '' ? undefined : onChange(id);
        store.edit('Took the track’s region as the hole', (d) => {
          const made = addOutlineOnTrack(d, id, () => crypto.randomUUID());
          setZoomSettings(d, placed.join.id, { matteId: made });
        });
      }}
    />
  );
}
