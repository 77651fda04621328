import type { JoinKind } from '../../../core/film/recipe-settings';
import { kindNamed } from '../../../core/recipes/kinds';
import type { StageView } from '../../../core/plan/plan-views';
import { useOneStop } from '../../parts/one-stop';
import { STEPS, type Step } from './bench-place';

/** To do, done, or something to look at. */
export type StepState = 'open' | 'done' | 'look';

export const STEP_TEXT: Record<Step, string> = { pair: 'Pair', mask: 'Mask', track: 'Track', move: 'Move', blend: 'Blend', check: 'Check' };
const VIEW_TEXT: Record<StageView, string> = {
  result: 'Result',
  leaving: 'Leaving',
  entering: 'Entering',
  matte: 'Matte',
  'cut-out': 'Cut-out',
  edge: 'Edge',
  overlay: 'Overlay',
  difference: 'Difference',
  'side by side': 'Side by side',
  split: 'Split',
};

export const kindText = (kind: JoinKind): string => (kind === 'cut' ? 'Plain cut' : kindNamed(kind).name);

interface StepTabsProps {
  readonly step: Step;
  readonly done: Record<Step, StepState>;
  readonly kind: JoinKind;
  readonly onStep: (step: Step) => void;
}

/** The steps of the work on a join, each with how it stands. */
export function StepTabs({ step, done, kind, onStep }: StepTabsProps) {
  const stop = useOneStop<HTMLDivElement>();
  return (
    <section aria-label="Work on the join" className="flex h-[34px] shrink-0 items-stretch justify-between border-b border-rule px-1.5">
      <div {...stop} role="tablist" aria-label="Steps" className="flex">
        {STEPS.map((s, i) => (
          <button
            key={s}
            type="button"
            role="tab"
            aria-selected={step === s}
            data-value={s}
            onClick={() => onStep(s)}
            className={`relative flex items-center gap-2 px-3 ${step === s ? 'font-semibold' : 'text-soft hover:text-ink'}`}
          >
            <StepMark state={done[s]} />
            {STEP_TEXT[s]}
            <span className="font-mono text-[10.5px] font-normal text-soft">{i + 1}</span>
            {step === s && <span className="absolute inset-x-2 bottom-0 h-[2px] bg-ink" />}
          </button>
        ))}
      </div>
      <span className="flex items-center pr-2 text-soft">{kindText(kind)}</span>
    </section>
  );
}

interface ViewTabsProps {
  readonly views: readonly StageView[];
  readonly view: StageView;
  readonly onView: (view: StageView) => void;
}

/** The ways to look at the join, above the picture. */
export function ViewTabs({ views, view, onView }: ViewTabsProps) {
  const stop = useOneStop<HTMLDivElement>();
  return (
    <div {...stop} role="tablist" aria-label="Stage view" className="flex min-h-[26px] shrink-0 flex-wrap items-center gap-0.5 px-2 pt-1">
      {views.map((v) => (
        <button
          key={v}
          type="button"
          role="tab"
          aria-selected={view === v}
          data-value={v}
          onClick={() => onView(v)}
          className={`shrink-0 rounded-[4px] px-2 py-[1px] text-[11.5px] ${view === v ? 'bg-[#efece4] font-semibold text-[#23211c]' : 'hover:bg-white/10'}`}
        >
          {VIEW_TEXT[v]}
        </button>
      ))}
    </div>
  );
}

/** Round while open, filled when done, a lozenge when there is something to look at. */
function StepMark({ state }: { readonly state: StepState }) {
  const text = { open: 'to do', done: 'done', look: 'look here' }[state];
  const look = { open: 'rounded-full border-[1.5px] border-soft', done: 'rounded-full bg-ink/70', look: 'rotate-45 bg-heed' }[state];
  return <span role="img" aria-label={text} className={`block size-[8px] ${look}`} />;
}
