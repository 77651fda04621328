'use client';
import {
  DndContext,
  KeyboardSensor,
  PointerSensor,
  closestCenter,
  pointerWithin,
  useDroppable,
  useSensor,
  useSensors,
  type CollisionDetection,
  type DragEndEvent,
} from '@dnd-kit/core';
import { SortableContext, sortableKeyboardCoordinates, useSortable, verticalListSortingStrategy } from '@dnd-kit/sortable';
import { Copy, CopyPlus, Eye, EyeOff, Focus, Move3d, Trash2, Video } from 'lucide-react';
import type { ReactNode } from 'react';
import { sideOf, type Layer, type ShotSide } from '../../../core/film/composition';
import {
  duplicateLayer,
  moveLayer,
  removeCarrier,
  removeLayer,
  setCamera,
  setLayer,
  setRidesOn,
  wouldCircle,
  type MoverRef,
} from '../../../core/film/edits/layers';
import type { MatteKind } from '../../../core/film/edits/mattes';
import { mediumOf, nearestPictured, type PlacedJoin } from '../../../core/film/timing';
import { planLayerAlone } from '../../../core/plan/stage-plans';
import { planShot } from '../../../core/plan/plan-shot';
import { IconButton } from '../../parts/button';
import { useOneStop } from '../../parts/one-stop';
import { useFilm, useTools } from '../../store/film-context';
import { useStandingFrame } from '../../store/live-frame';
import { Thumb } from '../../weave/thumb';
import { isSame, select, showOnly, useBench, useCopiedLayer } from '../../store/bench-state';
import { AddLayerMenu } from './add-layer-menu';
import { cameraText, carrierText, layerText } from './layer-text';
import { MattesList } from './mattes-list';
import { newId } from '../../store/new-id';

interface LayersPanelProps {
  readonly placed: PlacedJoin;
  readonly frame: number;
  readonly matteId: string | null;
  readonly onSelectMatte: (id: string) => void;
  readonly onAddMatte: (kind: MatteKind, side: ShotSide) => void;
}

const SIDE_LINE = { leaving: 'border-leaving', entering: 'border-entering', none: 'border-soft/40' } as const;

/** A carrier under the pointer takes what is dropped; otherwise the nearest layer says the place. */
const overCarrierOrNearest: CollisionDetection = (args) => {
  const carriers = pointerWithin(args).filter((c) => String(c.id).startsWith('carrier:'));
  return carriers.length > 0 ? carriers : closestCenter(args);
};

/** The join's layers front to back, its carriers and camera, and the mattes of both shots. Layers are dragged to order, and onto a carrier to ride on it. */
export function LayersPanel({ placed, frame, matteId, onSelectMatte, onAddMatte }: LayersPanelProps) {
  const { store } = useTools();
  const { join } = placed;
  const stack = useOneStop<HTMLUListElement>();
  const movers = useOneStop<HTMLUListElement>();
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 5 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );
  const onDragEnd = ({ active, over }: DragEndEvent): void => {
    const layer = join.layers.find((l) => l.id === active.id);
    const carrier = join.carriers.find((c) => `carrier:${c.id}` === active.id);
    if (over === null) return;
    const target = join.carriers.find((c) => `carrier:${c.id}` === over.id);
    if (target !== undefined && layer !== undefined)
      store.edit(`${layer.name} rides on ${target.name}`, (d) => setRidesOn(d, join.id, { kind: 'layer', id: layer.id }, target.id));
    else if (target !== undefined && carrier !== undefined && !wouldCircle(join, carrier.id, target.id))
      store.edit(`${carrier.name} rides on ${target.name}`, (d) => setRidesOn(d, join.id, { kind: 'carrier', id: carrier.id }, target.id));
    else if (layer !== undefined && over.id !== active.id) {
      const to = join.layers.findIndex((l) => l.id === over.id);
      if (to >= 0) store.edit(`Moved ${layer.name} in the stack`, (d) => moveLayer(d, join.id, layer.id, to));
    }
  };
  return (
    <div className="flex h-full flex-col overflow-y-auto">
      <div className="flex items-center justify-between pt-2 pr-2 pb-1 pl-3.5">
        <h2 className="font-semibold text-soft">Layers, front to back</h2>
        <AddLayerMenu placed={placed} frame={frame} />
      </div>
      <DndContext sensors={sensors} collisionDetection={overCarrierOrNearest} onDragEnd={onDragEnd}>
        <SortableContext items={join.layers.map((l) => l.id)} strategy={verticalListSortingStrategy}>
          <ul {...stack}>
            {join.layers.map((layer) => (
              <LayerRow key={layer.id} layer={layer} placed={placed} frame={frame} />
            ))}
          </ul>
        </SortableContext>
        {(join.carriers.length > 0 || join.camera !== undefined) && (
          <>
            <h2 className="px-3.5 pt-3 pb-1 font-semibold text-soft">Carriers and camera</h2>
            <ul {...movers}>
              {join.carriers.map((carrier) => (
                <Droppable key={carrier.id} id={`carrier:${carrier.id}`}>
                  <MoverRow
                    of={{ kind: 'carrier', id: carrier.id }}
                    name={carrier.name}
                    text={carrierText(join, carrier)}
                    icon={<Move3d size={14} className="text-seam" />}
                    onRemove={() => store.edit(`Removed ${carrier.name}`, (d) => removeCarrier(d, join.id, carrier.id))}
                  />
                </Droppable>
              ))}
              {join.camera !== undefined && (
                <li className="border-l-[3px] border-seam">
                  <MoverRow
                    of={{ kind: 'camera' }}
                    name="Camera"
                    text={cameraText(join)}
                    icon={<Video size={14} className="text-seam" />}
                    onRemove={() => store.edit('Removed the camera', (d) => setCamera(d, join.id, null))}
                  />
                </li>
              )}
            </ul>
          </>
        )}
      </DndContext>
      <MattesList placed={placed} matteId={matteId} onSelect={onSelectMatte} onAdd={onAddMatte} />
    </div>
  );
}

function Droppable({ id, children }: { readonly id: string; readonly children: ReactNode }) {
  const { setNodeRef, isOver } = useDroppable({ id });
  return (
    <li ref={setNodeRef} className={`border-l-[3px] border-seam ${isOver ? 'bg-pressed' : ''}`}>
      {children}
    </li>
  );
}

function LayerRow({ layer, placed, frame }: { readonly layer: Layer; readonly placed: PlacedJoin; readonly frame: number }) {
  const { store } = useTools();
  const { join } = placed;
  const isSelected = useBench((s) => isSame(s.selected, { kind: 'layer', id: layer.id }));
  const isOnly = useBench((s) => s.onlyId === layer.id);
  const { attributes, listeners, setNodeRef, transform, isDragging } = useSortable({ id: layer.id });
  const style = transform === null ? {} : { transform: `translate3d(0, ${transform.y}px, 0)` };
  return (
    <li
      ref={setNodeRef}
      style={style}
      className={`border-l-[3px] ${SIDE_LINE[sideOf(layer) ?? 'none']} ${isSelected ? 'bg-pressed' : ''} ${isDragging ? 'relative z-10 bg-sheet shadow-sm' : ''}`}
    >
      <div className="flex items-center gap-2 py-1.5 pr-1.5 pl-3">
        <button
          type="button"
          className={`flex min-w-0 grow cursor-grab items-center gap-2.5 text-left ${layer.visible ? '' : 'opacity-45'}`}
          {...attributes}
          {...listeners}
          role="button"
          aria-pressed={isSelected}
          onClick={() => select(isSelected ? null : { kind: 'layer', id: layer.id })}
        >
          <LayerPicture layer={layer} placed={placed} frame={frame} />
          <span className="min-w-0">
            <span className="block truncate font-semibold">{layer.name}</span>
            <span className="block text-[11.5px] leading-[15px] text-soft">{layerText(join, layer)}</span>
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
      {isSelected && (
        <div className="flex items-center gap-1 pr-2 pb-1.5 pl-3">
          <Rename
            key={layer.name}
            name={layer.name}
            onRename={(name) => store.edit(`Renamed ${layer.name} ${name}`, (d) => setLayer(d, join.id, layer.id, { name }))}
          />
          <IconButton
            label={`Show only ${layer.name}`}
            aria-pressed={isOnly}
            className={isOnly ? 'bg-ink text-sheet hover:bg-ink' : ''}
            onClick={() => showOnly(isOnly ? null : layer.id)}
          >
            <Focus size={14} />
          </IconButton>
          <IconButton label={`Copy ${layer.name}`} onClick={() => useCopiedLayer.setState({ layer })}>
            <Copy size={14} />
          </IconButton>
          <IconButton
            label={`Duplicate ${layer.name}`}
            onClick={() => store.edit(`Duplicated ${layer.name}`, (d) => duplicateLayer(d, join.id, layer.id, newId))}
          >
            <CopyPlus size={14} />
          </IconButton>
          <IconButton
            label={`Remove ${layer.name}`}
            disabled={join.layers.length < 2}
            onClick={() => {
              store.edit(`Removed ${layer.name}`, (d) => removeLayer(d, join.id, layer.id));
              select(null);
            }}
          >
            <Trash2 size={14} />
          </IconButton>
        </div>
      )}
    </li>
  );
}

/** A name that is typed over; Enter or leaving the field keeps it, Escape does not. */
export function Rename({ name, onRename }: { readonly name: string; readonly onRename: (name: string) => void }) {
  return (
    <input
      aria-label={`Name of ${name}`}
      defaultValue={name}
      maxLength={200}
      className="h-6 min-w-0 grow rounded-[4px] border border-rule bg-sheet px-1.5"
      onKeyDown={(e) => {
        if (e.key === 'Escape') e.currentTarget.value = name;
        if (e.key === 'Enter' || e.key === 'Escape') e.currentTarget.blur();
      }}
      onBlur={(e) => {
        const next = e.currentTarget.value.trim();
        if (next !== '' && next !== name) onRename(next);
        else e.currentTarget.value = name;
      }}
    />
  );
}

function MoverRow({
  of,
  name,
  text,
  icon,
  onRemove,
}: {
  readonly of: MoverRef;
  readonly name: string;
  readonly text: string;
  readonly icon: ReactNode;
  readonly onRemove: () => void;
}) {
  const isSelected = useBench((s) => isSame(s.selected, of));
  return (
    <div className={`flex items-center gap-2 py-1.5 pr-1.5 pl-3 ${isSelected ? 'bg-pressed' : ''}`}>
      <button
        type="button"
        aria-pressed={isSelected}
        className="flex min-w-0 grow items-center gap-2.5 text-left"
        onClick={() => select(isSelected ? null : of)}
      >
        {icon}
        <span className="min-w-0">
          <span className="block truncate font-semibold">{name}</span>
          <span className="block truncate text-[11.5px] text-soft">{text}</span>
        </span>
      </button>
      {isSelected && (
        <IconButton
          label={`Remove ${name}`}
          onClick={() => {
            onRemove();
            select(null);
          }}
        >
          <Trash2 size={14} />
        </IconButton>
      )}
    </div>
  );
}

/** What a layer shows now, before it is moved or cut out or, dimmed, what its shot shows on the nearest frame on which it has a picture. */
function LayerPicture({ layer, placed, frame: now }: { readonly layer: Layer; readonly placed: PlacedJoin; readonly frame: number }) {
  const frame = useStandingFrame(now);
  const { film, media } = useFilm('film', 'media');
  const size = { width: 44, height: 25 };
  const { source } = layer;
  if (source.kind === 'colour')
    return <span className="block shrink-0 border border-rule" style={{ ...size, background: `rgb(${source.colour.join(' ')})` }} />;
  if (source.kind === 'all beneath') return <span className="block shrink-0 border border-dashed border-soft" style={size} />;
  if (source.kind === 'leaving' || source.kind === 'entering') {
    const near = nearestPictured(film, media, placed, source.kind, frame);
    if (near === null || mediumOf(media, placed[source.kind]) === null)
      return <span className="hatched shrink-0 border border-rule" style={size} title="its media is not ready" />;
    const plan = planShot(film, media, placed, source.kind, near);
    return <Thumb drawing={{ kind: 'picture', plan }} {...size} className={`shrink-0 bg-well ${near === frame ? '' : 'opacity-50'}`} />;
  }
  const still: Layer = {
    id: layer.id,
    name: layer.name,
    source,
    visible: true,
    mattes: [],
    motion: layer.motion,
    edges: 'none',
    opacity: 1,
    blend: 'normal',
    blur: false,
    effects: [],
  };
  const plan = planLayerAlone(film, media, placed, still, frame);
  return <Thumb drawing={{ kind: 'picture', plan }} {...size} className="shrink-0 bg-well" />;
}
