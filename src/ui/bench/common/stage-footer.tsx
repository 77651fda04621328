'use client';
import type { Ground, StageView } from '../../../core/plan/plan-views';
import { SliderRow } from '../../parts/number-field';
import { Segmented } from '../../parts/segmented';

/** What lies under a cut-out, and the colour for when it is one. */
export interface GroundChoice {
  readonly kind: Ground;
  /** #rrggbb */
  readonly colour: string;
}

export const CHECKER: GroundChoice = { kind: 'checker', colour: '#4f7a5b' };

const GROUND_OPTIONS: readonly { readonly value: Ground; readonly text: string }[] = [
  { value: 'checker', text: 'Checker' },
  { value: 'colour', text: 'Colour' },
  { value: 'other shot', text: 'Other shot' },
];

interface StageFooterProps {
  readonly view: StageView;
  readonly mix: number;
  readonly onMix: (share: number) => void;
  readonly ground: GroundChoice;
  readonly onGround: (ground: GroundChoice) => void;
  /** What is drawn, such as '960 × 540 of 1280 × 720'. */
  readonly size: string;
}

/** What a view of the stage can be told, under it. */
export function StageFooter({ view, mix, onMix, ground, onGround, size }: StageFooterProps) {
  if (view === 'overlay' || view === 'split')
    return (
      <div className="on-well w-64">
        <SliderRow
          label={view === 'overlay' ? 'Entering' : 'Line at'}
          unit="%"
          min={0}
          max={100}
          value={Math.round(100 * mix)}
          onPreview={(v) => onMix(v / 100)}
          onCommit={(v) => onMix(v / 100)}
        />
      </div>
    );
  if (view === 'cut-out')
    return (
      <div className="on-well flex items-center gap-2 text-[12px] text-ink">
        {ground.kind === 'colour' && (
          <input
            type="color"
            aria-label="Colour under the cut-out"
            className="h-6 w-8 rounded-[5px] border border-rule bg-sheet"
            value={ground.colour}
            onChange={(e) => onGround({ ...ground, colour: e.target.value })}
          />
        )}
        <Segmented
          label="Under the cut-out"
          value={ground.kind}
          onChange={(kind) => onGround({ ...ground, kind })}
          options={GROUND_OPTIONS}
        />
      </div>
    );
  return <span className="shrink-0 font-mono">{size}</span>;
}
