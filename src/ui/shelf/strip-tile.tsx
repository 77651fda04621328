import type { MediumFacts } from '../../core/film/media-facts';

/** The picture of a medium's strip nearest to `frame`, filling the positioned box around it, whose width is `boxAspect` times its height. */
export function StripTile({
  medium,
  frame,
  boxAspect,
}: {
  readonly medium: MediumFacts;
  readonly frame: number;
  readonly boxAspect: number;
}) {
  // of a first part there is no strip yet
  if (medium.stripTiles === 0) return null;
  const rows = Math.ceil(medium.stripTiles / medium.stripColumns);
  const tile = Math.max(0, Math.min(medium.stripTiles - 1, Math.floor((frame / medium.frames) * medium.stripTiles)));
  const share = (at: number, of: number): number => (of > 1 ? (100 * at) / (of - 1) : 0);
  const aspect = medium.width / medium.height;
  return (
    <span
      className="absolute top-1/2 left-1/2 -translate-1/2"
      style={{
        width: `${100 * Math.max(1, aspect / boxAspect)}%`,
        height: `${100 * Math.max(1, boxAspect / aspect)}%`,
        backgroundImage: `url(/api/media/${medium.id}/strip.jpg)`,
        backgroundSize: `${medium.stripColumns * 100}% ${rows * 100}%`,
        backgroundPosition: `${share(tile % medium.stripColumns, medium.stripColumns)}% ${share(Math.floor(tile / medium.stripColumns), rows)}%`,
      }}
    />
  );
}
