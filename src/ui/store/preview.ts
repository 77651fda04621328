import type { makeEdit } from '../../core/film/history';

/** A change that is shown while a slider moves, and stored when it rests. */
export type PreviewChange = Parameters<typeof makeEdit>[2];
