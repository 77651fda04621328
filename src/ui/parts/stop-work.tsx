import { Button } from './button';
import { ProgressBar } from './progress-bar';

/** How far work of this page is, 0..1, with a way to stop it. */
export function StopWork({ label, share, onStop }: { readonly label: string; readonly share: number; readonly onStop: () => void }) {
  return (
    <div className="flex items-center gap-2">
      <ProgressBar value={share} label={label} />
      <Button onClick={onStop}>Stop</Button>
    </div>
  );
}
