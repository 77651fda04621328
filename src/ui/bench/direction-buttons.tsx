import { MoveHorizontal, SkipBack, SkipForward, StepBack, StepForward } from 'lucide-react';
import type { FollowGoal } from '../../core/film/follow-orders';
import { Button } from '../parts/button';

const DIRECTIONS = [
  { goal: 'previous', text: 'One back', icon: StepBack, key: null },
  { goal: 'next', text: 'One on', icon: StepForward, key: 'T' },
  { goal: 'start', text: 'To the start', icon: SkipBack, key: null },
  { goal: 'end', text: 'To the end', icon: SkipForward, key: null },
  { goal: 'both ways', text: 'Both ways', icon: MoveHorizontal, key: null },
] as const;

/** Where to carry a matte or follow a track to. */
export function DirectionButtons({ disabled, onGo }: { readonly disabled: boolean; readonly onGo: (goal: FollowGoal) => void }) {
  return DIRECTIONS.map(({ goal, text, icon: Icon, key }) => (
    <Button key={goal} disabled={disabled} onClick={() => onGo(goal)}>
      <Icon size={13} /> {text} {key !== null && <span className="font-mono text-[10.5px] text-soft">{key}</span>}
    </Button>
  ));
}
