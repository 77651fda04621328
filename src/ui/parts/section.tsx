import type { ReactNode } from 'react';

export function Section({ title, aside, children }: { readonly title: string; readonly aside?: ReactNode; readonly children: ReactNode }) {
  return (
    <section aria-label={title} className="flex flex-col gap-2 border-b border-rule px-3.5 py-3">
      <div className="flex h-5 items-center justify-between">
        <h2 className="font-semibold text-soft">{title}</h2>
        {aside}
      </div>
      {children}
    </section>
  );
}
