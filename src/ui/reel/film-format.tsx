'use client';
import { isSameRate, toNumber, type Rational } from '../../core/geometry/rational';
import type { MediumFacts } from '../../core/film/media-facts';
import { mostOff, setFilmRate, setFilmSize } from '../../core/format/film-format';
import { asSize, RATES, rateName, SIZES } from '../parts/film-formats';
import { Button } from '../parts/button';
import { Note } from '../parts/note';
import { NumberRow } from '../parts/number-field';
import { SelectRow } from '../parts/select-row';
import { useFilm, useTools } from '../store/film-context';

const OWN = 'own';

/** The size and rate of the film, to be changed at any time, and the offer to take those of its first media. */
export function FilmFormat() {
  const { store } = useTools();
  const { film, media } = useFilm('film', 'media');
  const [first] = [...media.values()].filter((m) => m.kind === 'video');
  /** What the film was is kept before so much of it changes. */
  const keepBefore = (what: string): Promise<boolean> =>
    store.askWhenSaved('versions', { do: 'keep', name: `Before another ${what}`, isByItself: true });
  const setSize = async (width: number, height: number): Promise<void> => {
    if (width === film.width && height === film.height) return;
    if (!(await keepBefore('size'))) return;
    store.edit(`Size of the film: ${width} × ${height}`, (d) => setFilmSize(d, width, height));
  };
  const setRate = async (rate: Rational): Promise<void> => {
    if (isSameRate(rate, film.rate)) return;
    if (!(await keepBefore('rate'))) return;
    const off = 1000 * mostOff(film, rate);
    store.edit(`Rate of the film: ${rateName(rate)} fps`, (d) => setFilmRate(d, rate));
    store.notify(
      off < 0.5
        ? 'Every cut is where it was in time.'
        : `Every cut is on the frame nearest to its time: at most ${Math.round(off)} ms off.`,
    );
  };
  const name = `${film.width} × ${film.height}`;
  const isOdd = first !== undefined && !isLike(first, film);
  return (
    <>
      <SelectRow
        label="Frame size"
        value={name in SIZES ? name : OWN}
        options={[...Object.keys(SIZES).map((s) => ({ value: s, text: s })), { value: OWN, text: 'own numbers' }]}
        onChange={(s) => {
          const size = SIZES[s];
          if (size !== undefined) void setSize(...size);
        }}
      />
      <NumberRow label="Width" unit="px" min={16} max={8192} value={film.width} onCommit={(v) => void setSize(asSize(v), film.height)} />
      <NumberRow label="Height" unit="px" min={16} max={8192} value={film.height} onCommit={(v) => void setSize(film.width, asSize(v))} />
      <SelectRow
        label="Frames a second"
        value={rateName(film.rate)}
        options={[...new Set([...Object.keys(RATES), rateName(film.rate)])].map((r) => ({ value: r, text: r }))}
        onChange={(r) => RATES[r] !== undefined && void setRate(RATES[r])}
      />
      {isOdd && (
        <Note tone="heed">
          <p>
            {first.name} is {first.width} × {first.height} at {Number(toNumber(first.rate).toFixed(3))} fps.
          </p>
          <div className="mt-1.5">
            <Button onClick={() => void setSize(asSize(first.width), asSize(first.height)).then(() => setRate(first.rate))}>
              Make the film like that
            </Button>
          </div>
        </Note>
      )}
    </>
  );
}

/** Whether a film has the size and rate of a medium already. */
const isLike = (m: MediumFacts, film: { readonly width: number; readonly height: number; readonly rate: Rational }): boolean =>
  asSize(m.width) === film.width && asSize(m.height) === film.height && isSameRate(m.rate, film.rate);
