'use client';
import { Copy, ClipboardPaste, Trash2 } from 'lucide-react';
import type { EaseShape } from '../../core/motion/eases';
import { EASE_NAMES, EASE_SHAPES, isSameShape } from '../../core/motion/eases';
import { keysOf } from '../../core/motion/key-edits';
import { IconButton } from '../parts/button';
import { NumberField } from '../parts/number-field';
import { useFilm, useTools } from '../store/film-context';
import { chooseKeys, useBench, useClipboard } from '../store/bench-state';
import { deleted, eased, movedBy, pasted, raisedBy, shapeOf } from './lane-edits';
import type { Lane } from './use-lanes';

/** Numbers and ease of the chosen keys, and copying them to other lanes and other joins. */
export function KeyBar({ joinId, lanes, frame }: { readonly joinId: string; readonly lanes: readonly Lane[]; readonly frame: number }) {
  const { store } = useTools();
  const { film } = useFilm('film');
  const keys = useBench((s) => s.keys);
  const clipboard = useClipboard((s) => s.keys);
  const chosen = lanes.flatMap((lane) =>
    keysOf(lane.channel)
      .filter((k) => keys.get(lane.key)?.has(k.frame) === true)
      .map((key) => ({ lane, key })),
  );
  const [one] = chosen;
  const saved = film.eases ?? [];
  const shape = shapeOf(lanes, keys);
  const shapes: readonly (EaseShape & { readonly name: string })[] = [
    ...EASE_NAMES.map((name) => ({ name, ...EASE_SHAPES[name] })),
    ...saved,
  ];
  const now = shape === null ? '' : (shapes.find((s) => isSameShape(s, shape))?.name ?? 'own');
  const target = one?.lane ?? lanes[0];
  const saveEase = (): void => {
    if (shape === null) return;
    const name = `own ease ${saved.length + 1}`;
    store.edit(`Saved ${name}`, (d) => void (d.eases = [...saved, { name, out: shape.out, into: shape.into }] as typeof d.eases));
  };
  return (
    <div
      role="group"
      aria-label="Selected keyframes"
      className="flex h-7 items-center gap-2 border-t border-rule bg-paper px-2 text-[11.5px]"
    >
      {one === undefined ? (
        <span className="truncate text-soft">
          {lanes.length === 0
            ? 'Give a number of the selected thing a keyframe: its curve appears here.'
            : 'Drag over keyframes to select them; double-click adds one.'}
        </span>
      ) : (
        <>
          <span className="shrink-0 text-soft">{chosen.length === 1 ? 'key at' : `${chosen.length} keyframes from`}</span>
          <NumberField
            label="Frame of the keyframe"
            value={one.key.frame + one.lane.facts.origin}
            onCommit={(v) => {
              const by = v - one.key.frame - one.lane.facts.origin;
              store.edit('Moved keyframes', movedBy(joinId, lanes, keys, by, false));
              chooseKeys(new Map([...keys].map(([k, frames]) => [k, new Set([...frames].map((f) => f + by))])));
            }}
          />
          <NumberField
            label="Value of the keyframe"
            unit={one.lane.facts.unit}
            step={one.lane.facts.step}
            value={one.key.value * one.lane.facts.factor}
            onCommit={(v) =>
              store.edit(
                `Value of a keyframe of ${one.lane.facts.name}`,
                raisedBy(joinId, one.lane, keys, v / one.lane.facts.factor - one.key.value),
              )
            }
          />
          <select
            aria-label="Ease after the keyframe"
            className="h-6 rounded-[4px] border border-rule bg-sheet px-1"
            value={now}
            onChange={(e) => {
              const wanted = shapes.find((s) => s.name === e.target.value);
              if (wanted !== undefined) store.edit(`Ease: ${wanted.name}`, eased(joinId, lanes, keys, wanted));
            }}
          >
            {now === '' && <option value="">–</option>}
            {now === 'own' && <option value="own">its own</option>}
            {shapes.map((s) => (
              <option key={s.name} value={s.name}>
                {s.name}
              </option>
            ))}
          </select>
          {now === 'own' && (
            <button type="button" className="shrink-0 underline" onClick={saveEase}>
              save this ease
            </button>
          )}
          <IconButton
            label="Copy the selected keyframes"
            onClick={() => useClipboard.setState({ keys: chosen.filter((c) => c.lane === one.lane).map((c) => c.key) })}
          >
            <Copy size={13} />
          </IconButton>
          <IconButton
            label="Delete the selected keyframes"
            onClick={() => {
              store.edit('Deleted keyframes', deleted(joinId, lanes, keys));
              chooseKeys(new Map());
            }}
          >
            <Trash2 size={13} />
          </IconButton>
        </>
      )}
      {clipboard.length > 0 && target !== undefined && (
        <IconButton
          label={`Paste keyframes into ${target.facts.owner}, ${target.facts.name}`}
          onClick={() => store.edit('Pasted keyframes', pasted(joinId, target, clipboard, frame - target.facts.origin))}
        >
          <ClipboardPaste size={13} />
        </IconButton>
      )}
    </div>
  );
}
