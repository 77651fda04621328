import { rm, stat } from 'node:fs/promises';
import { randomUUID } from 'node:crypto';
import { join } from 'node:path';
import type { Knex } from 'knex';
import { spanInUse } from '../../core/film/edits/medium-span';
import type { MediumSpan } from '../../core/film/edits/spans';
import type { Film, Medium } from '../../core/film/film';
import { mediumFile, mediumFolder } from '../base/data-folder';
import { run, runLimit } from '../base/processes';
import { pictureFileOf } from './media';
import { spanArgs } from '../video/ffmpeg';

/** A file that holds a span of a medium, without loss. Whoever has it takes it away. */
interface SpanFile {
  readonly path: string;
  readonly medium: Medium;
  readonly span: MediumSpan;
}

/** Stores what a film shows of a medium, with handles around it; null where the whole original is wanted, or is smaller. */
export async function spanOfMedium(db: Knex, film: Film, medium: Medium, handles: number): Promise<SpanFile | null> {
  const span = spanInUse(film, medium, handles);
  if (span === null || span.last - span.first + 1 >= medium.frames) return null;
  const { path: input, probe } = await pictureFileOf(db, medium.id);
  const path = join(mediumFolder(medium.id), `${randomUUID()}.part`);
  try {
    const { size } = await stat(input);
    const args = spanArgs(input, probe, span.first, span.last, path);
    await run('ffmpeg', args, { seconds: runLimit(size, medium.frames * medium.width * medium.height) });
    if ((await stat(path)).size < (await stat(mediumFile(medium.id, 'original'))).size) return { path, medium, span };
  } catch (error) {
    await rm(path, { force: true });
    throw error;
  }
  await rm(path, { force: true });
  return null;
}
