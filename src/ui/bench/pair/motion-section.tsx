'use client';
import { useMemo } from 'react';
import { setFraming, setShotTime } from '../../../core/film/edits/shots';
import { trimEnd } from '../../../core/film/edits/trims';
import { addMediumMarkers } from '../../../core/film/edits/marks';
import type { PairOrder } from '../../../core/film/job';
import { mediumOf, type PlacedJoin } from '../../../core/film/timing';
import { toNumber } from '../../../core/geometry/rational';
import { frameOfRow } from '../../../core/pair/cut-pair';
import type { FoundPairs } from '../../../core/pair/find-pairs';
import type { FrameMotion } from '../../../core/pair/frame-signs';
import { momentsOf, proposalsFor, type Moment, type Proposal } from '../../../core/pair/moments';
import { Button } from '../../parts/button';
import { Section } from '../../parts/section';
import { useFilm, useTools } from '../../store/film-context';
import { newId } from '../../store/new-id';

interface MotionProps {
  readonly placed: PlacedJoin;
  readonly found: FoundPairs;
  readonly order: PairOrder;
  readonly onFrame: (frame: number) => void;
}

/** How both shots move, frame by frame, what stands out in it, and what would make them go together at the cut. */
export function MotionSection({ placed, found, order, onFrame }: MotionProps) {
  const { store } = useTools();
  const { film, media } = useFilm('film', 'media');
  const { leaving, entering, cut } = placed;
  const rowNow = Math.round((leaving.inFrame + leaving.length - 1 - order.a.first) / order.a.step);
  const columnNow = Math.round((entering.inFrame - order.b.first) / order.b.step);
  const proposals = useMemo(
    () =>
      rowNow >= 0 && rowNow < found.motionA.length && columnNow >= 0 && columnNow < found.motionB.length
        ? proposalsFor(found.motionA, found.motionB, rowNow, columnNow)
        : [],
    [found, rowNow, columnNow],
  );
  const follow = (proposal: Proposal): void => {
    const medium = mediumOf(media, leaving);
    store.edit(
      proposal.kind === 'mirror'
        ? `Mirrored ${entering.name}`
        : proposal.kind === 'speed'
          ? `Speed of ${entering.name}`
          : `Trimmed the end of ${leaving.name}`,
      (d) => {
        if (proposal.kind === 'mirror') {
          const own = typeof entering.framing === 'object' ? entering.framing : { x: 0, y: 0, scale: 1, turn: 0 };
          const { flip, ...rest } = own;
          setFraming(d, entering.id, flip === 'across' ? rest : { ...rest, flip: 'across' });
        } else if (proposal.kind === 'speed') {
          const own = mediumOf(media, entering);
          if (own !== null) setShotTime(d, own, entering.id, { speed: proposal.speed, anchor: 0, between: 'flow' }, false, newId);
        } else if (medium !== null) trimEnd(d, medium, leaving.id, -proposal.frames, newId);
      },
    );
  };
  const mark = (): void =>
    store.edit('Marked the moments', (d) => {
      for (const [shot, motions, span] of [
        [leaving, found.motionA, order.a],
        [entering, found.motionB, order.b],
      ] as const) {
        const medium = media.get(shot.mediumId);
        if (medium === undefined) continue;
        const seconds = (at: number): number => frameOfRow(span, at) / toNumber(medium.rate);
        const marks = momentsOf(motions).map((m) => ({ name: MOMENT_TEXT[m.kind], seconds: seconds(m.at) }));
        addMediumMarkers(d, shot.mediumId, marks, newId);
      }
    });
  return (
    <Section title="Motion of both" name="Motion">
      <Chart
        name={leaving.name}
        motions={found.motionA}
        ink="var(--leaving)"
        at={rowNow}
        onGo={(row) => onFrame(cut - leaving.length + Math.round(frameOfRow(order.a, row) - leaving.inFrame))}
      />
      <Chart
        name={entering.name}
        motions={found.motionB}
        ink="var(--entering)"
        at={columnNow}
        onGo={(column) => onFrame(cut + Math.round(frameOfRow(order.b, column) - entering.inFrame))}
      />
      <div>
        <Button onClick={mark}>Mark the moments</Button>
      </div>
      {proposals.map((p) => (
        <div key={p.kind} className="flex flex-col items-start gap-1" data-proposal={p.kind}>
          <p>{p.text}</p>
          <Button onClick={() => follow(p)}>{{ mirror: 'Mirror it', speed: 'Set the speed', trim: 'Trim it' }[p.kind]}</Button>
        </div>
      ))}
      {proposals.length === 0 && film.shots.length > 1 && (
        <p className="text-soft">At the cut nothing in their motion asks for a change.</p>
      )}
    </Section>
  );
}

/** CSS pixels of a chart. */
const [WIDTH, HEIGHT] = [236, 44];
const MOMENT_TEXT: Record<Moment['kind'], string> = {
  impact: 'impact',
  'most motion': 'most motion',
  stillness: 'stillness',
  'change of direction': 'turns back',
  'change of scene': 'another scene',
};
const MOMENT_SIGN: Record<Moment['kind'], string> = {
  impact: '✕',
  'most motion': '▲',
  stillness: '–',
  'change of direction': '↔',
  'change of scene': '‖',
};

interface ChartProps {
  readonly name: string;
  readonly motions: readonly FrameMotion[];
  readonly ink: string;
  /** Where the cut is. */
  readonly at: number;
  readonly onGo: (index: number) => void;
}

/** Strength of a shot's motion as a line, its direction as strokes under it, its moments as signs over it. */
function Chart({ name, motions, ink, at, onGo }: ChartProps) {
  const moments = useMemo(() => momentsOf(motions), [motions]);
  const most = Math.max(1, ...motions.map((m) => (m.strength < 40 ? m.strength : 0)));
  const x = (i: number): number => ((i + 0.5) / motions.length) * WIDTH;
  const y = (strength: number): number => 30 - 18 * Math.min(1, strength / most);
  const every = Math.max(1, Math.ceil(motions.length / 30));
  return (
    <div className="flex flex-col">
      <p className="flex justify-between text-[12px]">
        <span className="truncate">{name}</span>
        <span className="font-mono text-[10.5px] text-soft">up to {most.toFixed(1)} px a frame</span>
      </p>
      <svg
        viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
        className="w-full cursor-pointer border-b border-rule"
        role="img"
        aria-label={`Motion of ${name}`}
        data-motion-chart={name}
        onClick={(event) => {
          const box = event.currentTarget.getBoundingClientRect();
          onGo(Math.max(0, Math.min(motions.length - 1, Math.floor(((event.clientX - box.left) / box.width) * motions.length))));
        }}
      >
        <polyline points={motions.map((m, i) => `${x(i)},${y(m.strength)}`).join(' ')} fill="none" stroke={ink} strokeWidth="1.3" />
        {motions.map((m, i) => {
          const length = Math.hypot(m.u, m.v);
          if (i % every !== 0 || length < 0.2) return null;
          const [dx, dy] = [(5 * m.u) / length, (5 * m.v) / length];
          return <line key={i} x1={x(i) - dx / 2} x2={x(i) + dx / 2} y1={37 - dy / 2} y2={37 + dy / 2} stroke={ink} strokeWidth="1" />;
        })}
        {moments.map(({ at: i, kind }) => (
          <text key={`${kind} ${i}`} x={x(i)} y={9} textAnchor="middle" fontSize="9" className="fill-ink">
            {MOMENT_SIGN[kind]}
            <title>{`${MOMENT_TEXT[kind]}, frame ${i}`}</title>
          </text>
        ))}
        {at >= 0 && at < motions.length && <line x1={x(at)} x2={x(at)} y1={0} y2={HEIGHT} className="stroke-heed" strokeWidth="1.3" />}
      </svg>
      <p className="text-[11px] text-soft">
        {moments
          .map((m) => MOMENT_TEXT[m.kind])
          .filter((t, i, all) => all.indexOf(t) === i)
          .join(' · ')}
      </p>
    </div>
  );
}
