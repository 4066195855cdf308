import { isColorChannel } from '../channels.ts';
import type { LayeredTile } from '../surface/layeredSurface.ts';
import type { LayerInputs } from '../inputs/layerInputs.ts';
import { greyOf, requirePicture } from '../mask/maskStep.ts';
import type { PictureContent, Stack } from '../stack.ts';
import { putUnit } from '../surface/surfaceGradient.ts';
import { TEXELS } from '../surface/texelBlock.ts';
import { SamplePlaces, TextureSampler } from '../inputs/textureSampler.ts';
import { asMixed, type BlockContent } from './blockContent.ts';
import { placeOn } from './picturePlace.ts';

/** One picture on the surface, with its own alpha. @throws missing/not-found */
export function pictureContent(
  { picture, channels, place, relief }: PictureContent,
  tile: LayeredTile,
  inputs: LayerInputs,
  mixing: Stack['mixing'],
): BlockContent {
  const levels = requirePicture(picture, inputs);
  const sampler = new TextureSampler(levels, 'clamp');
  const { width, height } = levels[0]!;
  const placed = placeOn(place, tile, height / width);
  const seen = new Float32Array(TEXELS * 4);
  const places = new SamplePlaces();
  const alpha = new Float32Array(TEXELS);
  const own = new Float32Array(TEXELS);
  return {
    channels,
    alpha,
    begin(block) {
      placed.place(block, places.u, places.v, alpha);
      places.moved();
      sampler.sample(places, block.count, placed.footprint, seen);
      greyOf(seen, sampler.channels, 'alpha', block.count, own);
      let most = 0;
      for (let i = 0; i < block.count; i++) {
        alpha[i]! *= own[i]!;
        if (alpha[i]! > most) most = alpha[i]!;
      }
      return most > 0;
    },
    read(channel, { count }, out) {
      if (isColorChannel(channel)) {
        for (let k = 0; k < 3; k++) {
          const from = sampler.channels < 3 ? 0 : k * TEXELS;
          out.set(seen.subarray(from, from + count), k * TEXELS);
        }
        asMixed(mixing, out, count);
        return;
      }
      if (channel === 'normal') {
        for (let i = 0; i < count; i++) {
          putUnit(out, i, seen[i]! * 2 - 1, seen[TEXELS + i]! * 2 - 1, seen[TEXELS * 2 + i]! * 2 - 1);
        }
        return;
      }
      greyOf(seen, sampler.channels, 'grey', count, out);
      if (channel === 'height') for (let i = 0; i < count; i++) out[i]! *= relief;
    },
  };
}
