/** What a film may hold at most. Schema, rules, edits and the page take it from here, and say the same numbers. */
export const LIMITS = {
  /** Film frames: a day at 50 a second. */
  filmFrames: 24 * 3600 * 50,
  /** Film frames of a shot that is held or slowed: an hour at 50 a second. */
  heldFrames: 3600 * 50,
  shots: 5000,
  joins: 20_000,
  mattes: 5000,
  tracks: 5000,
  layersOfJoin: 200,
  carriersOfJoin: 100,
  effects: 200,
  keysOfChannel: 100_000,
  strokesOfFrame: 5000,
  framesOfTrack: 500_000,
  soundLanes: 100,
  clipsOfLane: 5000,
  markers: 5000,
  offShelf: 100_000,
  /** Changes in one edit. */
  patches: 100_000,
  /** Bytes of one request. */
  requestBytes: 32 * 2 ** 20,
  recipes: 1000,
} as const;
