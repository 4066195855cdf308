import { TexelState } from '../../image/image.ts';
import { layDetail } from '../compose/blending.ts';
import { gradientToNormals } from './surfaceGradient.ts';
import type { LayeredTile } from './layeredSurface.ts';
import type { LayerPlanes } from '../compose/layerPlanes.ts';
import { TEXELS, type TexelBlock } from './texelBlock.ts';
import { texelSteps } from './texelSteps.ts';

/**
 * Turns heights over the surface into slopes, in real lengths: the derivatives along u and v say how a height changes from
 * texel to texel, those of the surface how far that is in space. With g in the plane of the surface, g · P_u = h_u and
 * g · P_v = h_v, and the normal is N − g (Blinn, "Simulation of Wrinkled Surfaces", 1978).
 */
export function reliefToNormals(
  { relief, channels, states }: LayerPlanes,
  tile: LayeredTile,
): (block: TexelBlock) => void {
  const normal = channels.normal!;
  const gradient = new Float32Array(TEXELS * 3);
  const detail = new Float32Array(TEXELS * 3);
  const below = new Float32Array(TEXELS * 3);
  const whole = new Float32Array(TEXELS).fill(1);
  const slopes = new SurfaceSlopes(tile);
  return (block) => {
    const { at, count } = block;
    if (!slopes.find(relief!, states, block, gradient)) return;
    gradientToNormals(gradient, block, detail);
    for (let k = 0; k < 3; k++) for (let i = 0; i < count; i++) below[k * TEXELS + i] = normal[at[i]! * 3 + k]!;
    layDetail(below, detail, whole, count);
    for (let k = 0; k < 3; k++) for (let i = 0; i < count; i++) normal[at[i]! * 3 + k] = below[k * TEXELS + i]!;
  };
}

/** Gradients in space of heights that lie on a tile. */
class SurfaceSlopes {
  private readonly tile: LayeredTile;
  private triangle = -1;
  /** What a step of one texel to the right and one upwards add to the gradient, in the plane of the triangle. */
  private readonly duals = new Float64Array(6);
  private readonly pu = new Float64Array(3);
  private readonly pv = new Float64Array(3);

  constructor(tile: LayeredTile) {
    this.tile = tile;
  }

  /** @param out told x, y, z for each texel, in planes @returns false where all is level */
  find(heights: Float32Array, states: Uint8Array, { at, triangles, count }: TexelBlock, out: Float32Array): boolean {
    const { width, height } = this.tile.size;
    const { repeats } = this.tile.surface;
    const { duals } = this;
    let isLevel = true;
    for (let i = 0; i < count; i++) {
      const here = at[i]!;
      const x = here % width;
      const y = (here - x) / width;
      const row = here - x;
      const right = x + 1 < width ? here + 1 : repeats ? row : here;
      const left = x > 0 ? here - 1 : repeats ? row + width - 1 : here;
      const up = y > 0 ? here - width : repeats ? (height - 1) * width + x : here;
      const down = y + 1 < height ? here + width : repeats ? x : here;
      const across = between(heights, states, left, here, right);
      const upwards = between(heights, states, down, here, up);
      if (across !== 0 || upwards !== 0) isLevel = false;
      if (triangles[i] !== this.triangle) this.load(triangles[i]!);
      out[i] = across * duals[0]! + upwards * duals[3]!;
      out[TEXELS + i] = across * duals[1]! + upwards * duals[4]!;
      out[TEXELS * 2 + i] = across * duals[2]! + upwards * duals[5]!;
    }
    return !isLevel;
  }

  private load(triangle: number): void {
    const { pu, pv } = this;
    this.triangle = triangle;
    this.duals.fill(0);
    if (!texelSteps(this.tile, triangle, pu, pv)) return;
    const uu = pu[0]! ** 2 + pu[1]! ** 2 + pu[2]! ** 2;
    const vv = pv[0]! ** 2 + pv[1]! ** 2 + pv[2]! ** 2;
    const uv = pu[0]! * pv[0]! + pu[1]! * pv[1]! + pu[2]! * pv[2]!;
    const scale = 1 / (uu * vv - uv * uv || 1e-30);
    for (let k = 0; k < 3; k++) {
      this.duals[k] = (pu[k]! * vv - pv[k]! * uv) * scale;
      this.duals[3 + k] = (pv[k]! * uu - pu[k]! * uv) * scale;
    }
  }
}

/** How a height changes per texel, from those neighbours that are there. */
function between(heights: Float32Array, states: Uint8Array, before: number, here: number, behind: number): number {
  const from = states[before] === TexelState.background ? here : before;
  const to = states[behind] === TexelState.background ? here : behind;
  if (from === to) return 0;
  const change = heights[to]! - heights[from]!;
  return from === here || to === here ? change : change / 2;
}
