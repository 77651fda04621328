/** Width of the pictures in which a crossing thing is looked for. */
export const CROSSING_WIDTH = 320;
/** Frames that are looked through at once, at most. */
export const CROSSING_FRAMES = 480;
