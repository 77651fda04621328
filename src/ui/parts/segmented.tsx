'use client';
import { ToggleGroup } from 'radix-ui';

interface SegmentedProps<T extends string> {
  readonly label: string;
  readonly options: readonly { readonly value: T; readonly text: string }[];
  readonly value: T;
  readonly onChange: (value: T) => void;
}

/** One of a few, all in sight. */
export function Segmented<T extends string>({ label, options, value, onChange }: SegmentedProps<T>) {
  return (
    <ToggleGroup.Root
      type="single"
      aria-label={label}
      value={value}
      onValueChange={(v) => v !== '' && onChange(v as T)}
      className="flex h-6 shrink-0 overflow-hidden rounded-[5px] border border-rule bg-sheet"
    >
      {options.map((o) => (
        <ToggleGroup.Item
          key={o.value}
          value={o.value}
          data-value={o.value}
          className="grow px-2 hover:bg-pressed data-[state=on]:bg-ink data-[state=on]:text-sheet"
        >
          {o.text}
        </ToggleGroup.Item>
      ))}
    </ToggleGroup.Root>
  );
}
