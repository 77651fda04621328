'use client';
import { useLayoutEffect, useRef, useState, type ComponentProps, type ReactNode } from 'react';
import { Weave } from './weave';
import { sizesFor, SizesProvider } from './weave-sizes';

/** Height beyond which rows grow: what they, the ruler and the row of keyframes take at their least. */
const USUAL_HEIGHT = 166;
const LEAST_ROWS = 112;

type Props = ComponentProps<typeof Weave> & {
  /** Width of the film's frame against its height. */
  readonly aspect: number;
  /** What lies under the rows takes, in CSS pixels. */
  readonly underHeight: number;
  /** A row under everything, always in sight. */
  readonly footer: ReactNode;
};

/** The weave in the height it is given: its pictures grow with what the lanes leave. */
export function SizedWeave({ aspect, underHeight, footer, ...weave }: Props) {
  const box = useRef<HTMLDivElement>(null);
  const [height, setHeight] = useState(USUAL_HEIGHT);
  useLayoutEffect(() => {
    const element = box.current!;
    const observer = new ResizeObserver(() => setHeight(element.clientHeight));
    observer.observe(element);
    return () => observer.disconnect();
  }, []);
  const rows = underHeight > 0 ? height - underHeight : height - (USUAL_HEIGHT - LEAST_ROWS);
  return (
    <div ref={box} className="flex h-full flex-col">
      <div className="min-h-0 grow">
        <SizesProvider value={sizesFor(Math.max(LEAST_ROWS, rows), aspect)}>
          <Weave {...weave} />
        </SizesProvider>
      </div>
      {footer}
    </div>
  );
}
