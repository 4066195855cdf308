import { describe, expect, it } from 'vitest';
import { boundsOf, diagonal } from '@zographos/core/mesh';
import { checkLayout, layoutOf } from '@zographos/core/uv';
import { DEFAULT_LIMITS, guessKind, readImageFile } from '@zographos/formats/images';
import { OPERATIONS, pairUp, parseSettings } from '@zographos/operations';
import { bellBuoyLight } from './bellBuoy.ts';
import { bollardLight } from './bollard.ts';
import { DEMO_FLAT_TICKETS, DEMO_TICKETS } from './index.ts';
import { strokeDistance, textWidth } from './lettering.ts';
import { fishScale, roofPlane } from './roof.ts';
import { arcLengths, BUOY, pointAlong } from './profile.ts';
import { bump, rise } from './sweep.ts';
import { demoBytes, demoMeshes } from './testing/demoMeshes.ts';

const files = await demoBytes();
const meshes = await demoMeshes(files);

describe('the files of the demo', () => {
  it('are read without a fault, in every format that meshes come in but two', () => {
    const endings = new Set([...files.keys()].map((name) => name.slice(name.lastIndexOf('.'))));
    expect(endings).toEqual(new Set(['.obj', '.ply', '.mtl', '.glb', '.jpg']));
    for (const mesh of meshes.values()) {
      for (const value of mesh.positions) if (!Number.isFinite(value)) throw new Error(`${mesh.name} is not finite`);
      expect(Math.max(...mesh.indices.slice(0, 3000))).toBeLessThan(mesh.positions.length / 3);
    }
  });

  it('are as heavy as a day’s work: a source of a million triangles', () => {
    const heaviest = Math.max(...[...meshes.values()].map(({ indices }) => indices.length / 3));
    expect(heaviest).toBeGreaterThan(1_000_000);
  });

  it('are the same every time', () => {
    for (const make of [bellBuoyLight, bollardLight, roofPlane, fishScale]) expect(make()).toEqual(make());
  });

  it('have a photograph whose name says nothing and whose content says image', async () => {
    const image = await readImageFile('Harbour stone.jpg', files.get('Harbour stone.jpg')!, DEFAULT_LIMITS);
    expect(image.width * image.height).toBeGreaterThan(1_000_000);
    expect(guessKind('Harbour stone.jpg', image, false).kind).toBe('image');
  });
});

describe('the tickets of the demo', () => {
  it.each(DEMO_TICKETS)(
    '$name has its meshes, of one scale, and settings that the schema takes',
    ({ settings, receivers, sources }) => {
      expect(parseSettings('bake', settings)).toEqual(settings);
      for (const name of [...receivers, ...sources]) expect(meshes.has(name), name).toBe(true);
      const box = (names: readonly string[]): number =>
        Math.max(...names.map((name) => diagonal(boundsOf(meshes.get(name)!.positions))));
      // What repeats over a tile is smaller than it.
      if (settings.repeat === 'none') expect(box(sources) / box(receivers)).toBeCloseTo(1, 0);
      if (settings.match !== 'all') {
        const { unseen, groupOf } = pairUp(receivers, sources, settings.match);
        expect([unseen, groupOf.includes(null)]).toEqual([[], false]);
      }
    },
  );

  it('of one body each bake onto layouts on which nothing lies on anything else', () => {
    const layouts = new Map(
      DEMO_TICKETS.filter(({ receivers }) => receivers.length === 1).flatMap(({ receivers, settings }) =>
        receivers.map((name) => [`${name} ${settings.uvSet}`, { name, uvSet: settings.uvSet }] as const),
      ),
    );
    for (const { name, uvSet } of layouts.values()) {
      const mesh = meshes.get(name)!;
      if (!mesh.uvSets[uvSet]) continue;
      const { overlaps, flipped } = checkLayout(layoutOf(mesh, uvSet), {
        size: { width: 1024, height: 1024 },
        padding: 4,
        tiles: 'all',
      });
      expect(
        [...overlaps.flagged].filter((flag) => flag > 0),
        name,
      ).toHaveLength(0);
      expect(flipped, name).toHaveLength(0);
    }
  });

  it.each(DEMO_FLAT_TICKETS)('$name is a step of a material that its schema takes', ({ operation, settings, from }) => {
    expect(OPERATIONS[operation].settings.safeParse(settings).error).toBeUndefined();
    if (from && 'image' in from) expect([...files.keys()].some((name) => name.startsWith(from.image))).toBe(true);
    if (from && 'map' in from) {
      const makers = DEMO_FLAT_TICKETS.filter((other) =>
        OPERATIONS[other.operation].outputs(other.settings as never).includes(from.map),
      );
      expect(makers.length).toBeGreaterThan(0);
    }
  });
});

describe('the outlines of the buoy', () => {
  it('run on from section to section, and are measured along their way', () => {
    for (const { points } of BUOY) {
      const lengths = arcLengths(points);
      expect(lengths).toEqual(lengths.toSorted((a, b) => a - b));
      const whole = lengths.at(-1)!;
      const { point: first } = pointAlong(points, lengths, 0);
      const { point: last } = pointAlong(points, lengths, whole);
      first.forEach((value, k) => expect(value).toBeCloseTo(points[0]![k]!, 9));
      last.forEach((value, k) => expect(value).toBeCloseTo(points.at(-1)![k]!, 9));
      for (const share of [0.1, 0.5, 0.9]) {
        const { normal } = pointAlong(points, lengths, whole * share);
        expect(Math.hypot(...normal)).toBeCloseTo(1, 9);
      }
    }
  });

  it('have reliefs that rise softly from nothing to all', () => {
    expect([rise(5, 1, 3), rise(2, 1, 3), rise(0, 1, 3)]).toEqual([0, 0.5, 1]);
    expect([bump(0), bump(1), bump(-2)]).toEqual([1, 0, 0]);
  });

  it('carry letters: near on a stroke, far beside it, nothing where there is no letter', () => {
    expect(textWidth('QUAY 7')).toBeCloseTo(6 * textWidth('Q'), 9);
    const near = Math.min(...Array.from({ length: 50 }, (_, i) => strokeDistance('L', (i / 50) * textWidth('L'), 0)));
    expect(near).toBeLessThan(0.05);
    expect(strokeDistance(' ', 0.2, 0.5)).toBe(Infinity);
    expect(strokeDistance('L', -5, 0)).toBe(Infinity);
  });
});
