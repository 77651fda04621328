'use client';
import { Pencil, X } from 'lucide-react';
import type { LinePair, ShotSide } from '../../../core/film/composition';
import { GROUNDS_BEHIND, type FeatureSettings, type GroundBehind } from '../../../core/film/recipe-settings';
import type { PlacedJoin } from '../../../core/film/timing';
import { layJoin, setSettings } from '../../../core/recipes/making';
import { addLinePair, featureMorph, hasSubjects } from '../../../core/recipes/feature-morph/feature-morph';
import { isMade } from '../../../core/film/mattes';
import { Button, IconButton } from '../../parts/button';
import { Section } from '../../parts/section';
import { SelectRow, SwitchRow } from '../../parts/select-row';
import { useFilm, useTools } from '../../store/film-context';
import { showLines, useBench } from '../../store/bench-state';
import { FieldRow, isPlain } from './field-row';
import { ByHandNote, OverRow } from './recipe-rows';
import { newId } from '../../store/new-id';

const GROUND_TEXT: Record<GroundBehind, string> = {
  leaving: 'the leaving shot',
  entering: 'the entering shot',
  both: 'both, dissolving',
  medium: 'media from the shelf',
};

interface FeatureProps {
  readonly placed: PlacedJoin;
  readonly settings: FeatureSettings;
  readonly onOpen: (matteId: string, side: ShotSide) => void;
}

/** The lines that go over into one another, how they do, and what of the picture does. */
export function FeatureSection({ placed, settings, onOpen }: FeatureProps) {
  const { store } = useTools();
  const { film, media } = useFilm('film', 'media');
  const areShown = useBench((s) => s.showsLines);
  const { join } = placed;
  const change = (title: string, part: Partial<FeatureSettings>): void =>
    store.edit(`Feature morph: ${title}`, (d) => setSettings(d, media, join.id, 'feature morph', part));
  const add = (): void =>
    store.edit('Added a pair of lines', (d) => {
      const pair = addLinePair(d, join.id, newId);
      layJoin(d, media, join.id);
      if (pair !== null) onOpen(pair.leaving, 'leaving');
    });
  const subjectsOf = (side: ShotSide): { readonly value: string; readonly text: string }[] => [
    { value: '', text: 'all of the picture' },
    ...film.mattes.filter((m) => m.mediumId === placed[side].mediumId && isMade(m)).map((m) => ({ value: m.id, text: m.name })),
  ];
  return (
    <Section title="Feature morph" name="Recipe">
      <ul className="flex flex-col gap-2">
        {settings.pairs.map((pair, i) => (
          <li key={`${pair.leaving} ${pair.entering}`} className="flex flex-col gap-1" data-line-pair={i}>
            <div className="flex items-center justify-between">
              <span className="text-soft">Pair {i + 1}</span>
              <IconButton
                label={`Delete pair ${i + 1}`}
                onClick={() => change('deleted a pair', { pairs: settings.pairs.filter((p) => p !== pair) })}
              >
                <X size={12} />
              </IconButton>
            </div>
            {(['leaving', 'entering'] as const).map((side) => (
              <LineRow key={side} placed={placed} pair={pair} side={side} settings={settings} onChange={change} onOpen={onOpen} />
            ))}
          </li>
        ))}
      </ul>
      <div>
        <Button onClick={add}>Add a pair of lines</Button>
      </div>
      <OverRow join={join} kind="feature morph" />
      {featureMorph.fields
        .filter(isPlain)
        .filter((f) => f.name !== 'ground')
        .map((field) => (
          <FieldRow key={field.name} field={field} settings={settings} onChange={(part) => change(field.label.toLowerCase(), part)} />
        ))}
      <SwitchRow label="Lines over the picture" value={areShown} onChange={showLines} />
      {(['leaving', 'entering'] as const).map((side) => (
        <SelectRow
          key={side}
          label={`Of ${side === 'leaving' ? '◣' : '◢'}`}
          value={settings.subjects[side] ?? ''}
          options={subjectsOf(side)}
          onChange={(id) => change('subjects', { subjects: { ...settings.subjects, [side]: id === '' ? null : id } })}
        />
      ))}
      {hasSubjects(settings) && (
        <SelectRow<string>
          label="Behind them"
          value={settings.ground === 'medium' ? `medium ${settings.groundMediumId}` : settings.ground}
          options={[
            ...GROUNDS_BEHIND.filter((g) => g !== 'medium').map((g) => ({ value: g, text: GROUND_TEXT[g] })),
            ...[...media.values()].map((m) => ({ value: `medium ${m.id}`, text: m.name })),
          ]}
          onChange={(value) =>
            change(
              'what lies behind',
              value.startsWith('medium ')
                ? { ground: 'medium', groundMediumId: value.slice('medium '.length) }
                : { ground: value as GroundBehind, groundMediumId: null },
            )
          }
        />
      )}
      {!hasSubjects(settings) && (settings.subjects.leaving !== null || settings.subjects.entering !== null) && (
        <p className="text-soft">Choose a matte in the other shot too. Until then the whole pictures morph.</p>
      )}
      <p className="text-soft">How far shapes and colours have gone are two lanes of the layer.</p>
      <ByHandNote join={join} name="morph" onAnew={(d) => layJoin(d, media, join.id)} />
    </Section>
  );
}

interface LineRowProps extends FeatureProps {
  readonly pair: LinePair;
  readonly side: ShotSide;
  readonly onChange: (title: string, part: Partial<FeatureSettings>) => void;
}

/** One line of a pair: which outline of its shot it is, and a way to where it is drawn. */
function LineRow({ placed, pair, side, settings, onChange, onOpen }: LineRowProps) {
  const { film } = useFilm('film');
  const outlines = film.mattes.filter((m) => m.mediumId === placed[side].mediumId && m.painted === undefined && m.key === undefined);
  return (
    <div className="flex items-center gap-1">
      <div className="min-w-0 grow">
        <SelectRow
          label={side === 'leaving' ? '◣' : '◢'}
          value={pair[side]}
          options={outlines.map((m) => ({ value: m.id, text: m.name }))}
          onChange={(id) => onChange('another line', { pairs: settings.pairs.map((p) => (p === pair ? { ...p, [side]: id } : p)) })}
        />
      </div>
      <IconButton label={`Draw the line in ${placed[side].name}`} onClick={() => onOpen(pair[side], side)}>
        <Pencil size={12} />
      </IconButton>
    </div>
  );
}
