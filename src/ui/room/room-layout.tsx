'use client';
import { useEffect, type ReactNode } from 'react';
import { Group, Panel, Separator, usePanelRef, type PanelSize } from 'react-resizable-panels';
import { usePreference } from '../store/preferences';
import { Boundary } from '../parts/boundary';

interface RoomLayoutProps {
  /** Keeps the pane sizes of this room apart from the other's. */
  readonly name: string;
  readonly top: ReactNode;
  readonly leftLabel: string;
  readonly left: ReactNode;
  readonly stage: ReactNode;
  readonly rightLabel: string;
  readonly right: ReactNode;
  readonly barLeft: ReactNode;
  readonly bar: ReactNode;
  readonly barRight: ReactNode;
  readonly bottomLabel: string;
  readonly bottom: ReactNode;
  /** What the bottom pane holds now, and its height for that at first; each is remembered apart. */
  readonly bottomHolds: string;
  readonly bottomHeight: number;
}

/** Height of the strip under the panes, in CSS pixels. */
const BAR = 'grid h-[34px] shrink-0 border-y border-rule bg-sheet';

/** Whether a divider is being dragged or has the keyboard: a pane that is sized with the window, or for what it holds, is not what the user chose. */
const isByHand = (): boolean => document.querySelector('[data-separator=active], [data-separator]:focus') !== null;

/** The size of a pane in pixels, remembered when it is changed by hand. */
function usePane(name: string, fallback: number) {
  const [size, store] = usePreference(`pane:${name}`, fallback);
  return {
    size,
    resized: ({ inPixels }: PanelSize): void => {
      if (Math.round(inPixels) !== size && isByHand()) store(Math.round(inPixels));
    },
  };
}

/** What is in a pane scrolls on its own. */
const CUT = { overflow: 'hidden' } as const;

const divider = 'z-30 bg-transparent outline-offset-0 hover:bg-seam/40 data-[separator=active]:bg-seam/40';

/** Ways past what comes first, shown while they have the focus. */
function SkipLinks({ rightLabel, bottomLabel }: { readonly rightLabel: string; readonly bottomLabel: string }) {
  const links = [
    ['panel', rightLabel],
    ['stage', 'Stage'],
    ['bottom', bottomLabel],
  ] as const;
  return (
    <nav aria-label="Skip to" className="absolute top-1 left-1 z-50 flex gap-1">
      {links.map(([id, name]) => (
        <a
          key={id}
          href={`#${id}`}
          className="sr-only rounded border border-ink bg-sheet px-2.5 py-1 focus:not-sr-only"
          onClick={(event) => {
            event.preventDefault();
            document.getElementById(id)?.focus();
          }}
        >
          Skip to {name}
        </a>
      ))}
    </nav>
  );
}

/** The frame both rooms share: panes around the stage, the transport under it, the frames along the bottom. Panes resize and remember. */
export function RoomLayout(props: RoomLayoutProps) {
  const { name, top, left, stage, right, barLeft, bar, barRight, bottom, bottomHolds, bottomHeight } = props;
  const bottomRef = usePanelRef();
  const leftPane = usePane(`${name}-left`, 212);
  const rightPane = usePane(`${name}-right`, 268);
  const bottomPane = usePane(`${name}-${bottomHolds}`, bottomHeight);
  useEffect(() => bottomRef.current?.resize(bottomPane.size), [bottomRef, bottomPane.size]);
  return (
    <div className="flex h-screen flex-col">
      <SkipLinks bottomLabel={props.bottomLabel} rightLabel={props.rightLabel} />
      {top}
      <main className="min-h-0 grow">
        <Group orientation="vertical">
          <Panel style={CUT} minSize={200}>
            <Group className="h-full">
              <Panel
                style={CUT}
                onResize={leftPane.resized}
                defaultSize={leftPane.size}
                minSize={160}
                maxSize={420}
                groupResizeBehavior="preserve-pixel-size"
              >
                <section aria-label={props.leftLabel} className="flex h-full flex-col">
                  <div className="min-h-0 grow">
                    <Boundary name={props.leftLabel}>{left}</Boundary>
                  </div>
                  <div className={BAR}>{barLeft}</div>
                </section>
              </Panel>
              <Separator aria-label="Width of the left pane" className={`-mx-[3px] w-[6px] ${divider}`} />
              <Panel style={CUT} minSize={300}>
                <div className="flex h-full flex-col">
                  <div id="stage" tabIndex={-1} className="min-h-0 grow outline-none">
                    <Boundary name="The stage">{stage}</Boundary>
                  </div>
                  <section aria-label="Transport" className={BAR}>
                    <Boundary name="The transport">{bar}</Boundary>
                  </section>
                </div>
              </Panel>
              <Separator aria-label="Width of the right pane" className={`-mx-[3px] w-[6px] ${divider}`} />
              <Panel
                style={CUT}
                onResize={rightPane.resized}
                defaultSize={rightPane.size}
                minSize={220}
                maxSize={480}
                groupResizeBehavior="preserve-pixel-size"
              >
                <section aria-label={props.rightLabel} className="flex h-full flex-col">
                  <div id="panel" tabIndex={-1} className="min-h-0 grow overflow-y-auto border-l border-rule bg-sheet/60 outline-none">
                    <Boundary name={props.rightLabel} of={props.rightLabel}>
                      {right}
                    </Boundary>
                  </div>
                  <div className={BAR}>{barRight}</div>
                </section>
              </Panel>
            </Group>
          </Panel>
          <Separator aria-label="Height of the bottom pane" className={`-my-[3px] h-[6px] ${divider}`} />
          <Panel
            style={CUT}
            panelRef={bottomRef}
            onResize={bottomPane.resized}
            defaultSize={bottomPane.size}
            minSize={96}
            maxSize={620}
            groupResizeBehavior="preserve-pixel-size"
          >
            <section id="bottom" tabIndex={-1} aria-label={props.bottomLabel} className="h-full outline-none">
              <Boundary name={props.bottomLabel}>{bottom}</Boundary>
            </section>
          </Panel>
        </Group>
      </main>
    </div>
  );
}
