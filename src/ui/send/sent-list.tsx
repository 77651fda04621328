'use client';
import { Download, Trash2 } from 'lucide-react';
import { isUnderWay, type JobView, type SendFormat } from '../../core/film/job';
import { Button, IconButton } from '../parts/button';
import { progressText } from '../parts/jobs-in-brief';
import { ProgressBar } from '../parts/progress-bar';

/** A file that was sent out, or is on its way. */
export interface SentFile {
  readonly id: string;
  readonly name: string;
  readonly format: SendFormat;
  readonly frames: number | null;
  readonly bytes: number | null;
  readonly addedAt: number;
}

interface SentListProps {
  readonly files: readonly SentFile[];
  readonly jobs: readonly JobView[];
  readonly onStop: (jobId: string) => void;
  readonly onRemove: (fileId: string) => void;
}

const sizeText = (bytes: number): string => (bytes > 1e6 ? `${(bytes / 1e6).toFixed(1)} MB` : `${Math.ceil(bytes / 1e3)} kB`);

const timeText = (at: number): string =>
  new Date(at).toLocaleString([], { month: '2-digit', day: '2-digit', hour: '2-digit', minute: '2-digit', hour12: false });

/** What was sent out before, and what is being sent, the newest first. */
export function SentList({ files, jobs, onStop, onRemove }: SentListProps) {
  return (
    <ul aria-label="Exported" className="min-h-0 overflow-y-auto border-t border-rule">
      {files.length === 0 && <li className="px-5 py-4 text-soft">Nothing exported yet. Finished files wait here until you delete them.</li>}
      {files.map((file) => {
        const job = jobs.find((j) => j.subjectId === file.id);
        const isOpen = job !== undefined && isUnderWay(job);
        return (
          <li key={file.id} className="flex items-center gap-3 border-b border-rule px-5 py-2 last:border-b-0">
            <div className="min-w-0 grow">
              <p className="flex items-baseline gap-2">
                <span className="truncate font-semibold">{file.name}</span>
                <time className="shrink-0 font-mono text-[11px] text-soft" dateTime={new Date(file.addedAt).toISOString()}>
                  {timeText(file.addedAt)}
                </time>
              </p>
              <StateOfFile file={file} job={job} />
            </div>
            {isOpen && <Button onClick={() => onStop(job.id)}>Stop</Button>}
            {file.frames !== null && (
              <a
                href={`/api/exports/${file.id}`}
                download
                className="inline-flex h-7 items-center gap-1.5 rounded-[5px] border border-rule px-2.5 hover:bg-pressed"
              >
                <Download size={13} />
                Download
              </a>
            )}
            {!isOpen && (
              <IconButton label={`Delete ${file.name}`} onClick={() => onRemove(file.id)}>
                <Trash2 size={14} />
              </IconButton>
            )}
          </li>
        );
      })}
    </ul>
  );
}

function StateOfFile({ file, job }: { readonly file: SentFile; readonly job: JobView | undefined }) {
  if (file.frames !== null)
    return (
      <p className="font-mono text-[11px] text-soft">
        {file.frames} frames · {sizeText(file.bytes ?? 0)}
      </p>
    );
  if (job !== undefined && isUnderWay(job)) {
    const queued = job.waitsFor === null ? 'Queued' : `waits for: ${job.waitsFor}`;
    return (
      <div className="flex items-center gap-2">
        <ProgressBar label={`Exporting ${file.name}`} value={job.progress} className="w-52" />
        <span className="text-soft">{job.state === 'queued' ? queued : progressText(job)}</span>
      </div>
    );
  }
  const failed = job?.state === 'failed';
  return <p className={failed ? 'text-fault' : 'text-soft'}>{failed ? `Failed: ${job.error}` : 'Stopped; nothing was written.'}</p>;
}
