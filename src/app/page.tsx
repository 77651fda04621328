import { dataFolder } from '../server/data-folder';
import { AppError, troubleOf } from '../server/errors';
import { listFilms } from '../server/films';
import { getWorkshop } from '../server/workshop';
import { FilmList } from '../ui/reel/film-list';
import { Trouble } from '../ui/reel/trouble';

export const dynamic = 'force-dynamic';

export default async function Home() {
  try {
    return <FilmList films={await listFilms((await getWorkshop()).db)} />;
  } catch (error) {
    const told = error instanceof AppError ? error : troubleOf(error, dataFolder());
    if (told === null) throw error;
    return <Trouble sentence={told.message} />;
  }
}
