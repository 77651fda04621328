import type { Draft } from 'immer';
import type { Film } from './film';

/** A film that is being changed. */
export type FilmDraft = Draft<Film>;

/** Makes new ids; the caller brings the source of randomness. */
export type NewId = () => string;
