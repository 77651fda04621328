'use client';
import { useEffect, useRef } from 'react';
import { create } from 'zustand';

/** Grows each time somebody wants to type a name. */
const useAsked = create<{ readonly times: number }>(() => ({ times: 0 }));

/** Puts the cursor into the name of what is selected, all of it marked. */
export const askForName = (): void => useAsked.setState(({ times }) => ({ times: times + 1 }));

interface NameFieldProps {
  readonly label: string;
  readonly value: string;
  /** The cursor comes here when a name is asked for. */
  readonly isAsked?: boolean;
  readonly onCommit: (name: string) => void;
}

const LONGEST = 200;

/** A name to be typed over. Enter keeps it, Escape leaves it as it was. */
export function NameField({ label, value, isAsked = false, onCommit }: NameFieldProps) {
  const field = useRef<HTMLInputElement>(null);
  const { times } = useAsked();
  const answered = useRef(times);
  useEffect(() => {
    if (answered.current === times || !isAsked) return;
    answered.current = times;
    field.current?.focus();
    field.current?.select();
  }, [times, isAsked]);
  const commit = (): void => {
    const name = field.current!.value.trim();
    if (name === '') field.current!.value = value;
    else if (name !== value) onCommit(name);
  };
  return (
    <label className="flex items-center justify-between gap-2">
      <span className="shrink-0">Name</span>
      <input
        key={value}
        ref={field}
        aria-label={label}
        defaultValue={value}
        maxLength={LONGEST}
        className="h-[22px] min-w-0 grow rounded border border-rule bg-sheet px-1.5"
        onBlur={commit}
        onKeyDown={(e) => {
          if (e.key === 'Escape') e.currentTarget.value = value;
          if (e.key === 'Enter' || e.key === 'Escape') e.currentTarget.blur();
        }}
      />
    </label>
  );
}
