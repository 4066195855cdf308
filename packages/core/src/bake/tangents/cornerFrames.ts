import type { Receiver } from '../receiver.ts';
import { fromTangentSpace, toTangentSpace } from './tangentSpace.ts';

/** What frames are made of. */
type Framed = Pick<Receiver, 'indices' | 'normals' | 'tangents'>;

/** The frames at the corners of one triangle, looked up once for all samples on it. */
export class CornerFrames {
  triangle = -1;
  receiver: Framed | null = null;
  /** Normals of the corners, then their tangents: x, y, z of the first, the second, the third. */
  private readonly corners = new Float64Array(18);
  private readonly vector = new Float64Array(3);
  private sign = 1;

  load(receiver: Framed, triangle: number): void {
    const { indices, normals, tangents } = receiver;
    const { corners } = this;
    this.triangle = triangle;
    this.receiver = receiver;
    for (let c = 0; c < 3; c++) {
      const n = indices[triangle * 3 + c]! * 3;
      const t = (triangle * 3 + c) * 4;
      for (let k = 0; k < 3; k++) {
        corners[c * 3 + k] = normals[n + k]!;
        corners[9 + c * 3 + k] = tangents[t + k]!;
      }
    }
    this.sign = tangents[triangle * 12 + 3]!;
  }

  /** A vector in tangent space as the unit direction that it is in space at a place. */
  toSpace(wb: number, wc: number, x: number, y: number, z: number, out: Float64Array): void {
    const { corners: f } = this;
    const wa = 1 - wb - wc;
    fromTangentSpace(
      x,
      y,
      z,
      f[0]! * wa + f[3]! * wb + f[6]! * wc,
      f[1]! * wa + f[4]! * wb + f[7]! * wc,
      f[2]! * wa + f[5]! * wb + f[8]! * wc,
      f[9]! * wa + f[12]! * wb + f[15]! * wc,
      f[10]! * wa + f[13]! * wb + f[16]! * wc,
      f[11]! * wa + f[14]! * wb + f[17]! * wc,
      this.sign,
      out,
    );
  }

  /** Adds a direction to a sum, as it is seen in the frame at a place, as long as it is. */
  add(wb: number, wc: number, dx: number, dy: number, dz: number, sum: Float64Array): void {
    const { corners: f, vector } = this;
    const wa = 1 - wb - wc;
    toTangentSpace(
      dx,
      dy,
      dz,
      f[0]! * wa + f[3]! * wb + f[6]! * wc,
      f[1]! * wa + f[4]! * wb + f[7]! * wc,
      f[2]! * wa + f[5]! * wb + f[8]! * wc,
      f[9]! * wa + f[12]! * wb + f[15]! * wc,
      f[10]! * wa + f[13]! * wb + f[16]! * wc,
      f[11]! * wa + f[14]! * wb + f[17]! * wc,
      this.sign,
      vector,
    );
    const length = Math.sqrt(dx * dx + dy * dy + dz * dz);
    sum[0]! += vector[0]! * length;
    sum[1]! += vector[1]! * length;
    sum[2]! += vector[2]! * length;
  }
}
