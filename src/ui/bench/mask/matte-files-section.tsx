'use client';
import { FileDown, FileUp } from 'lucide-react';
import { useState } from 'react';
import type { Matte, Medium } from '../../../core/film/film';
import type { ShotSide } from '../../../core/film/composition';
import type { MatteFormat, MatteSendOrder } from '../../../core/film/job';
import type { PlacedJoin } from '../../../core/film/timing';
import { isPictureName } from '../../../core/interchange/picture-numbers';
import { outlineToJson, outlineToSvg } from '../../../core/interchange/outline-files';
import { matteSpace } from '../../../core/plan/stage-plans';
import { Button } from '../../parts/button';
import { downloadText } from '../../parts/download';
import { FileButton } from '../../parts/file-button';
import { packed } from '../../parts/packed';
import { Note } from '../../parts/note';
import { Section } from '../../parts/section';
import { call } from '../../store/api';
import { receiveFile } from '../../store/send-file';
import { isUnderWay } from '../../../core/film/job';
import { useFilm, useJob, useTools } from '../../store/film-context';
import { joinSpan } from '../common/join-span';

const FORMATS: readonly { readonly value: MatteFormat; readonly text: string }[] = [
  { value: 'png', text: 'PNG pictures, zip' },
  { value: 'grey', text: 'Grey video, FFV1' },
  { value: 'alpha webm', text: 'With alpha, VP9 WebM' },
  { value: 'alpha mov', text: 'With alpha, ProRes 4444' },
  { value: 'alpha mkv', text: 'With alpha, FFV1' },
];

/** A matte out as pictures, video or outline, and its frames in. */
export function MatteFilesSection({
  placed,
  side,
  matte,
  medium,
  frame,
}: {
  readonly placed: PlacedJoin;
  readonly side: ShotSide;
  readonly matte: Matte;
  readonly medium: Medium;
  readonly frame: number;
}) {
  const { store } = useTools();
  const { film, media, matteFrames } = useFilm('film', 'media', 'matteFrames');
  const [format, setFormat] = useState<MatteFormat>('png');
  const [problem, setProblem] = useState<string | null>(null);
  const stored = matteFrames.get(matte.id) ?? [];
  const span = joinSpan(placed, side, frame);
  const mediumFrameAt = (at: number): number | null => matteSpace(film, media, placed, side, at).mediumFrame;
  const range =
    matte.painted !== undefined && stored.length > 0
      ? { first: stored[0]!.frame, last: stored.at(-1)!.frame }
      : { first: mediumFrameAt(span.first) ?? 0, last: mediumFrameAt(span.last) ?? medium.frames - 1 };
  const empty = matte.painted !== undefined ? stored.length === 0 : matte.key === undefined && !matte.outline.closed;
  const bringing = useJob(matte.id, (j) => j.kind === 'bring in');
  const busy = bringing !== undefined && isUnderWay(bringing);
  const sendOut = (): void => {
    setProblem(null);
    const order: MatteSendOrder = { matteId: matte.id, format, ...range };
    const ask = async (): Promise<void> => {
      if (!(await store.allSent())) return;
      await call('POST', `/api/films/${store.filmId}/matte-exports`, order);
      await store.refreshJobs();
      store.notify(`${matte.name} is being exported. The finished file waits under Export.`);
    };
    ask().catch((error: Error) => setProblem(error.message));
  };
  const bringIn = (files: readonly File[]): void => {
    setProblem(null);
    const first = mediumFrameAt(frame) ?? 0;
    const [{ name }] = files as [File];
    const isOneFile = files.length === 1 && !isPictureName(name);
    const send = async (): Promise<void> => {
      const body = isOneFile ? files[0]! : await packed(files);
      if (!(await store.allSent())) return;
      await receiveFile(store.filmId, body, name, { matte: matte.id, first: String(first) }).done;
      await store.refreshJobs();
    };
    send().catch((error: Error) => setProblem(`${name}: ${error.message}`));
  };
  return (
    <Section title="Files" name="Files of the matte" startsFolded>
      <select
        aria-label="Format of the matte"
        className="w-full rounded-[4px] border border-rule bg-sheet px-1.5 py-1"
        value={format}
        onChange={(e) => setFormat(e.target.value as MatteFormat)}
      >
        {FORMATS.map((f) => (
          <option key={f.value} value={f.value}>
            {f.text}
          </option>
        ))}
      </select>
      <div className="flex flex-wrap gap-1.5">
        <Button disabled={empty} onClick={sendOut}>
          <FileDown size={13} /> Matte out
        </Button>
        {matte.painted === undefined && matte.key === undefined && (
          <>
            <Button
              disabled={empty}
              onClick={() => downloadText(`${matte.name}.json`, outlineToJson(film, matte, medium, range), 'application/json')}
            >
              Outline, JSON
            </Button>
            <Button
              disabled={empty}
              onClick={() => downloadText(`${matte.name}.svg`, outlineToSvg(film, matte, medium, range), 'image/svg+xml')}
            >
              Outline, SVG
            </Button>
          </>
        )}
      </div>
      {matte.painted !== undefined && (
        <FileButton label="File with the frames of a matte" accept="video/*,image/*,.mkv,.zip" multiple disabled={busy} onFiles={bringIn}>
          <FileUp size={13} /> {busy ? `Importing, ${Math.round(100 * bringing.progress)} %` : 'Import frames'}
        </FileButton>
      )}
      {matte.painted !== undefined && (
        <p className="text-soft">Video, a zip or pictures. Pictures go on the frames their names are numbered with.</p>
      )}
      {bringing?.state === 'failed' && <Note tone="heed">The import failed: {bringing.error}</Note>}
      {problem !== null && <Note tone="heed">{problem}</Note>}
      <p className="font-mono text-[11px] text-soft">
        {empty ? 'nothing to export yet' : `frames ${range.first} to ${range.last} of ${medium.name}`}
      </p>
    </Section>
  );
}
