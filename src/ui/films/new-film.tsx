'use client';
import { useRouter } from 'next/navigation';
import { useRef, useState, type FormEvent, type KeyboardEvent } from 'react';
import { Button } from '../parts/button';
import { Note } from '../parts/note';
import { RATES, SIZES } from '../parts/film-formats';
import { call } from '../store/api';

const FIELD = 'h-7 rounded-[5px] border border-rule bg-sheet px-2';

/** Begins a film of a name, size and rate. */
export function NewFilm() {
  const router = useRouter();
  const [name, setName] = useState('');
  const [size, setSize] = useState('1920 × 1080');
  const [rate, setRate] = useState('24');
  const [problem, setProblem] = useState<string | null>(null);
  const sizeRef = useRef<HTMLSelectElement>(null);
  const begin = (event: FormEvent): void => {
    event.preventDefault();
    const [width, height] = SIZES[size]!;
    call<{ id: string }>('POST', '/api/films', { name: name.trim(), width, height, rate: RATES[rate]! }).then(
      ({ id }) => router.push(`/films/${id}`),
      (error: Error) => setProblem(error.message),
    );
  };
  // size and rate come first: Enter in the name leads to them
  const onKeyDown = (event: KeyboardEvent): void => {
    if (event.key !== 'Enter') return;
    event.preventDefault();
    sizeRef.current?.focus();
  };
  return (
    <>
      <form onSubmit={begin} className="flex flex-wrap items-center gap-2" aria-label="New film">
        <input
          aria-label="Name of the new film"
          placeholder="Name of a new film"
          required
          maxLength={200}
          value={name}
          onChange={(e) => setName(e.target.value)}
          onKeyDown={onKeyDown}
          className={`${FIELD} grow`}
        />
        <select ref={sizeRef} aria-label="Frame size" value={size} onChange={(e) => setSize(e.target.value)} className={FIELD}>
          {Object.keys(SIZES).map((s) => (
            <option key={s}>{s}</option>
          ))}
        </select>
        <select aria-label="Frames a second" value={rate} onChange={(e) => setRate(e.target.value)} className={FIELD}>
          {Object.keys(RATES).map((r) => (
            <option key={r} value={r}>
              {r} fps
            </option>
          ))}
        </select>
        <Button tone="ink" type="submit" disabled={name.trim() === ''}>
          Begin
        </Button>
      </form>
      {problem !== null && <Note tone="fault">{problem}</Note>}
    </>
  );
}
