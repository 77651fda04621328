'use client';
import { Plus } from 'lucide-react';
import { useState } from 'react';
import { DOUBTFUL } from '../../../core/film/matte-frame';
import type { PlacedJoin } from '../../../core/film/timing';
import { readTracks, trackToCsv, trackToJson } from '../../../core/interchange/track-files';
import type { TrackModel } from '../../../core/track/track';
import { Button } from '../../parts/button';
import { downloadText } from '../../parts/download';
import { FileButton } from '../../parts/file-button';
import { LineChart } from '../../parts/line-chart';
import { Note } from '../../parts/note';
import { Section } from '../../parts/section';
import { StopJob } from '../../parts/stop-job';
import { Segmented } from '../../parts/segmented';
import { isUnderWay } from '../../../core/film/job';
import { useJob } from '../../store/film-context';
import type { PreviewChange } from '../../store/preview';
import { DirectionButtons } from '../common/direction-buttons';
import { SteadySection } from './steady-section';
import type { TrackTools } from './track-tools';

const MOST_TRACK_BYTES = 50e6;

const MODELS: readonly { readonly value: TrackModel; readonly text: string }[] = [
  { value: 'position', text: 'Place' },
  { value: 'similarity', text: 'Turn' },
  { value: 'affine', text: 'Slant' },
  { value: 'perspective', text: 'Tilt' },
];

/** The controls of Track: regions, how they may move, following, what rides on them. */
export function TrackPanel({
  placed,
  tools,
  onPreview,
  onGoTo,
}: {
  readonly placed: PlacedJoin;
  readonly tools: TrackTools;
  readonly onPreview: (change: PreviewChange) => void;
  readonly onGoTo: (frame: number) => void;
}) {
  const { track, tracks, region } = tools;
  const job = useJob(track?.id, isUnderWay);
  const newest = useJob(track?.id);
  const known =
    track === null ? [] : [...track.frames, ...track.keys.map((k) => ({ ...k, confidence: 1 }))].sort((a, b) => a.frame - b.frame);
  const doubtful = known.filter((f) => f.confidence < DOUBTFUL);
  return (
    <>
      <Section title="Regions and points">
        <Segmented
          label="Shot to track on"
          value={tools.side}
          onChange={tools.setSide}
          options={[
            { value: 'leaving', text: placed.leaving.name },
            { value: 'entering', text: placed.entering.name },
          ]}
        />
        {track === null ? (
          <>
            <Note tone="good">
              Drag a box over something flat: a sign, a window, a dial. Its corners can be moved afterwards. A click marks a single point.
            </Note>
            {tools.tracks.length > 0 && <Button onClick={() => tools.select(tools.tracks[0]!.id)}>Back to {tools.tracks[0]!.name}</Button>}
          </>
        ) : (
          <>
            <label className="flex items-center justify-between gap-2">
              Region
              <select
                aria-label="Region"
                className="max-w-[150px] rounded-[4px] border border-rule bg-sheet px-1.5 py-0.5"
                value={track.id}
                onChange={(e) => tools.select(e.target.value)}
              >
                {tracks.map((t) => (
                  <option key={t.id} value={t.id}>
                    {t.name}
                  </option>
                ))}
              </select>
            </label>
            <Segmented label="How it may move" value={track.model} onChange={tools.setModel} options={MODELS} />
            <p className="text-soft">
              {region === null
                ? 'Not followed to this frame yet.'
                : tools.isKey
                  ? 'Placed by hand here.'
                  : `Found with confidence ${Math.round(100 * region.confidence)} %. Drag ${track.model === 'position' ? 'it' : 'a corner'} to correct it.`}
            </p>
            <div className="flex flex-wrap gap-1.5">
              <DirectionButtons disabled={job !== undefined || tools.mediumFrame === null} onGo={tools.follow} />
              {job !== undefined && <StopJob job={job} />}
              <Button disabled={!tools.isKey || track.keys.length < 2} onClick={tools.unplace}>
                Not by hand here
              </Button>
              <Button onClick={tools.another}>
                <Plus size={13} /> Another
              </Button>
              <Button onClick={tools.remove}>Remove {track.name}</Button>
            </div>
            {newest?.state === 'failed' && <Note tone="heed">Following failed: {newest.error}</Note>}
            {known.length > 1 && (
              <LineChart
                label="Confidence of the followed region over its frames"
                points={known.map((f) => ({ x: tools.filmFrame(f.frame), y: f.confidence }))}
                floor={DOUBTFUL}
                at={tools.mediumFrame === null ? null : tools.filmFrame(tools.mediumFrame)}
                onPick={onGoTo}
              />
            )}
            {doubtful.length > 0 && (
              <Note tone="heed">
                In doubt on {doubtful.length} {doubtful.length === 1 ? 'frame' : 'frames'}, from{' '}
                <button type="button" className="font-mono underline" onClick={() => onGoTo(tools.filmFrame(doubtful[0]!.frame))}>
                  {tools.filmFrame(doubtful[0]!.frame)}
                </button>
                : hidden, blurred or out of the frame. Move {track.model === 'position' ? 'it' : 'its corners'} there, then follow again.
              </Note>
            )}
          </>
        )}
      </Section>
      <Riders tools={tools} />
      {track !== null && (
        <SteadySection
          shot={placed[tools.side]}
          medium={tools.medium}
          track={track}
          filmFrame={(at) => tools.filmFrame(at)}
          onPreview={onPreview}
        />
      )}
      <TrackFiles tools={tools} />
    </>
  );
}

/** Tracks as files, out and in. */
function TrackFiles({ tools }: { readonly tools: TrackTools }) {
  const { track } = tools;
  const [problem, setProblem] = useState<string | null>(null);
  const bringIn = async (file: File): Promise<void> => {
    setProblem(null);
    try {
      if (file.size > MOST_TRACK_BYTES) throw new RangeError('the file is larger than 50 MB');
      tools.add(readTracks(await file.text(), file.name.replace(/\.\w+$/, ''), tools.medium));
    } catch (error) {
      setProblem(`${file.name} cannot be used: ${(error as Error).message}.`);
    }
  };
  return (
    <Section title="Files" name="Files of tracks" startsFolded>
      <div className="flex flex-wrap gap-1.5">
        {track !== null && (
          <>
            <Button onClick={() => downloadText(`${track.name}.json`, trackToJson(track, tools.medium), 'application/json')}>
              Track, JSON
            </Button>
            <Button onClick={() => downloadText(`${track.name}.csv`, trackToCsv(track, tools.medium), 'text/csv')}>Track, CSV</Button>
          </>
        )}
        <FileButton label="File with a track" accept=".json,.csv,text/csv,application/json" onFiles={([file]) => void bringIn(file!)}>
          Import a track
        </FileButton>
      </div>
      {problem !== null && <Note tone="heed">{problem}</Note>}
    </Section>
  );
}

/** The outlines that ride on the region, and one made of it. */
function Riders({ tools }: { readonly tools: TrackTools }) {
  const { track } = tools;
  if (track === null || (tools.outlines.length === 0 && track.model === 'position')) return null;
  return (
    <Section title="What rides on it">
      {tools.outlines.map((m) => (
        <label key={m.id} className="flex items-center gap-2">
          <input
            type="checkbox"
            className="accent-ink"
            checked={m.trackId === track.id}
            onChange={(e) => tools.ride(m.id, e.target.checked)}
          />
          <span className="truncate">{m.name}</span>
        </label>
      ))}
      {track.model !== 'position' && <Button onClick={tools.makeOutline}>Make an outline of the region</Button>}
    </Section>
  );
}
