/** Colours to tell shots and markers apart by. */
export const TINTS = ['clay', 'moss', 'sea', 'plum', 'sand', 'slate'] as const;
export type Tint = (typeof TINTS)[number];
