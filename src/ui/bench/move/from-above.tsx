'use client';
import { useDrag } from '@use-gesture/react';
import { useState } from 'react';
import { setByDepth, setMotion, type MoverRef } from '../../../core/film/edits/layers';
import type { PlacedJoin } from '../../../core/film/timing';
import { channelAt } from '../../../core/motion/curve';
import { withValueAt } from '../../../core/motion/key-edits';
import { STILL_CAMERA, poseAt } from '../../../core/motion/motion';
import { eyeDistance } from '../../../core/motion/transform';
import { Section } from '../../parts/section';
import { SwitchRow } from '../../parts/select-row';
import { useFilm, useTools } from '../../store/film-context';
import { isSame, select, useBench } from '../../store/bench-state';

const [WIDTH, HEIGHT] = [236, 132];

/** The set seen from over it: layers as strokes in depth, the camera's field as a wedge; each is dragged nearer or further, and sideways. */
export function FromAbove({ placed, frame }: { readonly placed: PlacedJoin; readonly frame: number }) {
  const { store } = useTools();
  const { film } = useFilm('film');
  const selected = useBench((s) => s.selected);
  const [drag, setDrag] = useState<{ readonly of: MoverRef; readonly dx: number; readonly dz: number } | null>(null);
  const { join, cut } = placed;
  const time = frame - cut;
  const eye = eyeDistance(film.width, join.camera?.focalMm ?? STILL_CAMERA.focalMm);
  const camera = {
    x: 0,
    depth: 0,
    ...(join.camera === undefined ? {} : { x: channelAt(join.camera.x, time), depth: channelAt(join.camera.depth, time) }),
  };
  const layers = join.layers.map((l) => ({ layer: l, pose: poseAt(l.motion, time) }));
  const deepest = Math.max(0, ...layers.map((l) => l.pose.depth));
  const nearest = Math.min(-eye + camera.depth, ...layers.map((l) => l.pose.depth));
  // pixels of the drawing a film pixel; the eye at the bottom
  const scale = Math.min((HEIGHT - 22) / Math.max(1, deepest - nearest), (WIDTH * 0.62) / film.width);
  const toX = (x: number): number => WIDTH / 2 + x * scale;
  const toY = (z: number): number => 11 + (deepest - z) * scale;
  const moved = (of: MoverRef): { dx: number; dz: number } => (drag !== null && isSame(drag.of, of) ? drag : { dx: 0, dz: 0 });
  const bind = useDrag<PointerEvent>(
    ({ args: [of], movement: [mx, my], last, tap }) => {
      const ref = of as MoverRef;
      if (tap) return select(ref);
      const [dx, dz] = [mx / scale, -my / scale];
      if (!last) return setDrag({ of: ref, dx, dz });
      setDrag(null);
      const motion = ref.kind === 'camera' ? join.camera : join.layers.find((l) => l.id === ref.id)?.motion;
      if (motion === undefined) return;
      const at = (channel: 'x' | 'depth', by: number) =>
        withValueAt(motion[channel], time, Math.round(channelAt(motion[channel], time) + by));
      store.edit('Moved from above', (d) => setMotion(d, join.id, ref, { x: at('x', dx), depth: at('depth', dz) }));
    },
    { filterTaps: true },
  );
  const eyeX = toX(camera.x + moved({ kind: 'camera' }).dx);
  const eyeY = toY(camera.depth - eye + moved({ kind: 'camera' }).dz);
  const field = (z: number): number => ((film.width / 2) * (z - camera.depth + eye)) / eye;
  return (
    <Section title="From above">
      <svg width={WIDTH} height={HEIGHT} role="group" aria-label="The set from above" className="rounded-[4px] border border-rule bg-sheet">
        <path
          d={`M${eyeX} ${eyeY}L${toX(camera.x - field(deepest + 40 / scale))} ${toY(deepest) - 40}H${toX(camera.x + field(deepest + 40 / scale))}Z`}
          className="fill-seam/10 stroke-seam/60"
        />
        {layers.map(({ layer, pose }) => {
          const of: MoverRef = { kind: 'layer', id: layer.id };
          const by = moved(of);
          const half = (film.width / 2) * Math.abs(pose.scale * pose.stretch) * Math.cos((pose.tiltY * Math.PI) / 180);
          const rise = (film.width / 2) * pose.scale * Math.sin((pose.tiltY * Math.PI) / 180);
          const [x, z] = [pose.x + by.dx, pose.depth + by.dz];
          const isLeaving = layer.source.kind === 'leaving' || (layer.source.kind === 'held' && layer.source.side === 'leaving');
          const isChosen = isSame(selected, of);
          return (
            <g key={layer.id} {...bind(of)} className="cursor-move touch-none" role="button" aria-label={`${layer.name} from above`}>
              <line x1={toX(x - half)} y1={toY(z + rise)} x2={toX(x + half)} y2={toY(z - rise)} strokeWidth={12} stroke="transparent" />
              <line
                x1={toX(x - half)}
                y1={toY(z + rise)}
                x2={toX(x + half)}
                y2={toY(z - rise)}
                strokeWidth={isChosen ? 4 : 2.5}
                className={isLeaving ? 'stroke-leaving' : 'stroke-entering'}
              />
            </g>
          );
        })}
        {join.camera !== undefined && (
          <circle
            {...bind({ kind: 'camera' })}
            cx={eyeX}
            cy={eyeY}
            r={6}
            className="cursor-move touch-none fill-seam"
            role="button"
            aria-label="Camera from above"
          />
        )}
      </svg>
      <SwitchRow
        label="Draw by depth"
        value={join.byDepth === true}
        onChange={(v) => store.edit(v ? 'Layers are drawn by depth' : 'Layers are drawn as listed', (d) => setByDepth(d, join.id, v))}
      />
    </Section>
  );
}
