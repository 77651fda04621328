import { Room } from '../../../ui/room/room';
import { ReelRoom } from '../../../ui/reel/reel-room';

export default function FilmPage() {
  return (
    <Room>
      <ReelRoom />
    </Room>
  );
}
