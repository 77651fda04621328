declare module 'smpte-timecode' {
  /** @throws Error for a time that there is none of */
  export default class Timecode {
    constructor(time: number | string, rate: readonly [number, number], dropFrame: boolean);
    readonly frameCount: number;
    toString(): string;
  }
}
