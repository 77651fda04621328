import { frameOfFinding, repairText, type Finding } from '../../core/check/finding';
import { applyRepair } from '../../core/check/repairs';
import { useFilm, useTools } from '../store/film-context';
import { Button } from './button';
import { Note } from './note';
import { newId } from '../store/new-id';

/** What was found, what to do about it, and a button that does it. */
export function FindingNote({
  finding,
  joinId,
  onGoTo,
}: {
  readonly finding: Finding;
  readonly joinId: string;
  readonly onGoTo?: (frame: number) => void;
}) {
  const { store } = useTools();
  const { media } = useFilm('media');
  const { repair } = finding;
  return (
    <Note tone={finding.kind === 'empty pixels' || finding.kind === 'no picture' ? 'fault' : 'heed'}>
      <p className="font-semibold">{finding.text}</p>
      <p>{finding.advice}</p>
      <div className="mt-1.5 flex flex-wrap gap-1.5">
        {onGoTo !== undefined && <Button onClick={() => onGoTo(frameOfFinding(finding))}>Go to {frameOfFinding(finding)}</Button>}
        {repair !== null && (
          <Button
            className="h-auto min-h-7 py-0.5 text-left whitespace-normal"
            onClick={() => store.edit(repairText(repair), (d) => applyRepair(d, media, joinId, repair, newId))}
          >
            {repairText(repair)}
          </Button>
        )}
      </div>
    </Note>
  );
}
