import { FilmList } from '../ui/reel/film-list';
import { listFilms } from '../server/films';
import { getWorkshop } from '../server/workshop';

export const dynamic = 'force-dynamic';

export default async function Home() {
  const { db } = await getWorkshop();
  return <FilmList films={await listFilms(db)} />;
}
