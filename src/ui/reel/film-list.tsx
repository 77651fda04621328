'use client';
import Link from 'next/link';
import { useRouter } from 'next/navigation';
import { useState, type FormEvent } from 'react';
import { Button } from '../parts/button';
import { Logo } from '../parts/logo';
import { Note } from '../parts/note';
import { call } from '../store/api';

interface FilmListProps {
  readonly films: readonly { readonly id: string; readonly name: string; readonly shots: number; readonly updatedAt: number }[];
}

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

/** The films in the data folder, and a way to begin one. */
export function FilmList({ films }: FilmListProps) {
  const router = useRouter();
  const [name, setName] = useState('');
  const [size, setSize] = useState<keyof typeof SIZES>('1920 × 1080');
  const [rate, setRate] = useState<keyof typeof RATES>('24');
  const [problem, setProblem] = useState<string | null>(null);
  const begin = (event: FormEvent): void => {
    event.preventDefault();
    const [width, height] = SIZES[size];
    const [numerator, denominator] = RATES[rate];
    call<{ id: string }>('POST', '/api/films', { name: name.trim(), width, height, rate: { numerator, denominator } }).then(
      ({ id }) => router.push(`/films/${id}`),
      (error: Error) => setProblem(error.message),
    );
  };
  const field = 'h-7 rounded-[5px] border border-rule bg-sheet px-2';
  return (
    <main className="mx-auto flex h-screen max-w-[620px] flex-col gap-6 overflow-y-auto px-6 py-14">
      <h1 className="flex items-center gap-2.5 text-[22px] font-bold">
        <Logo />
        irimi
      </h1>
      <p className="text-[14px] text-soft">Make the join between two shots: hidden, or turned into the moment itself.</p>
      <ul aria-label="Films" className="border-t border-rule">
        {films.map((film) => (
          <li key={film.id} className="border-b border-rule">
            <Link href={`/films/${film.id}`} className="flex items-baseline justify-between px-1 py-2.5 hover:bg-sheet">
              <span className="text-[15px] font-semibold">{film.name}</span>
              <span className="text-soft">
                {film.shots} {film.shots === 1 ? 'shot' : 'shots'} · {new Date(film.updatedAt).toISOString().slice(0, 10)}
              </span>
            </Link>
          </li>
        ))}
        {films.length === 0 && <li className="py-3 text-soft">No film yet. Name one below and begin.</li>}
      </ul>
      <form onSubmit={begin} className="flex flex-wrap items-center gap-2" aria-label="New film">
        <input
          aria-label="Name of the new film"
          placeholder="Name of a new film"
          required
          maxLength={200}
          value={name}
          onChange={(e) => setName(e.target.value)}
          className={`${field} grow`}
        />
        <select aria-label="Frame size" value={size} onChange={(e) => setSize(e.target.value as keyof typeof SIZES)} className={field}>
          {Object.keys(SIZES).map((s) => (
            <option key={s}>{s}</option>
          ))}
        </select>
        <select aria-label="Frames a second" value={rate} onChange={(e) => setRate(e.target.value as keyof typeof RATES)} className={field}>
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
    </main>
  );
}
