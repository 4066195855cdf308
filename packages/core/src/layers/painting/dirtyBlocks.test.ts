import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { NO_INPUTS } from '../../testing/layers.ts';
import { sphere } from '../../testing/shapes.ts';
import { barePlanes, copyPlanes } from '../compose/layerPlanes.ts';
import { composeLayers, layAgain, layRelief, planesFor } from '../compose/composeTile.ts';
import { layeredMeshes, layeredTile } from '../surface/layeredSurface.ts';
import type { LayerInputs } from '../inputs/layerInputs.ts';
import { onThisThread } from '../compose/onThisThread.ts';
import type { LayerChannel } from '../channels.ts';
import { channelsOf, PLAIN_SHAPING, type Layer } from '../stack.ts';
import { CoverageMemory } from './coverageMemory.ts';
import { BlockBoxes } from './dirtyBlocks.ts';
import { PLAIN_BRUSH, POINT, type Stroke } from './stroke.ts';

const base = {
  ...{ visible: true, opacity: 1, blend: 'normal' as const, blends: {}, heightBlend: 'add' as const },
  ...{ normalBlend: 'detail' as const, mask: { steps: [], shaping: PLAIN_SHAPING } },
};
const ground: Layer = { ...base, id: 'g', name: 'ground', content: 'plain', values: { roughness: 0.2, height: 1 } };
const paintedInto = (channels: LayerChannel[]): Layer => ({
  ...{ ...base, id: 'p', name: 'painted', content: 'painted', channels, strokes: ['s'] },
});
const above: Layer = { ...base, id: 'a', name: 'above', content: 'plain', values: { roughness: 1 }, opacity: 0.3 };
const surface = layeredMeshes([sphere('ball', 50, 24, 48)], 0, 1);
const tile = layeredTile(surface, 1001, { width: 192, height: 160 });
const channels = ['roughness', 'height', 'normal'] as const;
const inputsWith = (stroke: Stroke, memory?: CoverageMemory): LayerInputs => ({
  ...NO_INPUTS,
  strokes: new Map([['s', stroke]]),
  ...(memory ? { underPen: { name: 's', memory } } : {}),
});

/** Points on a sphere of radius 50, each with its normal. */
const places = fc
  .array(fc.tuple(fc.double({ min: -1, max: 1, noNaN: true }), fc.double({ min: 0, max: 6.28, noNaN: true })), {
    minLength: 2,
    maxLength: 6,
  })
  .map((all) =>
    all.flatMap(([z, turn]) => {
      const r = Math.sqrt(1 - z * z);
      const n = [r * Math.cos(turn), r * Math.sin(turn), z];
      return [...n.map((value) => value * 50), ...n, 1];
    }),
  );
const brushes = fc.record({
  radius: fc.double({ min: 2, max: 30, noNaN: true }),
  scatter: fc.constantFrom(0, 0.5),
  symmetry: fc.constantFrom(null, { by: 'mirror' as const, axis: 0 as const, at: 0 }),
});

describe('texels that a growing stroke reaches', () => {
  it.each([
    ['with slopes', ['roughness', 'height']],
    ['without slopes', ['roughness']],
  ] as [string, LayerChannel[]][])(
    'laid again %s, are what all is when it is composed anew',
    async (_name, written) => {
      const painted = paintedInto(written);
      const raises = written.includes('height');
      let least = Infinity;
      await fc.assert(
        fc.asyncProperty(places, brushes, fc.integer({ min: 0, max: 9 }), async (points, brush, seed) => {
          const whole: Stroke = {
            ...{ brush: { ...PLAIN_BRUSH, ...brush }, paint: { roughness: 0.9, height: 2 }, seed },
            points: Float32Array.from(points),
          };
          const count = points.length / POINT;
          const begun = { ...whole, points: whole.points.subarray(0, (count - 1) * POINT) };
          const everywhere = { doBlocks: onThisThread(tile, 'seen') };
          const beneath = barePlanes(tile, planesFor(channels));
          const place = { tile, options: everywhere };
          await composeLayers({ mixing: 'seen', layers: [ground] }, [
            { ...place, planes: beneath, inputs: inputsWith(whole) },
          ]);
          const composed = async (stroke: Stroke, memory?: CoverageMemory) => {
            const planes = copyPlanes(beneath);
            const inputs = inputsWith(stroke, memory);
            await composeLayers({ mixing: 'seen', layers: [painted, above] }, [{ ...place, planes, inputs }]);
            await layRelief(planes, channels, inputs, everywhere);
            return planes;
          };
          const memory = new CoverageMemory();
          const grown = await composed(begun, memory);
          const boxes = new BlockBoxes(tile);
          const under = boxes.under(whole, count - 1);
          const some = raises ? { blocks: boxes.withNeighbours(under.blocks) } : under;
          const only = { doBlocks: onThisThread(tile, 'seen', undefined, undefined, some) };
          const layers = [painted, above];
          expect(await layAgain({ layers }, beneath, grown, channelsOf(painted), inputsWith(whole, memory), only)).toBe(
            true,
          );
          if (raises) await layRelief(grown, channels, inputsWith(whole), only);
          const anew = await composed(whole);
          for (const channel of channels) expect(grown.channels[channel]).toEqual(anew.channels[channel]);
          least = Math.min(least, some.blocks.length);
        }),
        { numRuns: 12 },
      );
      expect(least).toBeLessThan(tile.plan.columns * tile.plan.rows);
    },
  );
});
