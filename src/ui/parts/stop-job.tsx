'use client';
import { Square } from 'lucide-react';
import type { JobView } from '../../core/film/job';
import { call } from '../store/api';
import { useTools } from '../store/film-context';
import { Button } from './button';

/** Ends a piece of long work, and says how far it is. */
export function StopJob({ job }: { readonly job: JobView }) {
  const { store } = useTools();
  return (
    <Button onClick={() => void call('DELETE', `/api/jobs/${job.id}`).catch(() => store.notify('The server does not answer.'))}>
      <Square size={12} /> Stop, {Math.round(100 * job.progress)} %
    </Button>
  );
}
