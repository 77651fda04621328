'use client';
import { useState } from 'react';
import { NumberRow } from './number-field';
import { Sheet } from './sheet';

const WHAT = {
  used: 'The media in use, whole',
  all: 'All media of the shelf',
  span: 'Only the frames in use, with handles',
} as const;
type What = keyof typeof WHAT;

/** Film frames around each shot, at first. */
const HANDLES = 24;

/** Asks what goes along in a package of a film, and saves it. */
export function PackageSheet({ filmId, name, onClose }: { readonly filmId: string; readonly name: string; readonly onClose: () => void }) {
  const [what, setWhat] = useState<What>('used');
  const [handles, setHandles] = useState(HANDLES);
  const query = what === 'all' ? '?media=all' : what === 'span' ? `?handles=${handles}` : '';
  return (
    <Sheet title={`Package of ${name}`} onClose={onClose} className="w-[430px]">
      <div className="flex flex-col gap-3 p-5">
        <p className="text-soft">One file with the film, its media and mattes, to be opened on any machine.</p>
        <div role="radiogroup" aria-label="Media in the package" className="flex flex-col gap-1">
          {(Object.keys(WHAT) as What[]).map((w) => (
            <label key={w} className="flex items-center gap-2">
              <input type="radio" name="what" className="accent-ink" checked={what === w} onChange={() => setWhat(w)} />
              {WHAT[w]}
            </label>
          ))}
        </div>
        {what === 'span' && (
          <>
            <NumberRow label="Handles" unit="fr" min={0} max={10_000} value={handles} onCommit={(v) => setHandles(Math.round(v))} />
            <p className="text-soft">
              They are stored without loss. Media that would get larger that way, and what is heard by itself, stays whole.
            </p>
          </>
        )}
        <a
          href={`/api/films/${filmId}/package${query}`}
          download
          onClick={onClose}
          className="inline-flex h-[27px] items-center self-end rounded-[5px] bg-ink px-3 text-sheet"
        >
          Save the package
        </a>
      </div>
    </Sheet>
  );
}
