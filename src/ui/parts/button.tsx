import type { ButtonHTMLAttributes, ReactNode } from 'react';

interface ButtonProps extends ButtonHTMLAttributes<HTMLButtonElement> {
  readonly tone?: 'plain' | 'ink' | 'bare';
}

const TONES = {
  plain: 'border border-rule bg-sheet hover:bg-pressed',
  ink: 'border border-ink bg-ink text-sheet hover:opacity-85',
  bare: 'border border-transparent hover:bg-pressed',
} as const;

export function Button({ tone = 'plain', className = '', ...rest }: ButtonProps) {
  return (
    <button
      type="button"
      className={`inline-flex h-7 shrink-0 items-center gap-1.5 rounded-[5px] px-2.5 whitespace-nowrap disabled:opacity-40 ${TONES[tone]} ${className}`}
      {...rest}
    />
  );
}

/** A button that shows only a picture; `label` names it for everyone. */
export function IconButton({
  label,
  children,
  className = '',
  ...rest
}: ButtonHTMLAttributes<HTMLButtonElement> & { readonly label: string; readonly children: ReactNode }) {
  return (
    <button
      type="button"
      aria-label={label}
      title={label}
      className={`inline-flex size-6 shrink-0 items-center justify-center rounded-[4px] hover:bg-pressed disabled:opacity-35 disabled:hover:bg-transparent ${className}`}
      {...rest}
    >
      {children}
    </button>
  );
}
