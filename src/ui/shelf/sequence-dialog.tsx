'use client';
import { useState } from 'react';
import type { Rational } from '../../core/geometry/rational';
import { Button } from '../parts/button';
import { RATES, rateName } from '../parts/film-formats';
import { SelectRow } from '../parts/select-row';
import { Sheet } from '../parts/sheet';
import { useFilm } from '../store/film-context';

/** Numbered pictures that are to come in: found among files, or in a ZIP file. */
export interface AskedSequence {
  readonly name: string;
  /** Null where that is not known before it has come in. */
  readonly pictures: number | null;
  readonly file: () => Promise<File>;
}

interface SequenceDialogProps {
  readonly sequences: readonly AskedSequence[];
  readonly onTake: (rate: Rational) => void;
  readonly onClose: () => void;
}

/** Asks at which rate numbered pictures run: they do not say. */
export function SequenceDialog({ sequences, onTake, onClose }: SequenceDialogProps) {
  const { film } = useFilm('film');
  const rates = { [rateName(film.rate)]: film.rate, ...RATES };
  const [rate, setRate] = useState(rateName(film.rate));
  return (
    <Sheet title="Numbered pictures" onClose={onClose} className="w-[420px]">
      <form
        className="flex flex-col gap-3 p-5"
        onSubmit={(event) => {
          event.preventDefault();
          onTake(rates[rate]!);
        }}
      >
        <ul className="flex flex-col gap-1">
          {sequences.map(({ name, pictures }) => (
            <li key={name} className="flex justify-between gap-3">
              <b className="truncate">{name}</b>
              <span className="shrink-0 text-soft">{pictures === null ? 'in a ZIP file' : `${pictures} pictures`}</span>
            </li>
          ))}
        </ul>
        <SelectRow
          label="Frames a second"
          value={rate}
          options={Object.keys(rates).map((r) => ({ value: r, text: r === rateName(film.rate) ? `${r}, as the film` : r }))}
          onChange={setRate}
        />
        <div className="flex justify-end gap-1.5">
          <Button onClick={onClose}>Cancel</Button>
          <Button type="submit" tone="ink">
            Import
          </Button>
        </div>
      </form>
    </Sheet>
  );
}
