'use client';
import { useLayoutEffect, useRef, useState, type ComponentProps, type ReactNode } from 'react';
import { Weave } from './weave';
import { RULER, sizesFor, SizesProvider, type WeaveForm } from './weave-sizes';

/** Height beyond which rows grow: what they, the ruler and the row of keyframes take at their least. */
const USUAL_HEIGHT = 166;
const LEAST_ROWS: Record<WeaveForm, number> = { tall: 112, low: RULER + 31 };
/** The row of keyframes under the pictures, where it is. */
const KEY_ROW = 54;

type Props = ComponentProps<typeof Weave> & {
  /** Width of the film's frame against its height. */
  readonly aspect: number;
  /** What lies under the rows takes, in CSS pixels. */
  readonly underHeight: number;
  /** A row under everything, always in sight. */
  readonly footer: ReactNode;
  readonly form: WeaveForm;
};

/** The weave in the height it is given: its pictures grow with what the lanes leave. */
export function SizedWeave({ aspect, underHeight, footer, form, ...weave }: Props) {
  const box = useRef<HTMLDivElement>(null);
  const [height, setHeight] = useState(USUAL_HEIGHT);
  useLayoutEffect(() => {
    const element = box.current!;
    const observer = new ResizeObserver(() => setHeight(element.clientHeight));
    observer.observe(element);
    return () => observer.disconnect();
  }, []);
  const rows = height - (underHeight > 0 ? underHeight : KEY_ROW);
  return (
    <div ref={box} className="flex h-full flex-col">
      <div className="min-h-0 grow">
        <SizesProvider value={sizesFor(Math.max(LEAST_ROWS[form], rows), aspect, form)}>
          <Weave {...weave} />
        </SizesProvider>
      </div>
      {footer}
    </div>
  );
}
