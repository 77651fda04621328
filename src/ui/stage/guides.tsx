'use client';
import { Grid3x3 } from 'lucide-react';
import { DropdownMenu } from 'radix-ui';
import { RATIOS, useGuides, type GuideChoice } from '../store/guide-choice';

/** Shares of the frame's width and height that lie in the safe areas for action and for words (EBU R 95). */
const SAFE = [
  { share: 0.93, what: 'action' },
  { share: 0.9, what: 'words' },
] as const;

const LINE = { stroke: '#fffaf0', strokeOpacity: 0.6, fill: 'none', vectorEffect: 'non-scaling-stroke' } as const;

/** The chosen guides over a frame of this width and height. */
export function Guides({ choice, width, height }: { readonly choice: GuideChoice; readonly width: number; readonly height: number }) {
  const { thirds, safeAreas, ratio } = choice;
  if (!thirds && !safeAreas && ratio === null) return null;
  const bright = ratio === null ? { w: width, h: height } : { w: Math.min(width, height * ratio), h: Math.min(height, width / ratio) };
  const [x, y] = [(width - bright.w) / 2, (height - bright.h) / 2];
  return (
    <svg
      className="pointer-events-none absolute inset-0 size-full"
      viewBox={`0 0 ${width} ${height}`}
      preserveAspectRatio="none"
      data-guides
    >
      {ratio !== null && (
        <path
          data-mask={ratio.toFixed(2)}
          d={`M0 0H${width}V${height}H0ZM${x} ${y}V${y + bright.h}H${x + bright.w}V${y}Z`}
          fill="#000"
          fillOpacity="0.72"
          fillRule="evenodd"
        />
      )}
      {thirds &&
        [1 / 3, 1 / 2, 2 / 3].map((at) => (
          <g key={at} {...(at === 1 / 2 ? { strokeDasharray: '3 6' } : {})}>
            <line {...LINE} x1={at * width} x2={at * width} y1={0} y2={height} />
            <line {...LINE} y1={at * height} y2={at * height} x1={0} x2={width} />
          </g>
        ))}
      {safeAreas &&
        SAFE.map(({ share, what }) => (
          <rect
            key={what}
            {...LINE}
            data-safe={what}
            x={x + ((1 - share) / 2) * bright.w}
            y={y + ((1 - share) / 2) * bright.h}
            width={share * bright.w}
            height={share * bright.h}
          />
        ))}
    </svg>
  );
}

const ITEM = 'flex cursor-pointer items-center justify-between gap-5 rounded-[4px] px-2.5 py-1 outline-none data-[highlighted]:bg-pressed';

/** Which guides lie over the stage. */
export function GuidesMenu() {
  const [choice, setChoice] = useGuides();
  const tick = <DropdownMenu.ItemIndicator>✓</DropdownMenu.ItemIndicator>;
  const keepOpen = (event: Event): void => event.preventDefault();
  return (
    <DropdownMenu.Root modal={false}>
      <DropdownMenu.Trigger
        aria-label="Guides"
        title="Guides: thirds, safe areas, another ratio"
        className="inline-flex size-5 items-center justify-center rounded hover:bg-white/10"
      >
        <Grid3x3 size={14} />
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content
          aria-label="Guides"
          className="z-50 min-w-[170px] rounded-md border border-rule bg-sheet p-1 text-ink shadow-sm"
        >
          <DropdownMenu.CheckboxItem
            className={ITEM}
            checked={choice.thirds}
            onSelect={keepOpen}
            onCheckedChange={(thirds) => setChoice({ ...choice, thirds })}
          >
            Thirds and the middle {tick}
          </DropdownMenu.CheckboxItem>
          <DropdownMenu.CheckboxItem
            className={ITEM}
            checked={choice.safeAreas}
            onSelect={keepOpen}
            onCheckedChange={(safeAreas) => setChoice({ ...choice, safeAreas })}
          >
            Safe areas, 93 and 90 % {tick}
          </DropdownMenu.CheckboxItem>
          <DropdownMenu.Separator className="my-1 h-px bg-rule" />
          <DropdownMenu.RadioGroup
            aria-label="Ratio"
            value={String(choice.ratio)}
            onValueChange={(value) => setChoice({ ...choice, ratio: value === 'null' ? null : Number(value) })}
          >
            {[{ ratio: null, text: 'The whole frame' }, ...RATIOS].map(({ ratio, text }) => (
              <DropdownMenu.RadioItem key={text} value={String(ratio)} className={ITEM} onSelect={keepOpen}>
                {text} {tick}
              </DropdownMenu.RadioItem>
            ))}
          </DropdownMenu.RadioGroup>
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}
