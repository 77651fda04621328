import { dataFolder } from '../server/base/data-folder';
import { AppError, troubleOf } from '../server/base/errors';
import { listFilms } from '../server/films/films';
import { listFound } from '../server/workshop/found';
import { getWorkshop } from '../server/workshop/workshop';
import { FilmList } from '../ui/films/film-list';
import { Trouble } from '../ui/films/trouble';

export const dynamic = 'force-dynamic';

export default async function Home() {
  try {
    const { db } = await getWorkshop();
    return <FilmList films={await listFilms(db)} deleted={await listFilms(db, 'deleted')} found={await listFound(db)} />;
  } catch (error) {
    const told = error instanceof AppError ? error : troubleOf(error, dataFolder());
    if (told === null) throw error;
    return <Trouble sentence={told.message} />;
  }
}
