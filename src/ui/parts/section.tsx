'use client';
import { ChevronRight } from 'lucide-react';
import { Collapsible } from 'radix-ui';
import type { ReactNode } from 'react';
import { usePreference } from '../store/preferences';

/** A part of a panel that folds and remembers it, under `name`: the title unless that changes with what is shown. */
export function Section({
  title,
  name = title,
  startsFolded = false,
  children,
}: {
  readonly title: string;
  readonly name?: string;
  readonly startsFolded?: boolean;
  readonly children: ReactNode;
}) {
  const [isOpen, setOpen] = usePreference(`open:${name}`, !startsFolded);
  return (
    <Collapsible.Root open={isOpen} onOpenChange={setOpen} asChild>
      <section aria-label={title} className="border-b border-rule">
        <h2 className="font-semibold text-soft">
          <Collapsible.Trigger className="flex w-full items-center gap-1.5 px-3.5 pt-3 pb-2 text-left hover:text-ink" data-section={name}>
            <ChevronRight size={13} className={`shrink-0 transition-transform ${isOpen ? 'rotate-90' : ''}`} />
            <span className="min-w-0">{title}</span>
          </Collapsible.Trigger>
        </h2>
        <Collapsible.Content className="flex flex-col gap-2 px-3.5 pb-3">{children}</Collapsible.Content>
      </section>
    </Collapsible.Root>
  );
}
