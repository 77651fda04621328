'use client';
import { setFraming, setShotTime } from '../../core/film/edits/shots';
import { overItsOwnLength } from '../../core/motion/ramps';
import type { Framing, Medium, OwnFraming, Shot } from '../../core/film/film';
import { NumberRow } from '../parts/number-field';
import { Section } from '../parts/section';
import { Segmented } from '../parts/segmented';
import { SelectRow, SwitchRow } from '../parts/select-row';
import { TimeRows } from '../shots/time-rows';
import { usePreference } from '../store/preferences';
import { useTools } from '../store/film-context';
import type { PreviewChange } from '../store/preview';
import { newId } from '../store/new-id';

/** How fast a shot runs: by number or by a ready curve, its length kept or following. */
export function ShotTime({ shot, medium }: { readonly shot: Shot; readonly medium: Medium }) {
  const { store } = useTools();
  const [follows, setFollows] = usePreference('length follows speed', true);
  return (
    <Section title="Speed">
      <TimeRows
        time={shot.time}
        first={0}
        last={shot.length - 1}
        onChange={(title, time) => {
          const next = time === undefined ? null : follows ? overItsOwnLength(time, shot.length) : time;
          store.edit(`${title} of ${shot.name}`, (d) => setShotTime(d, medium, shot.id, next, follows, newId));
        }}
      />
      <SwitchRow label="Length follows" value={follows} onChange={setFollows} />
      <p className="text-soft">Or drag the shot’s end with Shift.</p>
    </Section>
  );
}

export const OWN: OwnFraming = { x: 0, y: 0, scale: 1, turn: 0 };

/** How a shot sits in the frame: filling it, whole within it, or placed by hand, also on the stage. */
export function ShotFraming({ shot, onPreview }: { readonly shot: Shot; readonly onPreview: (change: PreviewChange) => void }) {
  const { store } = useTools();
  const { framing = 'fill' } = shot;
  const own = typeof framing === 'object' ? framing : null;
  const change =
    (next: Framing): PreviewChange =>
    (d) =>
      setFraming(d, shot.id, next);
  const set = (name: string, next: Framing): void => store.edit(`${name} of ${shot.name}`, change(next));
  const number = (label: string, unit: string, field: 'x' | 'y' | 'scale' | 'turn', min: number, max: number, step: number) =>
    own === null ? null : (
      <NumberRow
        label={label}
        unit={unit}
        min={min}
        max={max}
        step={step}
        value={own[field]}
        onPreview={(v) => onPreview(change({ ...own, [field]: v }))}
        onCommit={(v) => set(`${label} in the frame`, { ...own, [field]: v })}
      />
    );
  return (
    <Section title="In the frame">
      <Segmented
        label="How the shot sits in the frame"
        value={own === null ? (framing as 'fill' | 'fit') : 'own'}
        options={[
          { value: 'fill', text: 'Fill' },
          { value: 'fit', text: 'Fit' },
          { value: 'own', text: 'Custom' },
        ]}
        onChange={(v) => set('Framing', v === 'own' ? (own ?? OWN) : v)}
      />
      {number('Across', 'px', 'x', -1e5, 1e5, 1)}
      {number('Down', 'px', 'y', -1e5, 1e5, 1)}
      {number('Size', '×', 'scale', 0.01, 100, 0.01)}
      {number('Turn', '°', 'turn', -3600, 3600, 0.5)}
      {own !== null && (
        <SelectRow
          label="Flip"
          value={own.flip ?? 'none'}
          options={(['none', 'across', 'down', 'both'] as const).map((v) => ({ value: v, text: v }))}
          onChange={(v) => {
            const { flip: _, ...rest } = own;
            set('Flip', v === 'none' ? rest : { ...rest, flip: v });
          }}
        />
      )}
    </Section>
  );
}
