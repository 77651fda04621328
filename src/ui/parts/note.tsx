import type { ReactNode } from 'react';

const TONES = { heed: 'border-heed', fault: 'border-fault', good: 'border-entering' } as const;

/** A remark on the margin: what is so, and what to do. */
export function Note({ tone, children }: { readonly tone: keyof typeof TONES; readonly children: ReactNode }) {
  return <div className={`border-l-[3px] py-0.5 pl-2.5 ${TONES[tone]}`}>{children}</div>;
}
