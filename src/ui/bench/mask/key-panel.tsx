'use client';
import { setKey } from '../../../core/film/edits/mattes';
import type { Matte } from '../../../core/film/film';
import type { BrightnessKey, MatteKey } from '../../../core/matte/key/key';
import { channelAt, type ValueKey } from '../../../core/motion/curve';
import { withKeyAt } from '../../../core/motion/key-edits';
import { Button } from '../../parts/button';
import { ColourRow } from '../../parts/colour-row';
import { Note } from '../../parts/note';
import { SliderRow } from '../../parts/number-field';
import { Section } from '../../parts/section';
import { useTools } from '../../store/film-context';
import type { PreviewChange } from '../../store/preview';

interface KeyPanelProps {
  readonly matte: Matte;
  readonly matteKey: MatteKey;
  /** Medium frame under the playhead; null where the shot has none. */
  readonly mediumFrame: number | null;
  readonly filmFrame: (mediumFrame: number) => number;
  readonly onPreview: (change: PreviewChange) => void;
  readonly onGoTo: (filmFrame: number) => void;
}

const percent = (v: number): number => Math.round(1000 * v) / 10;

/** The controls of a key: what is taken out, how softly, and how clean. */
export function KeyPanel({ matte, matteKey, mediumFrame, filmFrame, onPreview, onGoTo }: KeyPanelProps) {
  const { store } = useTools();
  const set =
    (key: MatteKey): PreviewChange =>
    (d) =>
      setKey(d, matte.id, key);
  const share = (label: string, name: string, value: number, withValue: (v: number) => MatteKey) => (
    <SliderRow
      label={label}
      unit="%"
      min={0}
      max={100}
      step={0.5}
      value={percent(value)}
      onPreview={(v) => onPreview(set(withValue(v / 100)))}
      onCommit={(v) => store.edit(name, set(withValue(v / 100)))}
    />
  );
  return (
    <>
      <Section title={matte.name} name="Matte">
        {matteKey.kind === 'colour' ? (
          <>
            <Note tone="good">Click the colour to remove, on the picture. A corner of the cloth near the subject is best.</Note>
            <ColourRow
              label="Removed colour"
              value={matteKey.colour}
              onChange={(colour) => store.edit('Chose the colour of the key', set({ ...matteKey, colour }))}
            />
            {share('Tolerance', 'Changed the tolerance of the key', matteKey.tolerance, (tolerance) => ({ ...matteKey, tolerance }))}
            {share('Softness', 'Changed the softness of the key', matteKey.softness, (softness) => ({ ...matteKey, softness }))}
            {share('Spill', 'Changed the spill', matteKey.spill, (spill) => ({ ...matteKey, spill }))}
          </>
        ) : (
          <>
            <p className="text-soft">Covers what is brighter than the threshold. Keyframes let it sweep through the picture.</p>
            <Threshold
              matteKey={matteKey}
              mediumFrame={mediumFrame}
              filmFrame={filmFrame}
              set={set}
              onPreview={onPreview}
              onGoTo={onGoTo}
            />
            {share('Softness', 'Changed the softness of the key', matteKey.softness, (softness) => ({ ...matteKey, softness }))}
          </>
        )}
      </Section>
      <Section title="Clip black and white" startsFolded>
        {share('Black', 'Cleaned the black', matteKey.cleanBlack, (v) => ({
          ...matteKey,
          cleanBlack: Math.min(v, matteKey.cleanWhite - 0.01),
        }))}
        {share('White', 'Cleaned the white', matteKey.cleanWhite, (v) => ({
          ...matteKey,
          cleanWhite: Math.max(v, matteKey.cleanBlack + 0.01),
        }))}
        <p className="text-soft">Look at Matte: raise Black until the cloth is black, lower White until the subject is white.</p>
      </Section>
    </>
  );
}

interface ThresholdProps extends Pick<KeyPanelProps, 'mediumFrame' | 'filmFrame' | 'onPreview' | 'onGoTo'> {
  readonly matteKey: BrightnessKey;
  readonly set: (key: MatteKey) => PreviewChange;
}

function Threshold({ matteKey, mediumFrame, filmFrame, set, onPreview, onGoTo }: ThresholdProps) {
  const { store } = useTools();
  const { threshold } = matteKey;
  const keys = typeof threshold === 'number' ? [] : threshold;
  const value = channelAt(threshold, mediumFrame ?? 0, 0.5);
  const here = keys.find((k) => k.frame === mediumFrame);
  const withKey = (v: number): readonly ValueKey[] => withKeyAt(keys, mediumFrame ?? 0, v);
  const at = (v: number): BrightnessKey => ({ ...matteKey, threshold: keys.length === 0 ? v : withKey(v) });
  return (
    <>
      <SliderRow
        label="Threshold"
        unit="%"
        min={-50}
        max={150}
        step={0.5}
        value={percent(value)}
        onPreview={(v) => onPreview(set(at(v / 100)))}
        onCommit={(v) => store.edit('Changed the threshold', set(at(v / 100)))}
      />
      <div className="flex flex-wrap items-center gap-1.5">
        <Button
          disabled={mediumFrame === null || here !== undefined}
          onClick={() => store.edit('Set a keyframe of the threshold', set({ ...matteKey, threshold: withKey(value) }))}
        >
          Add a keyframe
        </Button>
        <Button
          disabled={here === undefined}
          onClick={() => {
            const rest = keys.filter((k) => k !== here);
            store.edit('Deleted a keyframe of the threshold', set({ ...matteKey, threshold: rest.length === 0 ? value : rest }));
          }}
        >
          Delete the keyframe
        </Button>
        {keys.map((k) => (
          <button
            key={k.frame}
            type="button"
            aria-label={`Go to the threshold's keyframe on frame ${filmFrame(k.frame)}`}
            className={`size-3 rounded-full border border-ink ${k.frame === mediumFrame ? 'bg-ink' : 'bg-sheet'}`}
            onClick={() => onGoTo(filmFrame(k.frame))}
          />
        ))}
      </div>
    </>
  );
}
