'use client';
import { planFrame } from '../../core/plan/plan-film';
import { Stage } from '../stage/stage';
import { FramingOverlay } from './framing-overlay';
import type { ReelWork } from './use-reel-work';

/** The picture under the playhead, with handles on the selected shot where it has a framing of its own. */
export function ReelStage({ work }: { readonly work: ReelWork }) {
  const { film, media, shown, frame, length, drawingAt, selected, medium, preview } = work;
  const framing = typeof selected?.framing === 'object' ? selected.framing : null;
  const isEmpty = length === 0;
  const missing = isEmpty ? [] : planFrame(film, media, frame).missing;
  return (
    <Stage
      filmWidth={film.width}
      filmHeight={film.height}
      drawing={isEmpty ? null : drawingAt(frame)}
      caption={isEmpty ? 'empty film' : `film, frame ${frame}`}
      {...(selected !== null && medium !== undefined && framing !== null
        ? {
            overlay: (toStage, size) => (
              <FramingOverlay
                film={shown}
                shot={selected}
                medium={medium}
                own={framing}
                toStage={toStage}
                size={size}
                onPreview={preview}
              />
            ),
          }
        : {})}
      footer={
        missing.length > 0 ? (
          <span className="text-[#ffb4a8]">{missing[0]!.shotName} has no picture here</span>
        ) : (
          <span className="font-mono whitespace-nowrap">
            {film.width} × {film.height}
          </span>
        )
      }
    />
  );
}
