'use client';

interface SelectRowProps<T extends string> {
  readonly label: string;
  readonly value: T;
  readonly options: readonly { readonly value: T; readonly text: string }[];
  readonly onChange: (value: T) => void;
}

/** A label and one of many, chosen from a list. */
export function SelectRow<T extends string>({ label, value, options, onChange }: SelectRowProps<T>) {
  return (
    <label className="flex items-center justify-between gap-2">
      <span className="shrink-0">{label}</span>
      <select
        aria-label={label}
        className="h-6 max-w-[150px] min-w-0 rounded-[4px] border border-rule bg-sheet px-1"
        value={value}
        onChange={(e) => onChange(e.target.value as T)}
      >
        {options.map((o) => (
          <option key={o.value} value={o.value}>
            {o.text}
          </option>
        ))}
      </select>
    </label>
  );
}

/** A label and a box that is ticked or not. */
export function SwitchRow({
  label,
  value,
  onChange,
}: {
  readonly label: string;
  readonly value: boolean;
  readonly onChange: (value: boolean) => void;
}) {
  return (
    <label className="flex items-center justify-between gap-2">
      <span>{label}</span>
      <input type="checkbox" aria-label={label} className="accent-ink" checked={value} onChange={(e) => onChange(e.target.checked)} />
    </label>
  );
}
