'use client';
import { ArrowDown, ArrowUp, Eye, EyeOff, Plus } from 'lucide-react';
import { moveLayer, setLayer } from '../../core/film/edits/layers';
import { withValueAt } from '../../core/motion/key-edits';
import { MATTE_KINDS, type MatteKind } from '../../core/film/edits/mattes';
import type { Film, Matte, Media } from '../../core/film/film';
import { sideOf, type Combining, type Layer, type ShotSide } from '../../core/film/composition';
import { nearestPictured, type PlacedJoin } from '../../core/film/timing';
import { channelAt } from '../../core/motion/curve';
import { planShot } from '../../core/plan/plan-frame';
import { DropdownMenu } from 'radix-ui';
import { IconButton } from '../parts/button';
import { SliderRow } from '../parts/number-field';
import { useFilm, useTools } from '../store/film-context';
import { Thumb } from '../weave/thumb';

/** A keyed channel gets a key on the frame that is looked at; a constant one stays constant. */
const opacityName = ({ name, opacity }: Layer, frame: number): string =>
  typeof opacity === 'number' ? `Opacity of ${name}` : `Opacity of ${name}, keyframe at ${frame}`;

const SIGN: Record<Combining, string> = { intersect: 'and ', add: 'plus ', subtract: 'minus ' };

/** The join's layers, front to back, and the mattes of both shots. */
export function LayersPanel({
  placed,
  frame,
  selectedId,
  onSelect,
  matteId,
  onSelectMatte,
  onAddMatte,
}: {
  readonly placed: PlacedJoin;
  readonly frame: number;
  readonly selectedId: string | null;
  readonly onSelect: (id: string) => void;
  readonly matteId: string | null;
  readonly onSelectMatte: (id: string) => void;
  readonly onAddMatte: (kind: MatteKind, side: ShotSide) => void;
}) {
  const { store } = useTools();
  const { film, media } = useFilm();
  const { join } = placed;
  const mattes = film.mattes.filter((m) => m.mediumId === placed.leaving.mediumId || m.mediumId === placed.entering.mediumId);
  const describe = (layer: Layer): string => {
    const uses = layer.mattes.map((u, i) => `${i === 0 ? '' : SIGN[u.combine ?? 'intersect']}${u.side}`);
    return `${layer.source.kind} · ${uses.length === 0 ? 'whole' : uses.join(' ')}`;
  };
  return (
    <div className="flex h-full flex-col overflow-y-auto">
      <h2 className="px-3.5 pt-2.5 pb-1.5 font-semibold text-soft">Layers, front to back</h2>
      <ul>
        {join.layers.map((layer, i) => (
          <li
            key={layer.id}
            className={`border-l-[3px] ${sideOf(layer) === 'leaving' ? 'border-leaving' : 'border-entering'} ${layer.id === selectedId ? 'bg-sheet' : ''}`}
          >
            <div className="flex items-center gap-2.5 py-2 pr-2 pl-3.5">
              <button
                type="button"
                className={`flex min-w-0 grow items-center gap-2.5 text-left ${layer.visible ? '' : 'opacity-45'}`}
                aria-pressed={layer.id === selectedId}
                onClick={() => onSelect(layer.id)}
              >
                <LayerPicture film={film} media={media} placed={placed} source={sideOf(layer) ?? 'leaving'} frame={frame} />
                <span className="min-w-0">
                  <span className="block truncate font-semibold">{layer.name}</span>
                  <span className="block truncate text-[11.5px] text-soft">{describe(layer)}</span>
                </span>
              </button>
              <IconButton
                label={layer.visible ? `Hide ${layer.name}` : `Show ${layer.name}`}
                onClick={() =>
                  store.edit(layer.visible ? `Hid ${layer.name}` : `Showed ${layer.name}`, (d) =>
                    setLayer(d, join.id, layer.id, { visible: !layer.visible }),
                  )
                }
              >
                {layer.visible ? <Eye size={14} /> : <EyeOff size={14} />}
              </IconButton>
            </div>
            {layer.id === selectedId && (
              <div className="flex items-center gap-1 pr-2 pb-2 pl-3.5">
                <div className="min-w-0 grow [&_span:first-child]:w-auto">
                  <SliderRow
                    label="Opacity"
                    unit="%"
                    min={0}
                    max={100}
                    value={Math.round(100 * channelAt(layer.opacity, frame - placed.cut, 1))}
                    onCommit={(v) =>
                      store.edit(opacityName(layer, frame), (d) =>
                        setLayer(d, join.id, layer.id, { opacity: withValueAt(layer.opacity, frame - placed.cut, v / 100) }),
                      )
                    }
                  />
                </div>
              </div>
            )}
            {layer.id === selectedId && join.layers.length > 1 && (
              <div className="flex gap-1 pr-2 pb-2 pl-3">
                <IconButton
                  label={`Bring ${layer.name} forward`}
                  disabled={i === 0}
                  onClick={() => store.edit(`Moved ${layer.name} forward`, (d) => moveLayer(d, join.id, layer.id, i - 1))}
                >
                  <ArrowUp size={14} />
                </IconButton>
                <IconButton
                  label={`Send ${layer.name} back`}
                  disabled={i === join.layers.length - 1}
                  onClick={() => store.edit(`Moved ${layer.name} back`, (d) => moveLayer(d, join.id, layer.id, i + 1))}
                >
                  <ArrowDown size={14} />
                </IconButton>
              </div>
            )}
          </li>
        ))}
      </ul>
      <div className="flex items-center justify-between pt-3 pr-2 pl-3.5">
        <h2 className="font-semibold text-soft">Mattes of these shots</h2>
        <DropdownMenu.Root>
          <DropdownMenu.Trigger asChild>
            <IconButton label="Add a matte">
              <Plus size={14} />
            </IconButton>
          </DropdownMenu.Trigger>
          <DropdownMenu.Portal>
            <DropdownMenu.Content align="end" className="z-50 rounded-md border border-rule bg-sheet p-1 shadow-sm">
              {(['leaving', 'entering'] as const).flatMap((side) =>
                MATTE_KINDS.map((kind) => (
                  <DropdownMenu.Item
                    key={`${side} ${kind}`}
                    className="cursor-pointer rounded-[4px] px-2.5 py-1 outline-none data-[highlighted]:bg-pressed"
                    onSelect={() => onAddMatte(kind, side)}
                  >
                    {KIND_TEXT[kind]} on {placed[side].name}
                  </DropdownMenu.Item>
                )),
              )}
            </DropdownMenu.Content>
          </DropdownMenu.Portal>
        </DropdownMenu.Root>
      </div>
      {mattes.length === 0 && <p className="px-3.5 py-1.5 text-soft">None yet. Add one with +, or make the join a wipe past in Pair.</p>}
      <ul>
        {mattes.map((matte) => (
          <li key={matte.id} className={matte.id === matteId ? 'bg-sheet' : ''}>
            <button
              type="button"
              aria-pressed={matte.id === matteId}
              className="block w-full px-3.5 py-1.5 text-left"
              onClick={() => onSelectMatte(matte.id)}
            >
              <span className="block truncate font-semibold" data-matte-id={matte.id === matteId ? matte.id : undefined}>
                {matte.name}
              </span>
              <span className="block text-[11.5px] text-soft">{kindOf(matte)}</span>
            </button>
          </li>
        ))}
      </ul>
    </div>
  );
}

const KIND_TEXT: Record<MatteKind, string> = {
  strokes: 'Strokes',
  outline: 'Outline',
  'colour key': 'Colour key',
  'brightness key': 'Brightness key',
};

function kindOf({ painted, outline, trackId, key, frameEdits = [] }: Matte): string {
  if (key !== undefined) return `${key.kind} key`;
  if (painted?.length === 0) return frameEdits.length > 0 ? 'frames brought in' : 'strokes · nothing painted yet';
  if (painted !== undefined) return `strokes · ${painted.length} ${painted.length === 1 ? 'frame' : 'frames'} painted`;
  if (!outline.closed) return 'outline · not closed yet';
  const keys = `${outline.keys.length} ${outline.keys.length === 1 ? 'keyframe' : 'keyframes'}`;
  return `outline · ${trackId === undefined ? keys : `${keys}, on a track`}`;
}

/** What a layer's shot shows now or, dimmed, on the nearest frame on which it has a picture. */
function LayerPicture({
  film,
  media,
  placed,
  source,
  frame,
}: {
  readonly film: Film;
  readonly media: Media;
  readonly placed: PlacedJoin;
  readonly source: ShotSide;
  readonly frame: number;
}) {
  const size = { width: 44, height: 25 };
  const near = nearestPictured(film, media, placed, source, frame);
  if (near === null) return <span className="hatched shrink-0 border border-rule" style={size} title="its medium is not ready" />;
  const plan = planShot(film, media, placed, source, near);
  return <Thumb drawing={{ kind: 'picture', plan }} {...size} className={`shrink-0 bg-well ${near === frame ? '' : 'opacity-50'}`} />;
}
