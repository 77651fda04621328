/** What a card dragged to the reel carries. */
export const MEDIUM_DRAG_TYPE = 'application/x-irimi-medium';

/** What a card whose sound may be laid in a lane carries. */
export const SOUND_DRAG_TYPE = 'application/x-irimi-sound';
