'use client';
import { clocksOf } from '../../core/format/clock';
import { Button } from '../parts/button';
import { Segmented } from '../parts/segmented';
import { SelectRow, SwitchRow } from '../parts/select-row';
import { Sheet } from '../parts/sheet';
import { RATIOS, useGuides } from '../store/guide-choice';
import { useClock } from '../store/clock';
import { useFilm, useTools } from '../store/film-context';
import { BUDGETS_MB, MEGABYTE, useFrameBudget } from '../store/frame-budget';
import { useGhosts } from '../store/mask-view';
import { forgetPreferences, usePreference } from '../store/preferences';
import { useTheme } from './use-theme';

/** What this browser remembers of how one works, in one place. What belongs to the film is in its own section. */
export function SettingsSheet({ onClose }: { readonly onClose: () => void }) {
  const { film } = useFilm('film');
  const { theme, setTheme } = useTheme();
  const [clock, , setClock] = useClock(film.rate);
  const [guides, setGuides] = useGuides();
  const [isHeard, setHeard] = usePreference('sound', true);
  const [follows, setFollows] = usePreference('length follows speed', true);
  const [look, setLook] = usePreference<'pictures' | 'list'>('shelf-look', 'pictures');
  const [ghosts, setGhosts] = useGhosts();
  const { frames } = useTools();
  const [budget, setBudget] = useFrameBudget();
  const ratioOf = (text: string): number | null => RATIOS.find((r) => r.text === text)?.ratio ?? null;
  return (
    <Sheet title="Settings" onClose={onClose} className="w-[440px]">
      <div className="flex flex-col gap-4 overflow-y-auto p-5">
        <Group title="Look">
          <div className="flex items-center justify-between">
            Theme
            <Segmented
              label="Theme"
              options={[
                { value: 'light', text: 'light' },
                { value: 'dim', text: 'dark' },
              ]}
              value={theme}
              onChange={setTheme}
            />
          </div>
          <SelectRow
            label="Shelf"
            value={look}
            options={[
              { value: 'pictures', text: 'with pictures' },
              { value: 'list', text: 'as a list' },
            ]}
            onChange={setLook}
          />
          <div className="flex items-center justify-between">
            Sizes of the panes
            <Button onClick={() => forgetPreferences('pane:')}>As at first</Button>
          </div>
        </Group>
        <Group title="Time">
          <SelectRow label="Time as" value={clock} options={clocksOf(film.rate).map((c) => ({ value: c, text: c }))} onChange={setClock} />
        </Group>
        <Group title="Stage">
          <SwitchRow label="Thirds and the middle" value={guides.thirds} onChange={(thirds) => setGuides({ ...guides, thirds })} />
          <SwitchRow label="Safe areas" value={guides.safeAreas} onChange={(safeAreas) => setGuides({ ...guides, safeAreas })} />
          <SelectRow
            label="Ratio"
            value={RATIOS.find((r) => r.ratio === guides.ratio)?.text ?? 'whole'}
            options={[{ value: 'whole', text: 'the whole frame' }, ...RATIOS.map((r) => ({ value: r.text, text: r.text }))]}
            onChange={(text) => setGuides({ ...guides, ratio: ratioOf(text) })}
          />
          <SwitchRow label="Ghosts of the neighbouring keyframes" value={ghosts} onChange={setGhosts} />
        </Group>
        <Group title="Playing and cutting">
          <SelectRow
            label="Memory for ready frames"
            value={String(budget)}
            options={BUDGETS_MB.map((mb) => ({ value: String(mb), text: `${mb} MB` }))}
            onChange={(mb) => setBudget(Number(mb))}
          />
          <p className="text-soft" data-testid="frame-memory">
            {Math.round(frames.memory.used / MEGABYTE)} MB of it are in use.
          </p>
          <SwitchRow label="Sound is heard" value={isHeard} onChange={setHeard} />
          <SwitchRow label="A shot’s length follows its speed" value={follows} onChange={setFollows} />
        </Group>
      </div>
    </Sheet>
  );
}

function Group({ title, children }: { readonly title: string; readonly children: React.ReactNode }) {
  return (
    <section aria-label={title} className="flex flex-col gap-2">
      <h3 className="border-b border-rule pb-1 font-semibold text-soft">{title}</h3>
      {children}
    </section>
  );
}
