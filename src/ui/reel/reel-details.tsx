'use client';
import { startOfShot } from '../../core/film/timing';
import { AsideSection } from './aside-section';
import { FilmSection } from './film-section';
import { JoinsSection } from './joins-section';
import { RecipeOnJoins } from './recipe-on-joins';
import { useReelChoice } from '../store/reel-choice';
import { ReelFindings } from './reel-findings';
import { ShotDetails } from './shot-details';
import { ShotFraming, ShotTime } from './shot-time';
import { BeatsSection } from './sound/beats-section';
import { ClipDetails } from './sound/clip-details';
import { MarkersSection } from './sound/markers-section';
import { ShotSoundSection } from './sound/shot-sound-section';
import { SpreadSection } from './sound/spread-section';
import type { ReelWork } from './use-reel-work';

/** The numbers of what is selected on the reel, then those of the film. */
export function ReelDetails({ work }: { readonly work: ReelWork }) {
  const { film, shown, frame, setFrame, selected, medium, sound, joins, playback } = work;
  const { alsoShots, clipId, joins: chosenJoins } = useReelChoice();
  const isShot = clipId === null && selected !== null;
  return (
    <>
      {alsoShots.size > 0 && (
        <SpreadSection shotIds={shown.shots.filter((s) => s.id === selected?.id || alsoShots.has(s.id)).map((s) => s.id)} />
      )}
      {sound.clip !== null && <ClipDetails clipId={sound.clip.id} frame={frame} />}
      {isShot && <ShotDetails shot={selected} actions={work.shotActions} />}
      {isShot && medium !== undefined && (
        <>
          <ShotSoundSection shot={selected} frame={frame - startOfShot(shown, selected.id)} />
          <ShotTime shot={selected} medium={medium} />
          <ShotFraming shot={selected} onPreview={work.preview} />
        </>
      )}
      {sound.mediumId !== null && <BeatsSection mediumId={sound.mediumId} second={sound.second} taps={sound.taps} />}
      <MarkersSection frame={frame} onFrame={setFrame} mediumId={sound.mediumId} second={sound.second} />
      {chosenJoins.size > 0 && <RecipeOnJoins chosen={joins.filter((p) => chosenJoins.has(p.join.id))} />}
      <FilmSection />
      <AsideSection />
      <JoinsSection joins={joins} />
      <ReelFindings
        joins={joins}
        onGoTo={(at) => {
          playback.setSpeed(0);
          setFrame(at);
        }}
      />
      {selected === null && film.shots.length > 0 && (
        <p className="px-3.5 py-3 text-soft">Click a shot to see its numbers. Drag it to another place, or drag its ends to trim it.</p>
      )}
    </>
  );
}
