'use client';
import { useRouter } from 'next/navigation';
import { useState } from 'react';
import type { FoundThing } from '../../core/film/media-facts';
import { Button } from '../parts/button';
import { Note } from '../parts/note';
import { call } from '../store/api';

interface Choice {
  readonly id: string;
  readonly name: string;
}

const KINDS: Record<FoundThing['place'], string> = { media: 'media', exports: 'exported', incoming: 'received' };

const sizeText = (bytes: number): string => (bytes > 1e6 ? `${(bytes / 1e6).toFixed(1)} MB` : `${Math.ceil(bytes / 1e3)} kB`);

/** What lies in the data folder and is of no film: it is imported into one, or moved aside; nothing is deleted. */
export function FoundList({ films, found }: { readonly films: readonly Choice[]; readonly found: readonly FoundThing[] }) {
  const router = useRouter();
  const [chosen, setChosen] = useState<string | null>(null);
  const [said, setSaid] = useState<{ readonly tone: 'fault' | 'good'; readonly text: string } | null>(null);
  const [isBusy, setBusy] = useState(false);
  const film = films.find((f) => f.id === chosen) ?? films[0];
  const act = async (things: readonly FoundThing[], order: object, done: string): Promise<void> => {
    setBusy(true);
    try {
      for (const { place, entry } of things) await call('POST', '/api/found', { place, entry, ...order });
      setSaid({ tone: 'good', text: done });
    } catch (error) {
      setSaid({ tone: 'fault', text: (error as Error).message });
    }
    setBusy(false);
    router.refresh();
  };
  const takeIn = (things: readonly FoundThing[]): void =>
    void act(things, { do: 'take in', filmId: film!.id }, `Imported into ${film!.name}.`);
  const putAside = (things: readonly FoundThing[]): void =>
    void act(things, { do: 'move aside' }, 'Moved to the folder aside in the data folder.');
  const usable = found.filter((f) => f.isUsable);
  return (
    <section aria-label="Found in the data folder" className="flex flex-col gap-2">
      <h2 className="text-[14px] font-semibold">Found in the data folder, not in any film</h2>
      <p className="text-soft">Nothing here is deleted. Import it into a film, or move it aside.</p>
      <div className="flex flex-wrap items-center gap-2">
        <select
          aria-label="Film to import into"
          value={film?.id ?? ''}
          disabled={films.length === 0}
          onChange={(e) => setChosen(e.target.value)}
          className="h-7 rounded-[5px] border border-rule bg-sheet px-2"
        >
          {films.length === 0 && <option value="">Begin a film first</option>}
          {films.map((f) => (
            <option key={f.id} value={f.id}>
              {f.name}
            </option>
          ))}
        </select>
        <Button disabled={isBusy || film === undefined || usable.length === 0} onClick={() => takeIn(usable)}>
          Import all
        </Button>
        <Button disabled={isBusy} onClick={() => putAside(found)}>
          Move all aside
        </Button>
      </div>
      {said !== null && <Note tone={said.tone}>{said.text}</Note>}
      <ul className="border-t border-rule">
        {found.map((thing) => (
          <li key={`${thing.place}/${thing.entry}`} className="flex items-center gap-3 border-b border-rule px-1 py-1.5">
            <div className="min-w-0 grow">
              <p className="truncate font-semibold">{thing.name}</p>
              <p className="truncate font-mono text-[11px] text-soft">
                {KINDS[thing.place]} · {sizeText(thing.bytes)} · {new Date(thing.changedAt).toISOString().slice(0, 10)}
                {thing.isUsable ? '' : ' · no original in it'}
              </p>
            </div>
            <Button
              aria-label={`Import ${thing.name}`}
              disabled={isBusy || film === undefined || !thing.isUsable}
              onClick={() => takeIn([thing])}
            >
              Import
            </Button>
            <Button aria-label={`Move ${thing.name} aside`} disabled={isBusy} onClick={() => putAside([thing])}>
              Move aside
            </Button>
          </li>
        ))}
      </ul>
    </section>
  );
}
