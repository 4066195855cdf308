import { facesAlong } from '@zographos/core/mesh';
import { hitBatch, rayBatch } from '@zographos/core/trace';
import { tracersOn } from '../../scene/sceneTree.ts';
import type { LitScene } from '../scene/litScene.ts';
import type { LightSettings, PlacedLight } from '../settings.ts';

/** Directions of a cube's faces and corners. */
const DIRECTIONS: readonly (readonly [number, number, number])[] = [
  ...[0, 1, 2].flatMap((axis) => [-1, 1].map((sign) => [0, 1, 2].map((k) => (k === axis ? sign : 0)))),
  ...[0, 1, 2, 3, 4, 5, 6, 7].map((bits) => [0, 1, 2].map((k) => ((bits >> k) & 1 ? 1 : -1) / Math.sqrt(3))),
].map(([x, y, z]) => [x!, y!, z!]);
/** Of so many of them a light that is shut in sees the next surface from behind. */
const SHUT_IN = 12;

/** Numbers of placed lights that stand inside a body, so that their light reaches nothing without. */
export function shutInLights({ tree, light }: LitScene, settings: LightSettings): number[] {
  const tracer = tracersOn({ kind: 'kernel', tree }, 0)[0]!;
  const rays = rayBatch(DIRECTIONS.length);
  const hits = hitBatch(DIRECTIONS.length);
  return settings.lights.flatMap((placed, number) => {
    const from = middleOf(placed);
    if (!from) return [];
    // From just without the lamp itself.
    const without = 'radius' in placed ? placed.radius * 1.02 : 0;
    DIRECTIONS.forEach((direction, r) => {
      for (let k = 0; k < 3; k++) {
        rays.origins[r * 3 + k] = from[k]! + direction[k]! * without;
        rays.directions[r * 3 + k] = direction[k]!;
      }
      rays.lengths[r] = light.extent * 4;
    });
    rays.count = DIRECTIONS.length;
    tracer.closestHits(rays, hits, 'accept');
    const behind = DIRECTIONS.filter(
      ([x, y, z], r) => hits.triangles[r]! >= 0 && facesAlong(light.scene, hits.triangles[r]!, x, y, z),
    );
    return behind.length >= SHUT_IN ? [number] : [];
  });
}

/** Where a light stands that shines to all sides; null for one that does not. */
const middleOf = (light: PlacedLight): readonly [number, number, number] | null =>
  light.kind === 'point' || light.kind === 'sphere' ? light.position : null;
