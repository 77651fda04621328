/** How far something is, 0..1. */
export function ProgressBar({
  label,
  value,
  className = 'w-full',
}: {
  readonly label: string;
  readonly value: number;
  readonly className?: string;
}) {
  const percent = Math.round(100 * Math.max(0, Math.min(1, value)));
  return (
    <span
      role="progressbar"
      aria-label={label}
      aria-valuemin={0}
      aria-valuemax={100}
      aria-valuenow={percent}
      className={`block h-[3px] bg-rule ${className}`}
    >
      <span className="block h-full bg-ink" style={{ width: `${percent}%` }} />
    </span>
  );
}
