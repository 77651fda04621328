/** Where a command is there: on the reel, on the bench, or in both rooms. */
export type Room = 'reel' | 'bench';

export interface Command {
  /** 'Shift+Left', 'Ctrl+Z', 'T', '?' …; the first is the one that is shown. Ctrl stands for the Command key too. */
  readonly keys: readonly [string, ...string[]];
  /** What it does, as its button and the sheet of keys say it. */
  readonly title: string;
  readonly rooms: readonly Room[];
}

const both = ['reel', 'bench'] as const;
const bench = ['bench'] as const;
const reel = ['reel'] as const;

/** All that keys do. Handlers, the hints of buttons and the sheet of keys are made of this table and nothing else. */
export const COMMANDS = {
  playOrStop: { keys: ['Space'], title: 'Play or pause', rooms: both },
  playBack: { keys: ['J'], title: 'Play backwards; again for faster', rooms: both },
  stop: { keys: ['K'], title: 'Stop', rooms: both },
  playOn: { keys: ['L'], title: 'Play; again for faster', rooms: both },
  stepBack: { keys: ['Left'], title: 'One frame back', rooms: both },
  stepOn: { keys: ['Right'], title: 'One frame on', rooms: both },
  tenBack: { keys: ['PageUp'], title: 'Ten frames back', rooms: both },
  tenOn: { keys: ['PageDown'], title: 'Ten frames on', rooms: both },
  first: { keys: ['Home'], title: 'First frame', rooms: both },
  last: { keys: ['End'], title: 'Last frame', rooms: both },
  soundOnOff: { keys: ['V'], title: 'Sound on or off', rooms: both },
  markHere: { keys: ['M'], title: 'Add a marker on this frame', rooms: both },
  snapOnOff: { keys: ['N'], title: 'Snapping on or off', rooms: reel },
  split: { keys: ['S'], title: 'Split the shot, or the selected sound, at the playhead', rooms: reel },
  duplicate: { keys: ['Ctrl+D'], title: 'Duplicate the selected shots or sound', rooms: reel },
  cutShots: { keys: ['Ctrl+X'], title: 'Cut the selected shots', rooms: reel },
  copyShots: { keys: ['Ctrl+C'], title: 'Copy the selected shots, or the selected join', rooms: reel },
  pasteShots: { keys: ['Ctrl+V'], title: 'Paste shots at the playhead, or a join on the selected joins', rooms: reel },
  chooseAll: { keys: ['Ctrl+A'], title: 'Select all shots', rooms: reel },
  chooseToEnd: { keys: ['Shift+End'], title: 'Select this shot and all to its right', rooms: reel },
  swapWithNext: { keys: ['Shift+X'], title: 'Swap the selected shot with the next', rooms: reel },
  turnOff: { keys: ['Shift+O'], title: 'Turn the selected shots off or on: the background stands in their place', rooms: reel },
  markIn: { keys: ['I'], title: 'While looking at media: it starts here', rooms: reel },
  markOut: { keys: ['O'], title: 'While looking at media: it ends here', rooms: reel },
  layInsert: { keys: [','], title: 'Insert what is marked at the playhead', rooms: reel },
  layOver: { keys: ['.'], title: 'Lay what is marked over the reel from the playhead on', rooms: reel },
  layAtEnd: { keys: ['Shift+E'], title: 'Add what is marked at the end', rooms: reel },
  rename: { keys: ['F2'], title: 'Rename the selected shot', rooms: reel },
  tapBeat: { keys: ['B'], title: 'Tap a beat of the selected sound while it plays', rooms: reel },
  typeFrame: { keys: ['F'], title: 'Type a frame or a timecode', rooms: both },
  savePicture: { keys: ['Shift+P'], title: 'Save a picture of this frame', rooms: both },
  keepPicture: { keys: ['Shift+K'], title: 'Put a picture of this frame on the shelf', rooms: both },
  previousCut: { keys: ['Shift+Left'], title: 'Previous cut', rooms: reel },
  nextCut: { keys: ['Shift+Right'], title: 'Next cut', rooms: reel },
  previousFinding: { keys: ['Shift+Up'], title: 'Previous issue', rooms: reel },
  nextFinding: { keys: ['Shift+Down'], title: 'Next issue', rooms: reel },
  findCommand: { keys: ['Ctrl+K'], title: 'Search commands, shots, joins, media and markers', rooms: both },
  previousShot: { keys: ['Up'], title: 'Select the previous shot', rooms: reel },
  nextShot: { keys: ['Down'], title: 'Select the next shot', rooms: reel },
  trimStart: { keys: ['['], title: 'Trim the start of the selected shot to here', rooms: reel },
  trimEnd: { keys: [']'], title: 'Trim the end of the selected shot to here', rooms: reel },
  slipEarlier: { keys: ['Ctrl+Shift+Left'], title: 'Slip the selected shot: show what comes one frame later in its media', rooms: reel },
  slipLater: { keys: ['Ctrl+Shift+Right'], title: 'Slip the selected shot: show what comes one frame earlier in its media', rooms: reel },
  slideEarlier: { keys: ['Alt+Shift+Left'], title: 'Slide the selected shot one frame left between its neighbours', rooms: reel },
  slideLater: { keys: ['Alt+Shift+Right'], title: 'Slide the selected shot one frame right between its neighbours', rooms: reel },
  rollEarlier: { keys: ['Ctrl+Left'], title: 'Roll the cut at the start of the selected shot one frame left', rooms: reel },
  rollLater: { keys: ['Ctrl+Right'], title: 'Roll the cut at the start of the selected shot one frame right', rooms: reel },
  reelIn: { keys: ['Ctrl+Up'], title: 'Zoom the reel in about the playhead', rooms: reel },
  reelOut: { keys: ['Ctrl+Down'], title: 'Zoom the reel out about the playhead', rooms: reel },
  reelWhole: { keys: ['Shift+Z'], title: 'Show the whole reel', rooms: reel },
  previousMarker: { keys: ['Shift+PageUp'], title: 'Previous marker', rooms: reel },
  nextMarker: { keys: ['Shift+PageDown'], title: 'Next marker', rooms: reel },
  moveEarlier: { keys: ['Alt+Left'], title: 'Move the selected shots left', rooms: reel },
  moveLater: { keys: ['Alt+Right'], title: 'Move the selected shots right', rooms: reel },
  removeShot: { keys: ['Delete', 'Backspace'], title: 'Remove the selected shots or sound', rooms: reel },
  openJoin: { keys: ['Enter'], title: 'Open the join nearest to the playhead', rooms: reel },
  chooseNoShot: { keys: ['Escape'], title: 'Deselect', rooms: reel },
  chooseKind: { keys: ['R'], title: 'Choose the kind of join', rooms: bench },
  pair: { keys: ['1'], title: 'Pair', rooms: bench },
  mask: { keys: ['2'], title: 'Mask', rooms: bench },
  track: { keys: ['3'], title: 'Track', rooms: bench },
  move: { keys: ['4'], title: 'Move', rooms: bench },
  blend: { keys: ['5'], title: 'Blend', rooms: bench },
  check: { keys: ['6'], title: 'Check', rooms: bench },
  previousMark: { keys: ['Shift+Left'], title: 'Previous keyframe or issue; with points selected: move them by 10 px', rooms: bench },
  nextMark: { keys: ['Shift+Right'], title: 'Next keyframe or issue; with points selected: move them by 10 px', rooms: bench },
  carryOn: { keys: ['T'], title: 'Carry the matte one frame on; in Track: follow the region', rooms: bench },
  carryToEnd: { keys: ['Shift+T'], title: 'Carry or follow to the end', rooms: bench },
  swapPaint: { keys: ['X'], title: 'Swap keep and drop', rooms: bench },
  smallerBrush: { keys: ['['], title: 'Smaller brush', rooms: bench },
  largerBrush: { keys: [']'], title: 'Larger brush', rooms: bench },
  keyHere: { keys: ['.'], title: 'Keyframe on this frame', rooms: bench },
  nudgeUp: { keys: ['Up'], title: 'Move the selected points up by 1 px', rooms: bench },
  nudgeDown: { keys: ['Down'], title: 'Move the selected points down by 1 px', rooms: bench },
  nudgeUpFar: { keys: ['Shift+Up'], title: 'Move the selected points up by 10 px', rooms: bench },
  nudgeDownFar: { keys: ['Shift+Down'], title: 'Move the selected points down by 10 px', rooms: bench },
  removePoints: { keys: ['Delete', 'Backspace'], title: 'Delete the selected points or keyframes', rooms: bench },
  closeOutline: { keys: ['Enter'], title: 'Close the outline being drawn', rooms: bench },
  chooseNothing: { keys: ['Escape'], title: 'Deselect', rooms: bench },
  layLeft: { keys: ['Ctrl+Left'], title: 'Move the entering shot’s picture left by 1 px', rooms: bench },
  layRight: { keys: ['Ctrl+Right'], title: 'Move the entering shot’s picture right by 1 px', rooms: bench },
  layUp: { keys: ['Ctrl+Up'], title: 'Move the entering shot’s picture up by 1 px', rooms: bench },
  layDown: { keys: ['Ctrl+Down'], title: 'Move the entering shot’s picture down by 1 px', rooms: bench },
  slideEnteringEarlier: { keys: ['Alt+Left'], title: 'Slide the entering shot one frame earlier', rooms: bench },
  slideEnteringLater: { keys: ['Alt+Right'], title: 'Slide the entering shot one frame later', rooms: bench },
  copyLayer: { keys: ['Ctrl+C'], title: 'Copy the selected layer', rooms: bench },
  pasteLayer: { keys: ['Ctrl+V'], title: 'Paste the copied layer', rooms: bench },
  lastView: { keys: ['Q'], title: 'Previous stage view', rooms: bench },
  overlay: { keys: ['O'], title: 'Overlay', rooms: bench },
  difference: { keys: ['D'], title: 'Difference', rooms: bench },
  ghosts: { keys: ['G'], title: 'Ghosts of the neighbouring keyframes', rooms: bench },
  weaveForm: { keys: ['W'], title: 'Low or tall weave', rooms: bench },
  zoomIn: { keys: ['+', '='], title: 'Zoom in', rooms: both },
  zoomOut: { keys: ['−', '-'], title: 'Zoom out', rooms: both },
  fullScreen: { keys: ['Shift+F'], title: 'The picture on the whole screen', rooms: both },
  secondWindow: { keys: ['Shift+W'], title: 'The stage in a second window', rooms: both },
  switchClock: { keys: ['Shift+C'], title: 'Time as timecode, frames or seconds', rooms: both },
  settings: { keys: ['Ctrl+,'], title: 'Settings', rooms: both },
  fitFrame: { keys: ['0'], title: 'Fit the frame', rooms: both },
  export: { keys: ['Ctrl+E'], title: 'Export', rooms: both },
  undo: { keys: ['Ctrl+Z'], title: 'Undo', rooms: both },
  redo: { keys: ['Ctrl+Shift+Z', 'Ctrl+Y'], title: 'Redo', rooms: both },
  keySheet: { keys: ['?'], title: 'Keyboard shortcuts', rooms: both },
} as const satisfies Record<string, Command>;

export type CommandId = keyof typeof COMMANDS;

export const COMMAND_IDS = Object.keys(COMMANDS) as CommandId[];

/** The commands of a room, in the order of the table. */
export const commandsOf = (room: Room): CommandId[] => COMMAND_IDS.filter((id) => (COMMANDS[id].rooms as readonly Room[]).includes(room));

const NAMED: Readonly<Record<string, string>> = {
  ' ': 'Space',
  ArrowLeft: 'Left',
  ArrowRight: 'Right',
  ArrowUp: 'Up',
  ArrowDown: 'Down',
};

/** The key of a keyboard event as commands name it. Signs count as they are typed, whatever else has to be held for them. */
export function keyOf(event: Pick<KeyboardEvent, 'key' | 'shiftKey' | 'ctrlKey' | 'metaKey' | 'altKey'>): string {
  const isLetter = /^\p{L}$/u.test(event.key);
  const isSign = event.key.length === 1 && !isLetter && event.key !== ' ';
  const name = NAMED[event.key] ?? (isLetter ? event.key.toUpperCase() : event.key);
  const held = [
    ...(event.ctrlKey || event.metaKey ? ['Ctrl'] : []),
    ...(event.altKey && !isSign ? ['Alt'] : []),
    ...(event.shiftKey && !isSign ? ['Shift'] : []),
  ];
  return [...held, name].join('+');
}

const SHOWN: Readonly<Record<string, string>> = {
  Left: '←',
  Right: '→',
  Up: '↑',
  Down: '↓',
  PageUp: 'Page Up',
  PageDown: 'Page Down',
  Escape: 'Esc',
};

/** 'Shift T', 'Ctrl Z', '←' */
export const keyText = (id: CommandId): string =>
  COMMANDS[id].keys[0]
    .split('+')
    .map((part) => SHOWN[part] ?? part)
    .filter((part) => part !== '')
    .join(' ') || '+';

/** What a button of the command says: what it does, and its key. */
export const hint = (id: CommandId, title: string = COMMANDS[id].title): string => `${title} (${keyText(id)})`;
