'use client';
import { Command } from 'cmdk';
import { useRouter } from 'next/navigation';
import { kindOf } from '../../core/film/film';
import { placedJoins, startOfShot } from '../../core/film/timing';
import { COMMANDS, keyText, type CommandId } from '../commands/commands';
import { liveHandlers } from '../commands/use-commands';
import { Sheet } from '../parts/sheet';
import { useFilm, useTools } from '../store/film-context';
import { askForFrame, chooseShots } from '../store/reel-choice';

interface Found {
  readonly key: string;
  readonly text: string;
  readonly note: string;
  readonly take: () => void;
}

/** Everything that can be done or gone to, in groups. */
function useFindable(): readonly (readonly [string, readonly Found[]])[] {
  const { store } = useTools();
  const { film, media } = useFilm('film', 'media');
  const router = useRouter();
  const reel = `/films/${store.filmId}`;
  const goTo = (frame: number): void => {
    askForFrame(Math.round(frame));
    router.push(`${reel}?frame=${Math.round(frame)}`);
  };
  const goToShot = (shotId: string): void => {
    chooseShots([shotId]);
    goTo(startOfShot(film, shotId));
  };
  const goToMedium = (mediumId: string, name: string): void => {
    const shot = film.shots.find((s) => s.mediumId === mediumId);
    if (shot === undefined) store.notify(`${name} is on the shelf, and not on the reel yet.`);
    else goToShot(shot.id);
  };
  const handlers = liveHandlers();
  return [
    [
      'Commands',
      (Object.keys(handlers) as CommandId[])
        .filter((id) => id !== 'findCommand')
        .map((id) => ({ key: id, text: COMMANDS[id].title, note: keyText(id), take: () => handlers[id]?.() })),
    ],
    [
      'Joins',
      placedJoins(film).map(({ join }) => ({
        key: join.id,
        text: join.name,
        note: kindOf(join),
        take: () => router.push(`${reel}/joins/${join.id}`),
      })),
    ],
    ['Shots', film.shots.map(({ id, name, length }) => ({ key: id, text: name, note: `${length} fr`, take: () => goToShot(id) }))],
    ['Media', [...media.values()].map(({ id, name, kind }) => ({ key: id, text: name, note: kind, take: () => goToMedium(id, name) }))],
    [
      'Markers',
      (film.markers ?? []).map((m) => ({
        key: m.id,
        text: m.note === undefined ? m.name : `${m.name}: ${m.note}`,
        note: `frame ${Math.round(m.frame)}`,
        take: () => goTo(m.frame),
      })),
    ],
  ];
}

const HEADING =
  '[&_[cmdk-group-heading]]:px-2 [&_[cmdk-group-heading]]:py-1 [&_[cmdk-group-heading]]:text-[11.5px] [&_[cmdk-group-heading]]:text-soft';

/** How well a name fits what is typed: every word of that is in it, best at its beginning. */
export function fitOf(name: string, typed: string): number {
  const words = typed.toLowerCase().split(/\s+/).filter((w) => w !== ''); // prettier-ignore
  const text = name.toLowerCase();
  if (!words.every((w) => text.includes(w))) return 0;
  return words.every((w) => new RegExp(`(^|\\s)${w.replace(/[^\p{L}\p{N}]/gu, '\\$&')}`, 'u').test(text))
    ? text.startsWith(words[0] ?? '')
      ? 1
      : 0.8
    : 0.5;
}

/** One field to find and do anything: commands, and the shots, joins, media and markers of the film. */
export function CommandSearch({ onClose }: { readonly onClose: () => void }) {
  const groups = useFindable();
  return (
    <Sheet title="Search" onClose={onClose} className="w-[560px]">
      <Command
        label="Search commands, joins, shots, media and markers"
        filter={(_, typed, names) => fitOf(names?.[0] ?? '', typed)}
        className="flex min-h-0 flex-col gap-2 p-4"
      >
        <Command.Input
          autoFocus
          placeholder="What do you want to do, or find?"
          className="h-8 rounded-[5px] border border-rule bg-sheet px-2.5 text-[14px]"
        />
        <Command.List className="max-h-[52vh] min-h-0 overflow-y-auto" tabIndex={-1}>
          <Command.Empty className="p-2 text-soft">Nothing is called like that.</Command.Empty>
          {groups
            .filter(([, list]) => list.length > 0)
            .map(([title, list]) => (
              <Command.Group key={title} heading={title} className={HEADING}>
                {list.map(({ key, text, note, take }) => (
                  <Command.Item
                    key={key}
                    value={key}
                    keywords={[text]}
                    className="flex cursor-pointer items-baseline justify-between gap-4 rounded px-2 py-1 data-[selected=true]:bg-pressed"
                    onSelect={() => {
                      onClose();
                      take();
                    }}
                  >
                    <span className="truncate">{text}</span>
                    <span className="shrink-0 font-mono text-[10.5px] text-soft">{note}</span>
                  </Command.Item>
                ))}
              </Command.Group>
            ))}
        </Command.List>
      </Command>
    </Sheet>
  );
}
