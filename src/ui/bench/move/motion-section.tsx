'use client';
import { Link2, Link2Off } from 'lucide-react';
import type { Layer } from '../../../core/film/composition';
import { setCamera, setLayer, setMotion, setRidesOn, wouldCircle, type MoverRef } from '../../../core/film/edits/layers';
import type { Join } from '../../../core/film/film';
import { changeLane, laneChannel, laneFacts, moverName, type LaneTarget } from '../../../core/lanes/lanes';
import type { PlacedJoin } from '../../../core/film/timing';
import { channelAt } from '../../../core/motion/curve';
import { keysOf, toggleKeyAt, withKeyAt, withValueAt } from '../../../core/motion/key-edits';
import { CAMERA_CHANNELS, type Motion, type MotionChannel } from '../../../core/motion/motion';
import { IconButton } from '../../parts/button';
import { NumberField, NumberRow } from '../../parts/number-field';
import { Section } from '../../parts/section';
import { SelectRow } from '../../parts/select-row';
import { useFilm, useTools } from '../../store/film-context';
import type { PreviewChange } from '../../store/preview';
import { TimeRows } from '../../shots/time-rows';

interface MotionProps {
  readonly placed: PlacedJoin;
  readonly frame: number;
  readonly of: MoverRef;
  readonly onPreview: (change: PreviewChange) => void;
}

const SHOWN: readonly MotionChannel[] = ['scale', 'x', 'y', 'turn', 'stretch', 'depth', 'tiltX', 'tiltY', 'pivotX', 'pivotY'];

/** Every number of what is selected, with a pip that says whether it is keyed, and what it rides on. */
export function MotionSection({ placed, frame, of, onPreview }: MotionProps) {
  const { store } = useTools();
  const { join } = placed;
  const name = moverName(join, of);
  const layer = of.kind === 'layer' ? (join.layers.find((l) => l.id === of.id) ?? null) : null;
  const motion = layer?.motion ?? (of.kind === 'carrier' ? join.carriers.find((c) => c.id === of.id)?.motion : undefined);
  const channels = of.kind === 'camera' ? SHOWN.filter((c) => (CAMERA_CHANNELS as readonly string[]).includes(c)) : SHOWN;
  const title = of.kind === 'layer' ? name : of.kind === 'carrier' ? `${name}, the carrier` : 'Camera';
  return (
    <Section title={title} name="Motion">
      <RidesRow join={join} of={of} />
      {of.kind === 'camera' && join.camera !== undefined && (
        <NumberRow
          label="Focal length"
          unit="mm"
          min={1}
          max={5000}
          value={join.camera.focalMm}
          onPreview={(focalMm) => onPreview((d) => setCamera(d, join.id, { focalMm }))}
          onCommit={(focalMm) => store.edit('Focal length of the camera', (d) => setCamera(d, join.id, { focalMm }))}
        />
      )}
      {channels.map((channel) => (
        <ChannelRow key={channel} placed={placed} frame={frame} target={{ kind: 'motion', ref: of, channel }} onPreview={onPreview} />
      ))}
      {motion !== undefined && <FlipAndPivot placed={placed} of={of} motion={motion} layer={layer} />}
      {layer !== null && (layer.source.kind === 'leaving' || layer.source.kind === 'entering' || layer.source.kind === 'medium') && (
        <TimeRows
          time={layer.time}
          first={-join.before}
          last={join.after - 1}
          onChange={(title, time) => store.edit(`${title} of ${layer.name}`, (d) => setLayer(d, join.id, layer.id, { time }))}
        />
      )}
    </Section>
  );
}

function RidesRow({ join, of }: { readonly join: Join; readonly of: MoverRef }) {
  const { store } = useTools();
  const rider =
    of.kind === 'layer'
      ? join.layers.find((l) => l.id === of.id)
      : of.kind === 'carrier'
        ? join.carriers.find((c) => c.id === of.id)
        : join.camera;
  const carriers = join.carriers.filter((c) => of.kind !== 'carrier' || !wouldCircle(join, of.id, c.id));
  if (carriers.length === 0) return null;
  return (
    <SelectRow
      label="Rides on"
      value={rider?.ridesOn ?? ''}
      options={[{ value: '', text: 'nothing' }, ...carriers.map((c) => ({ value: c.id, text: c.name }))]}
      onChange={(id) =>
        store.edit(id === '' ? `${moverName(join, of)} rides on nothing` : `${moverName(join, of)} rides on a carrier`, (d) =>
          setRidesOn(d, join.id, of, id === '' ? null : id),
        )
      }
    />
  );
}

function FlipAndPivot({
  placed,
  of,
  motion,
  layer,
}: {
  readonly placed: PlacedJoin;
  readonly of: MoverRef;
  readonly motion: Motion;
  readonly layer: Layer | null;
}) {
  const { store } = useTools();
  const { film } = useFilm('film');
  const { join } = placed;
  const mediumId =
    layer?.source.kind === 'medium'
      ? layer.source.mediumId
      : layer === null
        ? null
        : placed[layer.source.kind === 'entering' ? 'entering' : 'leaving'].mediumId;
  const tracks = (film.tracks ?? []).filter((t) => t.mediumId === mediumId);
  const isApart = motion.apart === true;
  const set = (name: string, change: Partial<Motion>): void =>
    store.edit(`${name} of ${moverName(join, of)}`, (d) => setMotion(d, join.id, of, change));
  return (
    <>
      {join.before + join.after > 0 || layer?.span !== undefined ? (
        <SelectRow
          label="Flip"
          value={motion.flip ?? 'none'}
          options={(['none', 'across', 'down', 'both'] as const).map((v) => ({ value: v, text: v }))}
          onChange={(v) => set('Flip', { flip: v === 'none' ? undefined : v })}
        />
      ) : (
        <p className="text-soft">A plain cut shows no layers. Give it an overlap in Pair, or flip the shot itself on the reel.</p>
      )}
      {tracks.length > 0 && (
        <SelectRow
          label="Pivot rides on"
          value={motion.pivotTrackId ?? ''}
          options={[{ value: '', text: 'nothing' }, ...tracks.map((t) => ({ value: t.id, text: t.name }))]}
          onChange={(id) => set('Pivot', { pivotTrackId: id === '' ? undefined : id })}
        />
      )}
      <div className="flex items-center justify-between gap-2">
        <span>x and y {isApart ? 'apart' : 'together'}</span>
        <IconButton
          label={isApart ? 'Keyframes of x and y together' : 'Keyframes of x and y apart'}
          onClick={() => set(isApart ? 'x and y together' : 'x and y apart', { apart: isApart ? undefined : true })}
        >
          {isApart ? <Link2Off size={14} /> : <Link2 size={14} />}
        </IconButton>
      </div>
    </>
  );
}

/** A pip is empty for a constant, full for a keyed channel, and has a dot in it where a key is on this frame. */
export function KeyPip({
  keyed,
  here,
  label,
  onClick,
}: {
  readonly keyed: boolean;
  readonly here: boolean;
  readonly label: string;
  readonly onClick: () => void;
}) {
  return (
    <button
      type="button"
      aria-label={label}
      title={label}
      aria-pressed={here}
      className="inline-flex size-5 shrink-0 items-center justify-center rounded hover:bg-pressed"
      onClick={onClick}
    >
      <span
        className={`flex size-[9px] items-center justify-center rounded-full border-[1.5px] border-ink ${keyed && !here ? 'bg-ink' : ''}`}
      >
        {here && <span className="block size-[4px] rounded-full bg-ink" />}
      </span>
    </button>
  );
}

/** One channel as a number at the playhead: typing sets a constant, or a key here where it is keyed. */
export function ChannelRow({
  placed,
  frame,
  target,
  onPreview,
  label,
}: {
  readonly placed: PlacedJoin;
  readonly frame: number;
  readonly target: LaneTarget;
  readonly onPreview: (change: PreviewChange) => void;
  /** What the row says; the channel's own name unless said. */
  readonly label?: string;
}) {
  const { store } = useTools();
  const { film } = useFilm('film');
  const { join } = placed;
  const channel = laneChannel(film, join.id, target);
  const facts = laneFacts(film, join.id, target);
  if (channel === null || facts === null) return null;
  const time = frame - facts.origin;
  const value = channelAt(channel, time, 0, facts.spacing);
  const keys = keysOf(channel);
  const here = keys.some((k) => k.frame === time);
  const set =
    (v: number): PreviewChange =>
    (d) =>
      changeLane(d, join.id, target, (now) => withValueAt(now, time, v / facts.factor));
  const what = `${facts.name} of ${facts.owner}`;
  const partner = partnerOf(join, target);
  const toggle = (): void =>
    store.edit(here ? `Deleted the keyframe of ${what} at ${frame}` : `Keyframe of ${what} at ${frame}`, (d) => {
      changeLane(d, join.id, target, (now) => toggleKeyAt(now, time, facts.spacing));
      // kept together, one is keyed where the other is
      if (partner !== null && !here)
        changeLane(d, join.id, partner, (now) =>
          keysOf(now).some((k) => k.frame === time) ? now : withKeyAt(now, time, channelAt(now, time)),
        );
    });
  return (
    <div className="flex items-center gap-1.5">
      <KeyPip
        keyed={keys.length > 0}
        here={here}
        label={here ? `Delete the keyframe of ${facts.name}` : `Add a keyframe of ${facts.name}`}
        onClick={toggle}
      />
      <span className="min-w-0 grow truncate" aria-hidden>
        {label ?? facts.name}
      </span>
      <NumberField
        label={facts.name}
        unit={facts.unit}
        min={facts.min * facts.factor}
        max={facts.max * facts.factor}
        step={facts.step}
        value={value * facts.factor}
        onPreview={(v) => onPreview(set(v))}
        onCommit={(v) => store.edit(keys.length > 0 ? `${what} at ${frame}` : what, set(v))}
      />
    </div>
  );
}

/** y of x and x of y, unless they are keyed apart. */
function partnerOf(join: Join, target: LaneTarget): LaneTarget | null {
  if (target.kind !== 'motion' || (target.channel !== 'x' && target.channel !== 'y')) return null;
  const { ref } = target;
  const mover =
    ref.kind === 'layer'
      ? join.layers.find((l) => l.id === ref.id)
      : ref.kind === 'carrier'
        ? join.carriers.find((c) => c.id === ref.id)
        : undefined;
  return mover?.motion.apart === true ? null : { ...target, channel: target.channel === 'x' ? 'y' : 'x' };
}
