/** CSS pixels. Where sound begins under the shots and their names, and the heights of its rows. */
export const SOUND_TOP = 114;
export const SHOTS_ROW = 30;
export const LANE_ROW = 42;
export const DROP_ROW = 22;
export const GAP = 4;
/** How near an edge has to come to what it is drawn to. */
export const SNAP_PX = 8;

export const rowsHeight = (lanes: number): number => SHOTS_ROW + GAP + lanes * (LANE_ROW + GAP) + DROP_ROW;
