import type { ReactNode } from 'react';
import { FilmProvider } from '../../../ui/store/film-context';

export default async function FilmLayout({ children, params }: { children: ReactNode; params: Promise<{ film: string }> }) {
  return <FilmProvider filmId={(await params).film}>{children}</FilmProvider>;
}
