'use client';
import { Button } from '../../../ui/parts/button';

/** What is shown of a film where all of a room failed; the film itself is on the server and in this browser. */
export default function FilmError({ error, reset }: { readonly error: Error; readonly reset: () => void }) {
  return (
    <main role="alert" className="flex flex-col items-start gap-3 p-8">
      <p>This page could not be shown: {error.message}. Your changes are kept.</p>
      <Button onClick={reset}>Try again</Button>
      <a href="/" className="underline">
        All films
      </a>
    </main>
  );
}
