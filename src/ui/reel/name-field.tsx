'use client';
import { useEffect, useRef } from 'react';
import { create } from 'zustand';
import { NameInput } from '../parts/name-input';

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

/** The name of what is selected, to be typed over. */
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
  return (
    <label className="flex items-center justify-between gap-2">
      <span className="shrink-0">Name</span>
      <NameInput
        ref={field}
        label={label}
        value={value}
        onDone={(name) => name !== value && onCommit(name)}
        className="h-[22px] min-w-0 grow"
      />
    </label>
  );
}
