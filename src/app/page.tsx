import { dataFolder } from '../server/data-folder';
import { AppError, troubleOf } from '../server/errors';
import { listFilms } from '../server/films';
import { listFound } from '../server/found';
import { getWorkshop } from '../server/workshop';
import { FilmList } from '../ui/films/film-list';
import { Trouble } from '../ui/films/trouble';

export const dynamic = 'force-dynamic';

export default async function Home() {
  try {
    const { db } = await getWorkshop();
    return <FilmList films={await listFilms(db)} found={await listFound(db)} />;
  } catch (error) {
    const told = error instanceof AppError ? error : troubleOf(error, dataFolder());
    if (told === null) throw error;
    return <Trouble sentence={told.message} />;
  }
}
