/** What cards with pictures that are dragged to the reel carry: ids of media, parted by spaces. */
export const MEDIUM_DRAG_TYPE = 'application/x-irimi-medium';

/** What a card whose sound may be laid in a lane carries: the id of its medium. */
export const SOUND_DRAG_TYPE = 'application/x-irimi-sound';

/** The media that are dragged. */
export const draggedIds = (transfer: DataTransfer): readonly string[] => {
  const ids = [MEDIUM_DRAG_TYPE, SOUND_DRAG_TYPE].flatMap((type) => transfer.getData(type).split(' '));
  return [...new Set(ids.filter((id) => id !== ''))];
};
