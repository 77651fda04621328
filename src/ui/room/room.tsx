'use client';
import Link from 'next/link';
import type { ReactNode } from 'react';
import { useFilmState } from '../store/film-context';
import { Boundary } from '../parts/boundary';
import { FrameBudget } from '../store/frame-budget';
import { MeasureKeeper } from '../store/measure-keeper';

/** Waits for the film before it shows a room; says so when the film cannot be had. */
export function Room({ children }: { readonly children: ReactNode }) {
  const { film, notice } = useFilmState('film', 'notice');
  if (film !== null)
    return (
      <>
        <Boundary name="Keeping joins up to date">
          <FrameBudget />
          <MeasureKeeper />
        </Boundary>
        <Boundary name="This room">{children}</Boundary>
      </>
    );
  return (
    <main className="p-8">
      {notice === null ? <p className="text-soft">Opening the film…</p> : <p role="alert">{notice}</p>}
      <Link href="/" className="underline">
        All films
      </Link>
    </main>
  );
}
