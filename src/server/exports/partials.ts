/** What is written beside a file while it is made: its pictures and sound, and its sound alone. */
export const partialsOf = (output: string): readonly [string, string] => [`${output}.part`, `${output}.mixed.part`];
