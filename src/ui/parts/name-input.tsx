'use client';
import type { Ref } from 'react';

interface NameInputProps {
  readonly label: string;
  readonly value: string;
  /** It was asked for just now: the cursor is in it, all of it marked. */
  readonly isAsked?: boolean;
  /** What is typed, or what it was where nothing else is. */
  readonly onDone: (name: string) => void;
  readonly className: string;
  readonly ref?: Ref<HTMLInputElement>;
}

const LONGEST = 200;

/** A name to be typed over. Enter keeps it, Escape leaves it as it was. */
export function NameInput({ label, value, isAsked = false, onDone, className, ref }: NameInputProps) {
  return (
    <input
      key={value}
      ref={ref}
      aria-label={label}
      defaultValue={value}
      maxLength={LONGEST}
      autoFocus={isAsked}
      className={`rounded border border-rule bg-sheet px-1.5 ${className}`}
      onFocus={(e) => isAsked && e.currentTarget.select()}
      onBlur={(e) => {
        const name = e.currentTarget.value.trim();
        if (name === '') e.currentTarget.value = value;
        onDone(name === '' ? value : name);
      }}
      onKeyDown={(e) => {
        if (e.key === 'Escape') e.currentTarget.value = value;
        if (e.key === 'Enter' || e.key === 'Escape') e.currentTarget.blur();
      }}
    />
  );
}
