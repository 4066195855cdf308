import { describe, expect, it } from 'vitest';
import { degenerateTriangles } from '../mesh/degenerate.ts';
import { splitSphere } from '../testing/shapes.ts';
import { planBlocks } from './coverage/blocks.ts';
import { Coverage } from './coverage/coverage.ts';
import { prepareReceiver } from './receiver.ts';

describe('a receiver', () => {
  it('claims no texels for triangles without area, whatever their UVs are', () => {
    const ball = splitSphere('ball', 1, 8, 16);
    const poles = new Set(degenerateTriangles(ball.positions, ball.indices));
    expect(poles.size).toBe(32);
    const { uvs, indices } = prepareReceiver([{ mesh: ball, group: 0 }], 0);
    const plan = planBlocks(uvs, indices, { width: 128, height: 128 });
    const coverage = new Coverage(uvs, indices, plan, 2);
    const claimed = new Set<number>();
    let overlapping = 0;
    for (let block = 0; block < plan.columns * plan.rows; block++) {
      const samples = coverage.sampleBlock(block);
      overlapping += samples.overlapping;
      for (let s = 0; s < samples.count; s++) claimed.add(samples.triangles[s]!);
    }
    expect(overlapping).toBe(0);
    expect([...claimed].filter((triangle) => poles.has(triangle))).toEqual([]);
    // All others do.
    expect(claimed.size).toBe(ball.indices.length / 3 - poles.size);
  });
});
