'use client';
import { useRouter } from 'next/navigation';
import { useRef, useState, type FormEvent, type KeyboardEvent } from 'react';
import { Button } from '../parts/button';
import { Note } from '../parts/note';
import { call } from '../store/api';

const SIZES = {
  '1280 × 720': [1280, 720],
  '1920 × 1080': [1920, 1080],
  '3840 × 2160': [3840, 2160],
  '1080 × 1920': [1080, 1920],
  '1080 × 1080': [1080, 1080],
} as const;
const RATES = {
  '23.976': [24000, 1001],
  '24': [24, 1],
  '25': [25, 1],
  '29.97': [30000, 1001],
  '30': [30, 1],
  '50': [50, 1],
  '59.94': [60000, 1001],
  '60': [60, 1],
} as const;

const FIELD = 'h-7 rounded-[5px] border border-rule bg-sheet px-2';

/** Begins a film of a name, size and rate. */
export function NewFilm() {
  const router = useRouter();
  const [name, setName] = useState('');
  const [size, setSize] = useState<keyof typeof SIZES>('1920 × 1080');
  const [rate, setRate] = useState<keyof typeof RATES>('24');
  const [problem, setProblem] = useState<string | null>(null);
  const sizeRef = useRef<HTMLSelectElement>(null);
  const begin = (event: FormEvent): void => {
    event.preventDefault();
    const [width, height] = SIZES[size];
    const [numerator, denominator] = RATES[rate];
    call<{ id: string }>('POST', '/api/films', { name: name.trim(), width, height, rate: { numerator, denominator } }).then(
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
        <select
          ref={sizeRef}
          aria-label="Frame size"
          value={size}
          onChange={(e) => setSize(e.target.value as keyof typeof SIZES)}
          className={FIELD}
        >
          {Object.keys(SIZES).map((s) => (
            <option key={s}>{s}</option>
          ))}
        </select>
        <select aria-label="Frames a second" value={rate} onChange={(e) => setRate(e.target.value as keyof typeof RATES)} className={FIELD}>
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
