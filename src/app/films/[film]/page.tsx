import { Room } from '../../../ui/parts/room';
import { ReelRoom } from '../../../ui/reel/reel-room';

export default function FilmPage() {
  return (
    <Room>
      <ReelRoom />
    </Room>
  );
}
