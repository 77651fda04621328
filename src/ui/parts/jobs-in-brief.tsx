'use client';
import { X } from 'lucide-react';
import { isUnderWay, type JobView } from '../../core/film/job';
import { useFilmState, useTools } from '../store/film-context';
import { call } from '../store/api';
import { IconButton } from './button';
import { ProgressBar } from './progress-bar';

const timeText = (seconds: number): string => (seconds < 60 ? `${Math.ceil(seconds)} s` : `${Math.ceil(seconds / 60)} min`);

/** '34 %, about 12 s left' */
export const progressText = ({ progress, secondsLeft }: JobView): string =>
  `${Math.floor(100 * progress)} %${secondsLeft === null ? '' : `, about ${timeText(secondsLeft)} left`}`;

/** The job that runs, how far it is, and a way to stop it. */
export function JobsInBrief() {
  const { jobs } = useFilmState('jobs');
  const { store } = useTools();
  const open = jobs.filter(isUnderWay);
  const now = open.find((j) => j.state === 'running') ?? open.at(-1);
  if (now === undefined) return null;
  const stop = (): void => {
    call('DELETE', `/api/jobs/${now.id}`).catch((error: Error) => store.notify(error.message));
  };
  return (
    <div className="flex items-center gap-2 text-soft" role="status" aria-label="Work under way">
      <span className="max-w-44 truncate">
        {now.label}
        {open.length > 1 ? ` and ${open.length - 1} more` : ''}
      </span>
      <span title={progressText(now)}>
        <ProgressBar label={now.label} value={now.progress} className="w-14" />
      </span>
      <IconButton label={`Stop: ${now.label}`} onClick={stop}>
        <X size={13} />
      </IconButton>
    </div>
  );
}
