'use client';
import type { WipeReport } from '../../../core/recipes/wipe-past/wipe-past-report';
import type { Matte } from '../../../core/film/film';
import type { ShotSide } from '../../../core/film/composition';
import type { MatteKind } from '../../../core/film/edits/mattes';
import { filmFrameOf, mediumOf, type PlacedJoin } from '../../../core/film/timing';
import { matteSpace } from '../../../core/plan/stage-plans';
import { Button } from '../../parts/button';
import { Section } from '../../parts/section';
import { useFilm } from '../../store/film-context';
import { KeyPanel } from './key-panel';
import { MaskPanel } from './mask-panel';
import { MatteFilesSection } from './matte-files-section';
import { MatteUseSection } from './matte-use-section';
import type { OutlineTools } from './outline-tools';
import type { PreviewChange } from '../../store/preview';
import type { StrokeTools } from './stroke-tools';
import { StrokesPanel } from './strokes-panel';
import { TidySection } from './tidy-section';

interface MattePanelsProps {
  /** The join and the matte as they are shown, with what a slider previews. */
  readonly placed: PlacedJoin;
  readonly matte: Matte | null;
  readonly side: ShotSide;
  readonly frame: number;
  readonly strokes: StrokeTools | null;
  readonly outline: OutlineTools | null;
  readonly report: WipeReport | null;
  readonly onPreview: (change: PreviewChange) => void;
  readonly onGoTo: (filmFrame: number) => void;
  readonly onAddMatte: (kind: MatteKind, side: ShotSide) => void;
}

/** Everything that Mask offers for the matte that is chosen, or ways to begin one. */
export function MattePanels(props: MattePanelsProps) {
  const { placed, matte, side, frame, strokes, outline, onPreview, onGoTo } = props;
  const { film, media } = useFilm('film', 'media');
  const medium = mediumOf(media, placed[side]);
  if (matte === null || medium === null) return <BeginMatte placed={placed} onAddMatte={props.onAddMatte} />;
  const useLayer = placed.join.layers.find((l) => l.mattes.some((u) => u.matteId === matte.id));
  const use = useLayer?.mattes.find((u) => u.matteId === matte.id) ?? null;
  return (
    <>
      {strokes !== null && <StrokesPanel tools={strokes} onGoTo={onGoTo} />}
      {outline !== null && (
        <MaskPanel
          placed={placed}
          side={side}
          medium={medium}
          layerId={useLayer?.id ?? null}
          use={use}
          tools={outline}
          report={use?.side === 'outside' ? props.report : null}
          onGoTo={onGoTo}
        />
      )}
      {matte.key !== undefined && (
        <KeyPanel
          matte={matte}
          matteKey={matte.key}
          mediumFrame={matteSpace(film, media, placed, side, frame).mediumFrame}
          filmFrame={(at) => filmFrameOf(film, placed, side, medium, at)}
          onPreview={onPreview}
          onGoTo={onGoTo}
        />
      )}
      {outline === null && <TidySection matte={matte} onPreview={onPreview} />}
      <MatteUseSection placed={placed} matte={matte} onPreview={onPreview} />
      <MatteFilesSection placed={placed} side={side} matte={matte} medium={medium} frame={frame} />
    </>
  );
}

function BeginMatte({ placed, onAddMatte }: Pick<MattePanelsProps, 'placed' | 'onAddMatte'>) {
  const { film } = useFilm('film');
  const { leaving, entering } = placed;
  const isAny = film.mattes.some((m) => m.mediumId === leaving.mediumId || m.mediumId === entering.mediumId);
  return (
    <Section title={isAny ? 'No matte selected' : 'No matte yet'}>
      <p className="text-soft">
        {isAny && 'Choose one on the left, or begin another: '}
        {isAny ? 'paint' : 'Paint'} a few strokes and let the picture decide, draw an outline, or key a colour out.
      </p>
      <Button onClick={() => onAddMatte('strokes', 'leaving')}>Cut {leaving.name} out by strokes</Button>
      <Button onClick={() => onAddMatte('strokes', 'entering')}>Cut {entering.name} out by strokes</Button>
      <Button onClick={() => onAddMatte('outline', 'leaving')}>Draw an outline on {leaving.name}</Button>
      <Button onClick={() => onAddMatte('colour key', 'entering')}>Key a colour out of {entering.name}</Button>
    </Section>
  );
}
