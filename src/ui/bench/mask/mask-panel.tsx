'use client';
import { setMatteUse } from '../../../core/film/edits/layers';
import type { WipeReport } from '../../../core/recipes/wipe-past/wipe-past-report';
import { keyAt } from '../../../core/matte/outline/outline';
import { EASES, type Ease } from '../../../core/motion/curve';
import type { Medium } from '../../../core/film/film';
import type { ShotSide, MatteUse } from '../../../core/film/composition';
import type { PlacedJoin } from '../../../core/film/timing';
import { Button } from '../../parts/button';
import { CarryOutline } from './carry-outline';
import { Note } from '../../parts/note';
import { NumberRow } from '../../parts/number-field';
import { Section } from '../../parts/section';
import { Segmented } from '../../parts/segmented';
import { useTools } from '../../store/film-context';
import { useGhosts } from '../../store/mask-view';
import { HatchRow } from './hatch-row';
import { FindEdgeSection } from './find-edge-section';
import type { OutlineTools } from './outline-tools';

interface MaskPanelProps {
  readonly placed: PlacedJoin;
  /** The shot the matte belongs to, and its medium. */
  readonly side: ShotSide;
  readonly medium: Medium | null;
  /** The layer that uses the matte and how; null while none does. */
  readonly layerId: string | null;
  readonly use: MatteUse | null;
  readonly tools: OutlineTools;
  readonly report: WipeReport | null;
  readonly onGoTo: (frame: number) => void;
}

const EASE_TEXT: Record<Ease, string> = { 'soft both': 'Soft', straight: 'Straight', hold: 'Hold' };

/** The controls of Mask: the outline, its keyframes and its edge. */
export function MaskPanel({ placed, side, medium, layerId, use, tools, report, onGoTo }: MaskPanelProps) {
  const { store } = useTools();
  const [ghosts, setGhosts] = useGhosts();
  const { matte, points, mediumFrame } = tools;
  const { outline } = matte;
  const key = mediumFrame === null ? undefined : keyAt(outline, mediumFrame);
  const earlier = outline.keys.findLast((k) => mediumFrame !== null && k.frame < mediumFrame);
  const later = outline.keys.find((k) => mediumFrame !== null && k.frame > mediumFrame);
  const setUse = (name: string, change: Partial<MatteUse>): void => {
    if (layerId !== null) store.edit(name, (draft) => setMatteUse(draft, placed.join.id, layerId, matte.id, change));
  };
  // the way to begin; with an outline there, what changes it comes first
  const trailingEdge = medium !== null && mediumFrame !== null && (
    <FindEdgeSection placed={placed} side={side} matte={matte} medium={medium} mediumFrame={mediumFrame} onGoTo={onGoTo} />
  );
  return (
    <>
      <Section title={matte.name} name="Matte">
        {mediumFrame === null && <Note tone="heed">The shot has no picture on this frame. Step back to draw.</Note>}
        {!outline.closed && mediumFrame !== null && (
          <Note tone="good">
            {points.length === 0
              ? 'Click on the picture to set the first point; drag while clicking for a curve.'
              : points.length < 3
                ? 'Click on for more points. Points may lie beyond the frame.'
                : 'Click the first point, or press Enter, to close the outline.'}
          </Note>
        )}
        {use !== null && (
          <div className="flex items-center justify-between">
            <span>Takes out</span>
            <Segmented
              label="Side taken out"
              value={use.side}
              onChange={(side) => setUse('Inverted the matte', { side })}
              options={[
                { value: 'outside', text: 'inside' },
                { value: 'inside', text: 'outside' },
              ]}
            />
          </div>
        )}
        <HatchRow />
      </Section>
      {trailingEdge}
      <Section title="Keyframes">
        <p className="text-soft">Moving points on another frame makes a keyframe there.</p>
        <div className="flex flex-wrap gap-1.5">
          <Button disabled={key !== undefined || points.length === 0} onClick={tools.keyHere}>
            Key here <span className="font-mono text-[10.5px] text-soft">.</span>
          </Button>
          <Button disabled={earlier === undefined} onClick={() => earlier !== undefined && tools.copyFrom(earlier.frame)}>
            Copy the previous keyframe here
          </Button>
          <Button disabled={key === undefined || outline.keys.length < 2} onClick={tools.deleteKey}>
            Delete the keyframe
          </Button>
          <Button disabled={earlier === undefined} onClick={() => earlier !== undefined && onGoTo(tools.filmFrame(earlier.frame))}>
            1 frame earlier
          </Button>
          <Button disabled={later === undefined} onClick={() => later !== undefined && onGoTo(tools.filmFrame(later.frame))}>
            1 frame later
          </Button>
        </div>
        {key !== undefined && (
          <div className="flex items-center justify-between">
            <span>Leaves it</span>
            <Segmented
              label="Ease after this keyframe"
              value={key.ease}
              onChange={tools.setEase}
              options={EASES.map((e) => ({ value: e, text: EASE_TEXT[e] }))}
            />
          </div>
        )}
        <label className="flex items-center gap-2">
          <input type="checkbox" className="accent-ink" checked={ghosts} onChange={(e) => setGhosts(e.target.checked)} />
          Ghosts of the neighbouring keyframes <span className="font-mono text-[10.5px] text-soft">G</span>
        </label>
      </Section>
      {tools.matte.trackId === undefined && <CarryOutline placed={placed} tools={tools} />}
      <PointsSection tools={tools} />
      {report !== null && <HoleSection report={report} placed={placed} onGoTo={onGoTo} />}
    </>
  );
}

function HoleSection({
  report,
  placed,
  onGoTo,
}: {
  readonly report: WipeReport;
  readonly placed: PlacedJoin;
  readonly onGoTo: (frame: number) => void;
}) {
  const line = report.hidden.map((share, i) => `${i === 0 ? 'M' : 'L'}${i} ${40 - 38 * share}`).join('');
  return (
    <Section title="The hole">
      {report.firstHole === null ? (
        <p className="text-soft">The outline does not reach into the frame yet.</p>
      ) : (
        <>
          <p>
            Opens on{' '}
            <button type="button" className="font-mono underline" onClick={() => onGoTo(report.firstHole!)}>
              {report.firstHole}
            </button>
            {report.fullFrom === null ? (
              <>; never covers the whole frame.</>
            ) : (
              <>
                , covers everything from{' '}
                <button type="button" className="font-mono underline" onClick={() => onGoTo(report.fullFrom!)}>
                  {report.fullFrom}
                </button>
                .
              </>
            )}
          </p>
          <svg
            viewBox={`0 0 ${Math.max(1, report.hidden.length - 1)} 41`}
            preserveAspectRatio="none"
            className="h-10 w-full"
            role="img"
            aria-label="Share of the frame that is hidden, over time"
          >
            <rect x={placed.from - report.start} y="0" width={placed.to - placed.from} height="41" className="fill-seam/15" />
            <path d={line} fill="none" stroke="var(--ink)" strokeWidth="1.5" vectorEffect="non-scaling-stroke" />
          </svg>
        </>
      )}
    </Section>
  );
}

/** The points that are selected: their place in numbers, and taking them away. */
function PointsSection({ tools }: { readonly tools: MaskPanelProps['tools'] }) {
  const { points, selection } = tools;
  const only = selection.size === 1 ? points[[...selection][0]!] : undefined;
  const moveTo = (x: number, y: number): void => {
    const index = [...selection][0]!;
    tools.commit(
      'Moved an outline point',
      points.map((p, i) => (i === index ? { ...p, x, y } : p)),
    );
  };
  return (
    <Section title="Points">
      {only === undefined ? (
        <p className="text-soft">
          {selection.size === 0
            ? 'Choose a point to type its place. Double-click a side to add one, a point to bend it.'
            : `${selection.size} points selected: drag, or move them with the arrows.`}
        </p>
      ) : (
        <>
          <NumberRow label="Across, from the centre" unit="px" step={0.1} value={only.x} onCommit={(x) => moveTo(x, only.y)} />
          <NumberRow label="Down, from the centre" unit="px" step={0.1} value={only.y} onCommit={(y) => moveTo(only.x, y)} />
        </>
      )}
      <div className="flex gap-1.5">
        <Button disabled={selection.size === 0} onClick={tools.removeSelected}>
          Remove points
        </Button>
        <Button disabled={points.length === 0} onClick={tools.clear}>
          Clear the outline
        </Button>
      </div>
    </Section>
  );
}
