import { ZographosError } from '../../errors.ts';
import { isColorChannel, isOwnMask, type LayerChannel } from '../channels.ts';
import type { LayeredTile } from '../surface/layeredSurface.ts';
import type { LayerInputs } from '../inputs/layerInputs.ts';
import { projector } from '../inputs/projection.ts';
import type { TilingPaint } from '../painting/stroke.ts';
import type { Stack } from '../stack.ts';
import { addGradient, gradientToNormals, putUnit } from '../surface/surfaceGradient.ts';
import { TEXELS, type TexelBlock } from '../surface/texelBlock.ts';
import { TextureSampler } from '../inputs/textureSampler.ts';
import { asMixed, type BlockContent } from './blockContent.ts';

/** A tiling material, projected onto the surface at its size in the world. @throws missing/not-found for one without maps */
export function tilingContent(
  content: TilingPaint,
  tile: LayeredTile,
  inputs: LayerInputs,
  mixing: Stack['mixing'],
): BlockContent {
  const material = inputs.materials[content.material];
  const first = Object.values(material?.maps ?? {})[0]?.[0];
  if (!material || !first) {
    throw new ZographosError(
      'missing/not-found',
      `Material ${content.material + 1} of a layer is not there any more. Choose another, or remove the layer.`,
    );
  }
  const samplers = new Map<LayerChannel, TextureSampler>();
  for (const channel of content.channels) {
    const levels = material.maps[channel];
    if (levels) samplers.set(channel, new TextureSampler(levels, 'repeat'));
  }
  const at = projector(content, material.width, first.height / first.width, tile);
  const seen = new Float32Array(TEXELS * 4);
  const gradient = new Float32Array(TEXELS * 3);
  const turn = (content.turn * Math.PI) / 180;

  const mean = (sampler: TextureSampler, { count }: TexelBlock, width: number, out: Float32Array): void => {
    const planes = at.planes.filter(({ counts }) => counts);
    if (planes.length === 1) {
      sampler.sample(planes[0]!.places, count, at.footprint, sampler.channels <= width ? out : seen);
      if (sampler.channels > width) out.set(seen.subarray(0, width * TEXELS));
      return;
    }
    out.fill(0, 0, width * TEXELS);
    for (const { places, weight } of planes) {
      sampler.sample(places, count, at.footprint, seen);
      for (let k = 0; k < width; k++) {
        for (let i = 0; i < count; i++) out[k * TEXELS + i]! += seen[k * TEXELS + i]! * weight[i]!;
      }
    }
  };

  const detail = (sampler: TextureSampler, block: TexelBlock, out: Float32Array): void => {
    const [plane] = at.planes;
    if (at.planes.length === 1 && !plane!.axes) {
      sampler.sample(plane!.places, block.count, at.footprint, seen);
      turned(seen, turn, content.relief, block.count, out);
      return;
    }
    gradient.fill(0);
    for (const each of at.planes) {
      if (!each.counts) continue;
      sampler.sample(each.places, block.count, at.footprint, seen);
      addGradient(seen, each, content.relief, block.count, gradient);
    }
    gradientToNormals(gradient, block, out);
  };

  return {
    channels: content.channels.filter((channel) => samplers.has(channel) || isOwnMask(channel)),
    begin(block) {
      at.project(block);
      return true;
    },
    read(channel, block, out) {
      if (isOwnMask(channel)) {
        out.fill(1, 0, block.count);
        return;
      }
      const sampler = samplers.get(channel)!;
      if (channel === 'normal') {
        detail(sampler, block, out);
        return;
      }
      mean(sampler, block, isColorChannel(channel) ? 3 : 1, out);
      if (isColorChannel(channel)) asMixed(mixing, out, block.count);
      if (channel === 'height') {
        const scale = content.relief * content.scale;
        for (let i = 0; i < block.count; i++) out[i]! *= scale;
      }
    },
  };
}

/** Normals of a material that is turned within the tangent space. */
function turned(seen: Float32Array, turn: number, relief: number, count: number, out: Float32Array): void {
  const [cos, sin] = [Math.cos(turn), Math.sin(turn)];
  for (let i = 0; i < count; i++) {
    const x = seen[i]! * relief;
    const y = seen[TEXELS + i]! * relief;
    putUnit(out, i, x * cos - y * sin, x * sin + y * cos, seen[TEXELS * 2 + i]!);
  }
}
