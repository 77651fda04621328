'use client';
import { Download, Trash2, X } from 'lucide-react';
import { Dialog } from 'radix-ui';
import { useEffect, useMemo, useState } from 'react';
import type { SendFormat, SendOrder } from '../../core/film/job';
import { filmLength, placedJoins, placeJoin } from '../../core/film/timing';
import { toNumber } from '../../core/geometry/rational';
import { Button, IconButton } from '../parts/button';
import { progressText } from '../parts/jobs-in-brief';
import { ProgressBar } from '../parts/progress-bar';
import { Note } from '../parts/note';
import { NumberRow } from '../parts/number-field';
import { Segmented } from '../parts/segmented';
import { call } from '../store/api';
import { useFilm, useTools } from '../store/film-context';
import { useFindings } from '../store/use-findings';

interface ExportEntry {
  readonly id: string;
  readonly name: string;
  readonly format: SendFormat;
  readonly frames: number | null;
  readonly bytes: number | null;
  readonly addedAt: number;
}

const FORMATS = [
  { value: 'webm', text: 'WebM, VP9' },
  { value: 'mp4', text: 'MP4, H.264' },
  { value: 'wav', text: 'WAV, sound alone' },
] as const;

const sizeText = (bytes: number): string => (bytes > 1e6 ? `${(bytes / 1e6).toFixed(1)} MB` : `${Math.ceil(bytes / 1e3)} kB`);

/** What to send out and in which format, and what was sent out before. */
export function SendDialog({ joinId, onClose }: { readonly joinId: string | null; readonly onClose: () => void }) {
  const { store } = useTools();
  const { film, media, jobs, save } = useFilm('film', 'media', 'jobs', 'save');
  const [format, setFormat] = useState<SendFormat>('webm');
  const [what, setWhat] = useState<'film' | 'join'>(joinId === null ? 'film' : 'join');
  const [handles, setHandles] = useState(12);
  const [entries, setEntries] = useState<readonly ExportEntry[]>([]);
  const [problem, setProblem] = useState<string | null>(null);
  const placed = useMemo(() => (joinId === null ? null : placeJoin(film, joinId)), [film, joinId]);

  const ended = jobs.filter((j) => j.kind === 'send' && j.state !== 'queued' && j.state !== 'running').length;
  const reload = (): void => {
    call<ExportEntry[]>('GET', `/api/films/${store.filmId}/exports`).then(setEntries, (error: Error) => setProblem(error.message));
  };
  useEffect(reload, [store, ended]);

  const length = filmLength(film);
  const range =
    what === 'join' && placed !== null
      ? { from: Math.max(0, placed.from - handles), to: Math.min(length, placed.to + handles) }
      : { from: 0, to: length };
  const frames = range.to - range.from;
  const joins = useMemo(() => (what === 'join' && placed !== null ? [placed] : placedJoins(film)), [film, what, placed]);
  const checked = useFindings(film, media, joins);
  const findings = checked.list.filter((f) => f.kind === 'empty pixels' || f.kind === 'no picture');
  const act = (work: Promise<unknown>): void => {
    setProblem(null);
    work.then(
      () => {
        reload();
        void store.refreshJobs();
      },
      (error: Error) => setProblem(error.message),
    );
  };
  const order: SendOrder = { format, joinId: what === 'join' ? joinId : null, handles: what === 'join' ? handles : 0 };

  return (
    <Dialog.Root open onOpenChange={(open) => !open && onClose()}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-black/35" />
        <Dialog.Content
          aria-describedby={undefined}
          className="fixed top-1/2 left-1/2 z-50 flex max-h-[86vh] w-[620px] -translate-x-1/2 -translate-y-1/2 flex-col rounded-md border border-rule bg-sheet"
        >
          <div className="flex items-center justify-between border-b border-rule px-5 py-3">
            <Dialog.Title className="text-[14px] font-bold">Send out</Dialog.Title>
            <Dialog.Close asChild>
              <IconButton label="Close">
                <X size={15} />
              </IconButton>
            </Dialog.Close>
          </div>
          <div className="flex flex-col gap-3 px-5 py-4">
            {placed !== null && (
              <div className="flex items-center justify-between">
                <span>What</span>
                <Segmented
                  label="What to send out"
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
            {!checked.isComplete && <p className="text-soft">Looking for holes…</p>}
            {findings.map((f) => (
              <Note key={`${f.kind}${f.from}`} tone="fault">
                {f.text} {f.advice}
              </Note>
            ))}
            {problem !== null && <Note tone="fault">{problem}</Note>}
            <div className="flex justify-end">
              <Button
                tone="ink"
                disabled={save.kind !== 'saved' || frames <= 0}
                onClick={() => act(call('POST', `/api/films/${store.filmId}/exports`, order))}
              >
                Send out {frames} frames
              </Button>
            </div>
          </div>
          <ul aria-label="Sent out" className="min-h-0 overflow-y-auto border-t border-rule">
            {entries.length === 0 && (
              <li className="px-5 py-4 text-soft">Nothing has been sent out yet. Finished files wait here until you take them away.</li>
            )}
            {entries.map((entry) => {
              const job = jobs.find((j) => j.subjectId === entry.id);
              const running = job !== undefined && (job.state === 'running' || job.state === 'queued');
              return (
                <li key={entry.id} className="flex items-center gap-3 border-b border-rule px-5 py-2 last:border-b-0">
                  <div className="min-w-0 grow">
                    <p className="truncate font-semibold">{entry.name}</p>
                    {entry.frames !== null ? (
                      <p className="font-mono text-[11px] text-soft">
                        {entry.frames} frames · {sizeText(entry.bytes ?? 0)}
                      </p>
                    ) : running ? (
                      <div className="flex items-center gap-2">
                        <ProgressBar label={`Sending out ${entry.name}`} value={job.progress} className="w-52" />
                        <span className="text-soft">{job.state === 'queued' ? 'waiting' : progressText(job)}</span>
                      </div>
                    ) : (
                      <p className={job?.state === 'failed' ? 'text-fault' : 'text-soft'}>
                        {job?.state === 'failed' ? `Failed: ${job.error}` : 'Stopped; nothing was written.'}
                      </p>
                    )}
                  </div>
                  {running && <Button onClick={() => act(call('DELETE', `/api/jobs/${job.id}`))}>Stop</Button>}
                  {entry.frames !== null && (
                    <a
                      href={`/api/exports/${entry.id}`}
                      download
                      className="inline-flex h-7 items-center gap-1.5 rounded-[5px] border border-rule px-2.5 hover:bg-pressed"
                    >
                      <Download size={13} />
                      Download
                    </a>
                  )}
                  {!running && (
                    <IconButton label={`Take away ${entry.name}`} onClick={() => act(call('DELETE', `/api/exports/${entry.id}`))}>
                      <Trash2 size={14} />
                    </IconButton>
                  )}
                </li>
              );
            })}
          </ul>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
