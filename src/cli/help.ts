/** What a verb or tool takes and does, with one example. */
interface Help {
  readonly takes: string;
  readonly does: string;
  readonly example: string;
}

const RENDER: Help = {
  takes: 'render FILM OUT.webm|OUT.mp4|OUT.wav [--join N] [--handles N] [--from F --to F]',
  does: 'Exports a film, or one of its joins, without the pages. Frames count from 0, joins from 1.',
  example: './irimi render "Small Hours" wipe.webm --join 1 --handles 12',
};

const TOOLS = {
  cut: {
    takes: 'tool cut --image I.png --strokes S.json --out alpha.png',
    does: 'Cuts a subject out of a picture. S holds keep and drop strokes, a box, or both.',
    example: './irimi tool cut --image tram.png --strokes strokes.json --out alpha.png',
  },
  carry: {
    takes: 'tool carry --video V --frame N --matte M.png [--given N=M.png …] --out DIR [--from A --to B]',
    does: 'Carries a matte from the given frames to all others, as numbered PNGs.',
    example: './irimi tool carry --video tram.webm --frame 40 --matte alpha.png --out mattes --from 40 --to 60',
  },
  follow: {
    takes:
      "tool follow --video V --frame N (--corners '[[x,y],…]' [--model similarity|affine|perspective] | --points '[[x,y],…]') --out T.json [--from A --to B]",
    does: 'Follows a flat region or points through a video.',
    example: './irimi tool follow --video tram.webm --frame 40 --points [[300,200]] --out track.json',
  },
  edge: {
    takes: 'tool edge --video V --out E.json [--from A --to B]',
    does: 'Finds the trailing edge of what crosses the picture, as an outline around what it leaves free.',
    example: './irimi tool edge --video tram.webm --out edge.json',
  },
  solve: {
    takes:
      'tool solve --hole DIR --width W --height H --out S.json [--room 6] [--entering grows|waits|"pushes on"] [--ease NAME] [--start N]',
    does: 'Solves a zoom through a hole that is given as numbered PNGs: the maps of both shots on each frame.',
    example: './irimi tool solve --hole loupe --width 1280 --height 720 --out zoom.json',
  },
  pair: {
    takes: 'tool pair --a V1 --b V2 --out P.json',
    does: 'Finds the frames of two videos that are most alike, and how one lies over the other.',
    example: './irimi tool pair --a lantern.webm --b kettle.webm --out pairs.json',
  },
  between: {
    takes: 'tool between --a A.png --b B.png --at 0.5 --out M.png',
    does: 'Makes the picture between two by their motion.',
    example: './irimi tool between --a 10.png --b 11.png --at 0.5 --out middle.png',
  },
  morph: {
    takes: 'tool morph --a V1 --a-frame N --b V2 --b-frame M --frames 8 --out DIR [--quality fast|fine]',
    does: 'Melts one video into another, as numbered PNGs.',
    example: './irimi tool morph --a take1.webm --a-frame 40 --b take2.webm --b-frame 12 --frames 8 --out melt',
  },
  beats: {
    takes: 'tool beats --audio A --out B.json',
    does: 'Finds the beats and bars of music, in seconds.',
    example: './irimi tool beats --audio band.wav --out beats.json',
  },
  word: {
    takes: 'tool word --a A --a-span 1.20,1.65 --b B --out W.json',
    does: 'Finds a word of one recording in another.',
    example: './irimi tool word --a take1.wav --a-span 1.20,1.65 --b take2.wav --out word.json',
  },
  check: {
    takes: 'tool check FILM [--join N] --out C.json',
    does: 'Writes what Check finds in the joins of a film.',
    example: './irimi tool check "Small Hours" --out issues.json',
  },
} satisfies Record<string, Help>;

export type ToolName = keyof typeof TOOLS;

const page = ({ takes, does, example }: Help): string => `usage: ./irimi ${takes}\n\n  ${does}\n\n  ${example}\n`;

/** What a verb, or one tool, says when it is asked for help; null for one that is not known. */
export function helpOn(verb: string, tool: string | undefined): string | null {
  if (verb === 'render') return page(RENDER);
  if (verb !== 'tool') return null;
  const one = tool !== undefined && Object.hasOwn(TOOLS, tool) ? TOOLS[tool as ToolName] : undefined;
  if (one !== undefined) return page(one);
  const all = Object.entries(TOOLS).map(([name, { does }]) => `  ${name.padEnd(8)} ${does}`);
  return `usage: ./irimi tool NAME …\n\n${all.join('\n')}\n\n  ./irimi tool cut --help says what one of them takes.\n`;
}

/** What a verb or tool takes, as an error says it. */
export const takes = (tool: ToolName | 'render'): string => (tool === 'render' ? RENDER.takes : TOOLS[tool].takes);
