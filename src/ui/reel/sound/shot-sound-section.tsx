'use client';
import { setShotSound } from '../../../core/film/edits/sound';
import type { Shot } from '../../../core/film/film';
import { PLAIN_SOUND } from '../../../core/film/sound';
import { Section } from '../../parts/section';
import { useFilm, useTools } from '../../store/film-context';
import { SoundNumbers } from './level-row';

/** The sound that comes with the chosen shot. */
export function ShotSoundSection({ shot, frame }: { readonly shot: Shot; readonly frame: number }) {
  const { store } = useTools();
  const { sounds } = useFilm('sounds');
  if (!sounds.has(shot.mediumId)) return null;
  return (
    <Section title="Its sound" name="Shot sound">
      <SoundNumbers
        sound={shot.sound ?? PLAIN_SOUND}
        frame={frame}
        length={shot.length}
        onChange={(title, part) => store.edit(`${title} of the sound of ${shot.name}`, (d) => setShotSound(d, shot.id, part))}
      />
    </Section>
  );
}
