'use client';
import { Sheet } from '../parts/sheet';
import { useMemo, useState } from 'react';
import { SAID_BEFORE_SENDING } from '../../core/check/finding';
import { filmChangers, isUnderWay, type SendFormat, type SendOrder } from '../../core/film/job';
import { filmLength, framesText, placedJoins, placeJoin } from '../../core/film/timing';
import { toNumber } from '../../core/geometry/rational';
import { Button } from '../parts/button';
import { Note } from '../parts/note';
import { NumberRow } from '../parts/number-field';
import { Segmented } from '../parts/segmented';
import { call } from '../store/api';
import { askAgain, useAsked } from '../store/asked';
import { useFilm, useTools } from '../store/film-context';
import { useFindings } from '../store/use-findings';
import { SentList, type SentFile } from './sent-list';

const FORMATS = [
  { value: 'webm', text: 'WebM, VP9' },
  { value: 'mp4', text: 'MP4, H.264' },
  { value: 'wav', text: 'WAV, sound alone' },
] as const;

/** Findings that are told one by one; more are counted. */
const TOLD = 4;

/** What to export and in which format, and what was sent out before. */
export function SendDialog({ joinId, onClose }: { readonly joinId: string | null; readonly onClose: () => void }) {
  const { store } = useTools();
  const { film, media, jobs, save } = useFilm('film', 'media', 'jobs', 'save');
  const [format, setFormat] = useState<SendFormat>('webm');
  const [what, setWhat] = useState<'film' | 'join'>(joinId === null ? 'film' : 'join');
  const [handles, setHandles] = useState(12);
  const [failed, setProblem] = useState<string | null>(null);
  const placed = useMemo(() => (joinId === null ? null : placeJoin(film, joinId)), [film, joinId]);

  const ended = jobs.filter((j) => j.kind === 'send' && !isUnderWay(j)).length;
  const url = `/api/films/${store.filmId}/exports`;
  const { data: files = [], problem: unread } = useAsked<readonly SentFile[]>(url, ended);
  const problem = failed ?? unread;

  const length = filmLength(film);
  const range =
    what === 'join' && placed !== null
      ? { from: Math.max(0, placed.from - handles), to: Math.min(length, placed.to + handles) }
      : { from: 0, to: length };
  const frames = range.to - range.from;
  const joins = useMemo(() => (what === 'join' && placed !== null ? [placed] : placedJoins(film)), [film, what, placed]);
  const checked = useFindings(film, media, joins, true);
  const findings = checked.list.filter((f) => SAID_BEFORE_SENDING.has(f.kind));
  const changers = filmChangers(jobs);
  const act = (work: Promise<unknown>): void => {
    setProblem(null);
    work.then(
      () => {
        void askAgain(url);
        void store.refreshJobs();
      },
      (error: Error) => setProblem(error.message),
    );
  };
  const send = (after: readonly string[]): void => {
    const order: SendOrder = { format, joinId: what === 'join' ? joinId : null, handles: what === 'join' ? handles : 0, after };
    act(call('POST', url, order));
  };
  const isReady = save.kind === 'saved' && frames > 0;

  return (
    <Sheet title="Export" onClose={onClose} className="w-[620px]">
      <div className="flex min-h-0 flex-col gap-3 overflow-y-auto px-5 py-4">
        {placed !== null && (
          <div className="flex items-center justify-between">
            <span>What</span>
            <Segmented
              label="What to export"
              value={what}
              onChange={setWhat}
              options={[
                { value: 'join', text: `Only “${placed.join.name}”` },
                { value: 'film', text: 'The whole film' },
              ]}
            />
          </div>
        )}
        {what === 'join' && placed !== null && (
          <NumberRow label="Handles on both sides" value={handles} unit="fr" min={0} max={length} onCommit={setHandles} />
        )}
        <div className="flex items-center justify-between">
          <span>Format</span>
          <Segmented label="Format" value={format} onChange={setFormat} options={FORMATS} />
        </div>
        <p className="font-mono text-[11.5px] text-soft">
          {film.width} × {film.height} · {Number(toNumber(film.rate).toFixed(3))} fps · {frames} frames ·{' '}
          {(frames / toNumber(film.rate)).toFixed(2)} s
        </p>
        {!checked.isComplete && <p className="text-soft">Looking for holes and jumps…</p>}
        {findings.slice(0, TOLD).map((f) => (
          <Note key={`${f.kind}${f.from} ${f.text}`} tone="fault">
            {f.text} {f.advice}
          </Note>
        ))}
        {findings.length > TOLD && <Note tone="fault">And {findings.length - TOLD} more: Check lists them.</Note>}
        {changers.map((job) => (
          <Note key={job.id} tone="heed">
            Still under way: {job.label}. What it has not reached yet would be missing from the file.
          </Note>
        ))}
        {problem !== null && <Note tone="fault">{problem}</Note>}
      </div>
      <div className="flex justify-end gap-2 border-t border-rule px-5 py-3">
        {changers.length > 0 && (
          <Button tone="ink" disabled={!isReady} onClick={() => send(changers.map((j) => j.id))}>
            Wait for it, then export
          </Button>
        )}
        <Button tone={changers.length > 0 ? 'plain' : 'ink'} disabled={!isReady} onClick={() => send([])}>
          Export {framesText(frames)}
        </Button>
      </div>
      <SentList
        files={files}
        jobs={jobs}
        onStop={(id) => act(call('DELETE', `/api/jobs/${id}`))}
        onRemove={(id) => act(call('DELETE', `/api/exports/${id}`))}
      />
    </Sheet>
  );
}
