'use client';
import type { BenchActions } from './work/bench-actions';
import { BlendPanel } from './blend/blend-panel';
import { CheckPanel } from './check/check-panel';
import { KindsSheet } from './kinds/kinds-sheet';
import { MattePanels } from './mask/matte-panels';
import { MovePanel } from './move/move-panel';
import { PairPanel } from './pair/pair-panel';
import { SoundSection } from './sound/sound-section';
import { WordSection } from './sound/word-section';
import { TrackPanel } from './track/track-panel';
import type { BenchWork } from './work/use-bench-work';
import type { useKinds } from './work/use-kinds';
import { WayNote } from './way-note';

interface BenchPanelProps {
  readonly work: BenchWork;
  readonly actions: BenchActions;
  readonly kinds: ReturnType<typeof useKinds>;
}

/** The controls of the step, under what the join lacks next. */
export function BenchPanel({ work, actions, kinds }: BenchPanelProps) {
  const { next } = kinds;
  const { placed, place, shownFilm, shownPlaced, frame, setFrame, preview, track } = work;
  return (
    <>
      {next !== null && <WayNote next={next} isHere={next.step === place.step} onGo={() => actions.goTo(next)} />}
      <KindsSheet placed={placed} isOpen={kinds.isOpen} onClose={kinds.close} onChoose={kinds.choose} onLay={kinds.lay} />
      {kinds.told.length > 0 && (
        <div role="status" data-told className="flex flex-col items-start gap-1 border-b border-rule bg-heed/10 px-3.5 py-2.5">
          {kinds.told.map(({ text, matte }) => (
            <p key={text} className="flex items-start gap-2">
              <span className="min-w-0 grow">{text}</span>
              {matte !== undefined && (
                <button type="button" className="shrink-0 underline" onClick={() => actions.openMatte(matte.id, matte.side)}>
                  Go there
                </button>
              )}
            </p>
          ))}
          <button type="button" className="underline" onClick={kinds.dismiss}>
            All right
          </button>
        </div>
      )}
      {place.step === 'pair' && (
        <>
          <PairPanel
            placed={placed}
            shown={shownPlaced}
            findings={work.findings}
            onKinds={kinds.open}
            onFrame={work.setFrame}
            onView={work.setView}
          />
          <SoundSection placed={placed} frame={frame} />
          <WordSection placed={placed} />
        </>
      )}
      {place.step === 'mask' && (
        <MattePanels
          placed={shownPlaced}
          matte={shownFilm.mattes.find((m) => m.id === work.matte?.id) ?? null}
          side={work.side}
          frame={frame}
          strokes={work.strokes}
          outline={work.tools}
          report={work.report}
          onPreview={preview}
          onGoTo={setFrame}
          onAddMatte={actions.addMatteOf}
        />
      )}
      {place.step === 'track' && track !== null && <TrackPanel placed={shownPlaced} tools={track} onPreview={preview} onGoTo={setFrame} />}
      {place.step === 'move' && (
        <MovePanel
          placed={shownPlaced}
          frame={frame}
          onGoTo={setFrame}
          onPreview={preview}
          onOpen={actions.openMatte}
          onView={work.setView}
        />
      )}
      {place.step === 'blend' && (
        <>
          <BlendPanel placed={shownPlaced} frame={frame} onPreview={preview} />
          <SoundSection placed={placed} frame={frame} />
        </>
      )}
      {place.step === 'check' && <CheckPanel placed={placed} findings={work.checked} onGoTo={setFrame} />}
    </>
  );
}
