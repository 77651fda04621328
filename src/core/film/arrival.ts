/** Headers by which the server says what has become of a file that arrived: the medium it is now, or one that was the same file already. */
export const MEDIUM_HEADER = 'irimi-medium';
export const KNOWN_HEADER = 'irimi-known-medium';
