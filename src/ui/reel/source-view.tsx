'use client';
import { X } from 'lucide-react';
import { addMediumSpan, removeMediumMarker, setMediumMarker } from '../../core/film/edits/marks';
import { lengthOfSpan } from '../../core/film/edits/spans';
import { framesText } from '../../core/film/timing';
import { clockText } from '../../core/format/clock';
import { toNumber } from '../../core/geometry/rational';
import { hint } from '../commands/commands';
import { useCommands } from '../commands/use-commands';
import { Button, IconButton } from '../parts/button';
import { playHandlers } from '../stage/playback';
import { Stage } from '../stage/stage';
import { Transport } from '../stage/transport';
import { useClock } from '../store/clock';
import { NameInput } from '../parts/name-input';
import { useFilm, useTools } from '../store/film-context';
import { markSpan } from '../store/reel-choice';
import type { SourceWork } from './use-source';
import { newId } from '../store/new-id';

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
          footer={
            <span className="font-mono">
              {[medium.reelName, medium.timecode].filter((t) => t != null).join(' · ') || `${medium.width} × ${medium.height}`}
            </span>
          }
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
  const [clock] = useClock(film.rate);
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
      <NamedSpans source={source} />
      <div className="flex flex-wrap items-center gap-1.5">
        <b className="truncate">{medium.name}</b>
        <span className="font-mono text-[11px] text-soft" data-testid="marked-span">
          {span.first} to {span.last}: {framesText(lengthOfSpan(film, medium, span))}
        </span>
        <span className="grow text-right text-soft">into the film at {clockText(film.rate, source.filmFrame, clock)}</span>
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

/** The spans of the medium that have a name: a click marks one again. */
function NamedSpans({ source }: { readonly source: SourceWork }) {
  const { store } = useTools();
  const { film } = useFilm('film');
  const { medium, span, goTo } = source;
  const perSecond = toNumber(medium.rate);
  const spans = (film.mediumMarkers ?? []).filter((m) => m.mediumId === medium.id && m.lasts !== undefined);
  const keep = (): void =>
    store.edit(
      `Named a span of ${medium.name}`,
      (d) => void addMediumSpan(d, medium.id, span.first / perSecond, (span.last + 1 - span.first) / perSecond, newId),
    );
  return (
    <div className="flex flex-wrap items-center gap-1.5 text-[11.5px]">
      {spans.map((m) => {
        const first = Math.round(m.seconds * perSecond);
        return (
          <span key={m.id} className="flex items-center rounded border border-rule" data-span={m.name}>
            <NameInput
              label={`Name of span ${m.name}`}
              value={m.name}
              className="h-5 w-24 border-0 bg-transparent"
              onDone={(name) => name !== m.name && store.edit(`Named a span ${name}`, (d) => setMediumMarker(d, m.id, { name }))}
            />
            <button
              type="button"
              className="px-1 underline"
              onClick={() => {
                markSpan(medium.id, { first, last: first + Math.round(m.lasts! * perSecond) - 1 });
                goTo(first);
              }}
            >
              mark
            </button>
            <IconButton
              label={`Delete span ${m.name}`}
              onClick={() => store.edit(`Deleted span ${m.name}`, (d) => removeMediumMarker(d, m.id))}
            >
              <X size={11} />
            </IconButton>
          </span>
        );
      })}
      {medium.kind === 'video' && (
        <button type="button" className="underline" onClick={keep}>
          Name this span
        </button>
      )}
    </div>
  );
}
