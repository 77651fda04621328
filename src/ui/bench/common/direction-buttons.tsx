import { MoveHorizontal, SkipBack, SkipForward, StepBack, StepForward } from 'lucide-react';
import type { FollowGoal } from '../../../core/film/follow-orders';
import { Button } from '../../parts/button';

const DIRECTIONS = [
  { goal: 'previous', text: 'Frame back', icon: StepBack, key: null },
  { goal: 'next', text: 'Frame on', icon: StepForward, key: 'T' },
  { goal: 'start', text: 'To overlap start', icon: SkipBack, key: null },
  { goal: 'end', text: 'To overlap end', icon: SkipForward, key: null },
  { goal: 'both ways', text: 'Both ways', icon: MoveHorizontal, key: null },
] as const;

interface DirectionButtonsProps {
  readonly disabled: boolean;
  readonly onGo: (goal: FollowGoal) => void;
  /** The film frames that its ends lie on, where that is known. */
  readonly reaches?: { readonly start: number | null; readonly end: number | null };
}

/** Where to carry a matte or follow a track to. */
export function DirectionButtons({ disabled, onGo, reaches }: DirectionButtonsProps) {
  const noteOf = (goal: FollowGoal, key: string | null): string | null =>
    goal === 'start' || goal === 'end' ? ((reaches?.[goal] ?? null)?.toString() ?? null) : key;
  return DIRECTIONS.map(({ goal, text, icon: Icon, key }) => (
    <Button key={goal} disabled={disabled} aria-label={text} onClick={() => onGo(goal)}>
      <Icon size={13} /> {text} <span className="font-mono text-[10.5px] text-soft">{noteOf(goal, key)}</span>
    </Button>
  ));
}
