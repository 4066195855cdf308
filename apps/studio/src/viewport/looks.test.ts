import fc from 'fast-check';
import type { Mesh as Body } from 'three';
import {
  BufferAttribute,
  BufferGeometry,
  LinearSRGBColorSpace,
  NearestFilter,
  SRGBColorSpace,
  Texture,
  Vector3,
} from 'three';
import { DataUtils } from 'three';
import { afterEach, describe, expect, it, vi } from 'vitest';
import type { MapRevision } from '@zographos/contracts';
import {
  AXIS_ORDERS,
  channelsOfAxes,
  GLTF_NORMAL,
  inNormalSpace,
  isCategory,
  isColor,
  MAP_KIND_IDS,
  type MapKind,
  type NormalSpace,
} from '@zographos/core/image';
import { fullProject } from '../testing/fullProject.ts';
import type { Geometry } from './geometry/geometryWorker.ts';
import { MapPictures } from './materials/mapPictures.ts';
import { checkerTexture, heightTexture, mapTexture } from './materials/mapTextures.ts';
import { placeMarker, SeamHeat, Shell } from './overlays.ts';
import { DENSE_FACES, meshBody, shapeBody, SHAPE_LABELS, SHAPES } from './geometry/shapes.ts';
import { LIT_KINDS, setNormalStrength, swizzleOf, viewMaterial } from './materials/viewMaterial.ts';

afterEach(() => vi.unstubAllGlobals());

const anySpace: fc.Arbitrary<NormalSpace> = fc.record({
  space: fc.constant('tangent' as const),
  y: fc.constantFrom('up' as const, 'down' as const),
  axes: fc.constantFrom(...AXIS_ORDERS),
});

describe('how a normal map is read by the view', () => {
  it('is what the core makes of its convention, in every space', () => {
    fc.assert(
      fc.property(
        anySpace,
        fc.tuple(fc.integer({ min: 0, max: 8 }), fc.integer({ min: 0, max: 8 }), fc.integer({ min: 0, max: 8 })),
        (space, parts) => {
          const data = Float32Array.from(parts, (part) => part / 8);
          const seen = new Vector3(...[...data].map((value) => value * 2 - 1)).applyMatrix3(swizzleOf(space));
          const image = { width: 1, height: 1, channels: 3, data, convention: { of: 'direction' as const, ...space } };
          const meant = inNormalSpace(image, GLTF_NORMAL, 'a').data;
          seen.toArray().forEach((value, k) => expect(value).toBeCloseTo(meant[k]! * 2 - 1, 6));
        },
      ),
    );
    expect(channelsOfAxes('xyz')).toEqual([0, 1, 2]);
  });

  it('is as strong as was asked for, and changed without a new material', () => {
    const look = { normals: { ...GLTF_NORMAL, space: 'object' as const }, normalStrength: 0.5 };
    const material = viewMaterial(new Map(), look, new BufferGeometry());
    const uniforms = material.userData['uniforms'] as { strength: { value: number }; objectSpace: { value: boolean } };
    expect([uniforms.strength.value, uniforms.objectSpace.value]).toEqual([0.5, true]);
    setNormalStrength(material, 2);
    expect(uniforms.strength.value).toBe(2);
  });
});

describe('a lit surface', () => {
  const texture = (): Texture => new Texture();
  const look = { normals: GLTF_NORMAL, normalStrength: 1 };

  it('has every channel that its maps give, and plain values for the others', () => {
    const maps = new Map<MapKind, Texture>(LIT_KINDS.map((kind) => [kind, texture()]));
    const dressed = viewMaterial(maps, look, new BufferGeometry());
    expect([
      dressed.map,
      dressed.aoMap,
      dressed.roughnessMap,
      dressed.metalnessMap,
      dressed.normalMap,
      dressed.emissiveMap,
      dressed.alphaMap,
    ]).toEqual(
      (['basecolor', 'ao', 'roughness', 'metallic', 'normal', 'emission', 'opacity'] as const).map((kind) =>
        maps.get(kind),
      ),
    );
    expect([dressed.roughness, dressed.metalness, dressed.transparent]).toEqual([1, 1, true]);
    const plain = viewMaterial(new Map(), look, new BufferGeometry());
    expect([plain.map, plain.transparent, plain.metalness]).toEqual([null, false, 0]);
  });

  it('rebuilds its normal from the frames, tints and directions that a geometry has', () => {
    const geometry = new BufferGeometry().setAttribute('frame', new BufferAttribute(new Float32Array(4), 4));
    expect(viewMaterial(new Map(), look, geometry).defines).toMatchObject({ HAS_FRAME: '' });
    expect(viewMaterial(new Map(), look, new BufferGeometry()).defines).not.toHaveProperty('HAS_FRAME');
  });
});

describe('maps as textures', () => {
  const image = { width: 2, height: 1, rgba: new Uint8ClampedArray(8), values: null };

  it('are colours only where they are, and unmixed where they stand for things', () => {
    for (const kind of MAP_KIND_IDS) {
      const texture = mapTexture(kind, image);
      expect(texture.colorSpace, kind).toBe(isColor(kind) ? SRGBColorSpace : LinearSRGBColorSpace);
      expect(texture.magFilter === NearestFilter, kind).toBe(isCategory(kind));
      // Row 0 is the top of the picture.
      expect(texture.flipY, kind).toBe(false);
    }
  });

  it('of heights are halves, to a part in two thousand', () => {
    const values = Float32Array.from([0.3333, 12.34, -5]);
    const { image: halves } = heightTexture({ width: 3, height: 1, values }) as unknown as {
      image: { data: Uint16Array };
    };
    values.forEach((value, i) =>
      expect(Math.abs(DataUtils.fromHalfFloat(halves.data[i]!) / value - 1)).toBeLessThan(1 / 1000),
    );
    expect(checkerTexture().repeat.x).toBeGreaterThan(1);
  });
});

describe('pictures of stored maps', () => {
  const [first, second] = fullProject().imageSets[0]!.maps.map(({ revisions }) => revisions[0]!) as [
    MapRevision,
    MapRevision,
  ];
  const tiles = (...maps: [MapKind, MapRevision][]) => [{ tile: 1001, maps: new Map(maps) }];

  it('are fetched once each, and given back when no tile has them any more', async () => {
    const asked: string[] = [];
    vi.stubGlobal('fetch', (path: string) => {
      asked.push(path);
      return Promise.resolve(new Response(new Blob([])));
    });
    vi.stubGlobal('createImageBitmap', () => Promise.resolve({ width: 1, height: 1 }));
    const pictures = new MapPictures();
    const loaded = await pictures.load(tiles(['normal', first], ['ao', second]));
    expect([...loaded.get(1001)!.maps.keys()]).toEqual(['normal', 'ao']);
    await pictures.load(tiles(['normal', first], ['ao', second]));
    expect(asked).toHaveLength(2);
    const dispose = vi.spyOn(loaded.get(1001)!.maps.get('ao')!, 'dispose');
    await pictures.load(tiles(['normal', first]));
    pictures.keepOnly(tiles(['normal', first]));
    await Promise.resolve();
    expect(dispose).toHaveBeenCalled();
  });

  it('come with the convention of their normals, and with that of glTF where nobody has said', async () => {
    vi.stubGlobal('fetch', () => Promise.resolve(new Response(new Blob([]))));
    vi.stubGlobal('createImageBitmap', () => Promise.resolve({ width: 1, height: 1 }));
    const down = { of: 'direction', space: 'tangent', y: 'down', axes: 'xyz' } as const;
    const normals = async (convention: typeof down | null) =>
      (await new MapPictures().load(tiles(['normal', { ...first, convention }]))).get(1001)!.normals;
    expect(await normals(down)).toEqual(down);
    expect(await normals(null)).toEqual(GLTF_NORMAL);
  });

  it('that cannot be had are an error, and fetched again', async () => {
    let isDown = true;
    vi.stubGlobal('fetch', () =>
      Promise.resolve(isDown ? new Response('', { status: 503 }) : new Response(new Blob([]))),
    );
    vi.stubGlobal('createImageBitmap', () => Promise.resolve({ width: 1, height: 1 }));
    const pictures = new MapPictures();
    await expect(pictures.load(tiles(['normal', first]))).rejects.toThrow(
      'A map could not be fetched from the server.',
    );
    isDown = false;
    expect((await pictures.load(tiles(['normal', first]))).size).toBe(1);
    pictures.dispose();
  });
});

/** At its poles three.js shifts the UVs of a sphere by half a face. */
const HALF_FACE = 0.004;

describe('shapes that show a material', () => {
  it.each(SHAPES)(
    '%s has UVs of a whole number of tiles, about square on it, and more faces for displacement',
    (shape) => {
      const { geometry, tiles, faces } = shapeBody(shape);
      expect(tiles.every((count) => Number.isInteger(count) && count > 0)).toBe(true);
      const uvs = geometry.getAttribute('uv').array;
      expect(Math.min(...uvs)).toBeGreaterThanOrEqual(-HALF_FACE);
      expect(Math.max(...uvs)).toBeLessThanOrEqual(1 + HALF_FACE);
      expect(shapeBody(shape, DENSE_FACES).faces).toBeGreaterThan(faces);
      expect(SHAPE_LABELS[shape]).toMatch(/^[A-Z]/);
    },
  );

  const mesh: Geometry = {
    ...{
      positions: Float32Array.from([0, 0, 0, 4, 0, 0, 0, 4, 0]),
      normals: new Float32Array(9),
      uvs: Float32Array.from([0, 0, 0.5, 0, 0, 0.5]),
    },
    ...{
      tangents: new Float32Array(12),
      directions: Float32Array.from([0, 0, 1, 0, 0, 1, 0, 0, 1]),
      indices: null,
      tiles: [],
    },
    ...{
      vertices: Uint32Array.from([0, 1, 2]),
      triangles: Uint32Array.from([0]),
      centre: [0, 0, 0],
      radius: 1,
      box: { min: [0, 0, 0], max: [4, 4, 0] },
    },
  };

  it('a mesh has a tile as wide as a square of its UVs is on it', () => {
    const body = meshBody(mesh);
    expect(body.tileWidth).toBeCloseTo(8, 6);
    for (const name of ['frame', 'direction', 'uv']) expect(body.geometry.hasAttribute(name)).toBe(true);
    expect(meshBody({ ...mesh, uvs: null }).tileWidth).toBe(1);
  });

  it('a shell lies as far out and in as rays reach, and is cleared', () => {
    const shell = new Shell();
    shell.set(mesh, { out: Float32Array.from([1, 2, 3]), in: Float32Array.from([0.5, 0.5, 0.5]) });
    const [skin] = shell.group.children as Body[];
    const heights = [0, 1, 2].map((i) => skin!.geometry.getAttribute('position').getZ(i));
    expect(heights).toEqual([1, 2, 3]);
    expect(shell.group.children.length).toBe(3);
    shell.clear();
    expect(shell.group.children).toEqual([]);
    shell.set({ ...mesh, directions: null }, { out: new Float32Array(3), in: new Float32Array(3) });
    expect(shell.group.children).toEqual([]);
  });

  it('seams are pale where both sides agree and red where they differ most', () => {
    const heat = new SeamHeat();
    heat.set([0, 0, 0, 0, 1, 1, 1, 0.5], 0.5);
    expect(heat.points.visible).toBe(true);
    const colors = heat.points.geometry.getAttribute('color');
    expect(colors.getY(0)).toBeGreaterThan(colors.getY(1) + 0.5);
    heat.set([], 1);
    expect(heat.points.visible).toBe(false);
    expect(placeMarker().visible).toBe(false);
  });
});
