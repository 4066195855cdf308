import { TexelState, type Image } from '@zographos/core/image';
import { exposureOf, forScreen, type LightWork } from '@zographos/core/light';
import type { Size } from '@zographos/core/math';
import { sharedFloat32, sharedUint8 } from '@zographos/core/shared-arrays';
import type { Canvas } from '../../runContext.ts';
import { combinedAt } from './lightPasses.ts';

/** Side of the small picture that is looked at while a tile grows finer. */
const SIDE = 512;

/** The combined light of a tile as it grows finer, small and as bright as suits a screen. */
export class LightCanvas implements Canvas {
  readonly image: Image;
  readonly states: Uint8Array;
  draft: Canvas | null = null;

  constructor({ width, height }: Size) {
    const scale = Math.min(1, SIDE / Math.max(width, height));
    const size = { width: Math.max(1, Math.round(width * scale)), height: Math.max(1, Math.round(height * scale)) };
    const texels = size.width * size.height;
    this.image = { ...size, channels: 3, data: sharedFloat32(texels * 3), colorSpace: 'srgb' };
    this.states = sharedUint8(texels);
  }

  /** Shows what there is of a tile of any size. @param samples that were taken */
  show(work: LightWork, samples: number): void {
    const { width, height, data } = this.image;
    const { size } = work.plan;
    const picture = new Float32Array(data.length);
    const sums = [0, 0, 0];
    let covered = 0;
    for (let y = 0; y < height; y++) {
      const row = Math.floor(((y + 0.5) * size.height) / height) * size.width;
      for (let x = 0; x < width; x++) {
        const from = row + Math.floor(((x + 0.5) * size.width) / width);
        const at = y * width + x;
        this.states[at] = work.target.states[from]!;
        if (this.states[at] !== TexelState.covered) continue;
        covered++;
        for (let c = 0; c < 3; c++) {
          picture[at * 3 + c] = combinedAt(work, from, c) / samples;
          sums[c]! += picture[at * 3 + c]!;
        }
      }
    }
    const exposure = exposureOf(sums.map((sum) => sum / Math.max(1, covered)));
    data.set(forScreen({ ...this.image, data: picture }, 'filmic', exposure).data);
  }
}
