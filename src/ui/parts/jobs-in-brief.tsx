'use client';
import { ChevronDown, X } from 'lucide-react';
import { Popover } from 'radix-ui';
import { isUnderWay, type JobKind, type JobView } from '../../core/film/job';
import { useFilmState, useTools } from '../store/film-context';
import { call } from '../store/api';
import { Button, IconButton } from './button';
import { ProgressBar } from './progress-bar';

const timeText = (seconds: number): string => (seconds < 60 ? `${Math.ceil(seconds)} s` : `${Math.ceil(seconds / 60)} min`);

/** '34 %, about 12 s left' */
export const progressText = ({ progress, secondsLeft }: JobView): string =>
  `${Math.floor(100 * progress)} %${secondsLeft === null ? '' : `, about ${timeText(secondsLeft)} left`}`;

const stateText = (job: JobView): string => {
  if (job.state === 'running') return progressText(job);
  return job.waitsFor === null ? 'queued' : `after: ${job.waitsFor}`;
};

/** The work that runs and waits: the first of it in the line, all of it in a list, with ways to stop one and all of a kind. */
export function JobsInBrief() {
  const { jobs } = useFilmState('jobs');
  const { store } = useTools();
  const open = jobs.filter(isUnderWay);
  const now = open.find((j) => j.state === 'running') ?? open.at(-1);
  if (now === undefined) return null;
  const asked = (work: Promise<unknown>): void => {
    work.then(() => store.refreshJobs()).catch((error: Error) => store.notify(error.message));
  };
  const stop = ({ id }: JobView): void => asked(call('DELETE', `/api/jobs/${id}`));
  const kinds = [...new Set(open.map((j) => j.kind))].filter((kind) => open.filter((j) => j.kind === kind).length > 1);
  const stopKind = (kind: JobKind): void => asked(call('DELETE', `/api/films/${store.filmId}/jobs?kind=${encodeURIComponent(kind)}`));
  return (
    <div className="flex items-center gap-2 text-soft">
      <div role="status" aria-label="Work under way" className="flex items-center gap-2">
        <span className="max-w-44 truncate">
          {now.label}
          {open.length > 1 ? ` and ${open.length - 1} more` : ''}
        </span>
        <span title={stateText(now)}>
          <ProgressBar label={now.label} value={now.progress} className="w-14" />
        </span>
      </div>
      <IconButton label={`Stop: ${now.label}`} onClick={() => stop(now)}>
        <X size={13} />
      </IconButton>
      <Popover.Root>
        <Popover.Trigger asChild>
          <IconButton label="All work under way">
            <ChevronDown size={13} />
          </IconButton>
        </Popover.Trigger>
        <Popover.Portal>
          <Popover.Content
            align="end"
            sideOffset={6}
            aria-label="All work under way"
            className="z-50 flex max-h-[60vh] w-[380px] flex-col rounded-md border border-rule bg-sheet shadow-sm"
          >
            <ul className="min-h-0 overflow-y-auto">
              {[...open].reverse().map((job) => (
                <li key={job.id} className="flex items-center gap-2 border-b border-rule px-3 py-1.5">
                  <span className="min-w-0 grow">
                    <span className="block truncate text-ink">{job.label}</span>
                    <span className="block truncate text-[11.5px] text-soft">{stateText(job)}</span>
                  </span>
                  {job.state === 'running' && <ProgressBar label={`Progress of ${job.label}`} value={job.progress} className="w-16" />}
                  <IconButton label={`Stop: ${job.label}`} onClick={() => stop(job)}>
                    <X size={13} />
                  </IconButton>
                </li>
              ))}
            </ul>
            {kinds.length > 0 && (
              <div className="flex flex-wrap gap-2 px-3 py-2">
                {kinds.map((kind) => (
                  <Button key={kind} onClick={() => stopKind(kind)}>
                    Stop all {KIND_TEXT[kind]} ({open.filter((j) => j.kind === kind).length})
                  </Button>
                ))}
              </div>
            )}
          </Popover.Content>
        </Popover.Portal>
      </Popover.Root>
    </div>
  );
}

const KIND_TEXT: Record<JobKind, string> = {
  ingest: 'imports',
  send: 'exports',
  carry: 'carrying',
  smooth: 'smoothing',
  follow: 'following',
  'find edge': 'edge finding',
  'bring in': 'imports of mattes',
  sound: 'sound imports',
  'find beats': 'beat finding',
  pair: 'comparing',
};
