/** One channel of a picture: its sides and where its 32-bit floats are. */
@unmanaged
export class Plane {
  width: i32;
  height: i32;
  data: usize;
}
