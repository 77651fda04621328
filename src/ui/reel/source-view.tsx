'use client';
import { X } from 'lucide-react';
import { lengthOfSpan } from '../../core/film/edits/spans';
import { framesText } from '../../core/film/timing';
import { hint } from '../commands/commands';
import { useCommands } from '../commands/use-commands';
import { Button, IconButton } from '../parts/button';
import { playHandlers } from '../stage/playback';
import { Stage } from '../stage/stage';
import { Transport } from '../stage/transport';
import { useFilm } from '../store/film-context';
import type { SourceWork } from './use-source';

/** A medium on the stage, to be looked through and marked before it is laid on the reel. */
export function SourceStage({ source }: { readonly source: SourceWork }) {
  const { medium, playback, step, goTo, span } = source;
  useCommands({
    ...playHandlers(playback),
    stepBack: () => step(-1),
    stepOn: () => step(1),
    tenBack: () => step(-10),
    tenOn: () => step(10),
    first: () => goTo(span.first),
    last: () => goTo(span.last),
    markIn: source.markIn,
    markOut: source.markOut,
    layInsert: () => source.lay('insert'),
    layOver: () => source.lay('over'),
    layAtEnd: () => source.lay('end'),
    chooseNoShot: source.close,
  });
  return (
    <div className="flex h-full flex-col">
      <div className="min-h-0 grow">
        <Stage
          filmWidth={medium.width}
          filmHeight={medium.height}
          drawing={source.drawingAt(source.frame)}
          caption={`media ${medium.name}, frame ${source.frame}`}
          footer={<span className="font-mono">{medium.timecode ?? `${medium.width} × ${medium.height}`}</span>}
        />
      </div>
      <Marks source={source} />
    </div>
  );
}

/** The transport of a medium that is looked at. */
export function SourceBar({ source }: { readonly source: SourceWork }) {
  const { medium, goTo } = source;
  return (
    <Transport
      film={source.film}
      frame={source.frame}
      length={medium.frames}
      onGoTo={goTo}
      playback={source.playback}
      framesPerSecond={source.framesPerSecond}
      onStep={source.step}
      onFirst={() => goTo(0)}
      onLast={() => goTo(medium.frames - 1)}
    />
  );
}

/** What is marked of the medium, and where it goes. */
function Marks({ source }: { readonly source: SourceWork }) {
  const { film } = useFilm('film');
  const { medium, span, frame } = source;
  const share = (at: number): string => `${(100 * at) / Math.max(1, medium.frames)}%`;
  return (
    <section aria-label={`Looking at ${medium.name}`} className="flex shrink-0 flex-col gap-1.5 border-t border-rule bg-sheet px-3 py-2">
      <div className="relative h-2 rounded bg-well" aria-hidden>
        <span
          className="absolute inset-y-0 bg-entering"
          style={{ left: share(span.first), right: `calc(100% - ${share(span.last + 1)})` }}
        />
        <span className="absolute -inset-y-0.5 w-px bg-ink" style={{ left: share(frame + 0.5) }} />
      </div>
      <div className="flex flex-wrap items-center gap-1.5">
        <b className="truncate">{medium.name}</b>
        <span className="font-mono text-[11px] text-soft" data-testid="marked-span">
          {span.first} to {span.last}: {framesText(lengthOfSpan(film, medium, span))}
        </span>
        <span className="grow" />
        <Button title={hint('markIn')} onClick={source.markIn}>
          Starts here
        </Button>
        <Button title={hint('markOut')} onClick={source.markOut}>
          Ends here
        </Button>
        <Button tone="ink" title={hint('layInsert')} onClick={() => source.lay('insert')}>
          Insert
        </Button>
        <Button title={hint('layOver')} onClick={() => source.lay('over')}>
          Lay over
        </Button>
        <Button title={hint('layAtEnd')} onClick={() => source.lay('end')}>
          At the end
        </Button>
        <IconButton label="Back to the film (Esc)" onClick={source.close}>
          <X size={14} />
        </IconButton>
      </div>
    </section>
  );
}
