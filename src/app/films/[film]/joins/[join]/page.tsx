import { Bench } from '../../../../../ui/bench/bench';
import { Room } from '../../../../../ui/room/room';

export default async function JoinPage({ params }: { params: Promise<{ join: string }> }) {
  return (
    <Room>
      <Bench joinId={(await params).join} />
    </Room>
  );
}
