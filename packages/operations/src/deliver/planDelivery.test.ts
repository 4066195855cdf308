import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { GLTF_NORMAL, type MapKind } from '@zographos/core/image';
import { IMAGE_FORMAT_NAMES, IMAGE_FORMATS } from '@zographos/formats/image-formats';
import { isColourFile, mapsOf, planDelivery, type MapFacts, type SetFacts } from './planDelivery.ts';
import { deliveryProfile, PACKINGS, READY_PROFILES, type DeliveredFile, type DeliveryProfile } from './settings.ts';

const map = (kind: MapKind, more: Partial<MapFacts> = {}): MapFacts => ({
  ...{ kind, tile: 1001, revision: 1, width: 512, height: 512, channels: 3, range: [0, 1] },
  ...{ colorSpace: kind === 'basecolor' ? 'srgb' : 'linear' },
  ...more,
});
const set = (name: string, maps: readonly MapFacts[], hasMesh = false): SetFacts => ({ name, maps, hasMesh });
const profile = (files: readonly DeliveredFile[], more: Partial<DeliveryProfile> = {}): DeliveryProfile =>
  deliveryProfile.parse({ name: 'Test', files, ...more });
const alone = (kind: MapKind, format: (typeof IMAGE_FORMAT_NAMES)[number] = 'png8'): DeliveredFile => ({
  map: kind,
  label: kind,
  format,
});
const pathsOf = (files: readonly { path: string }[]): string[] => files.map(({ path }) => path);

describe('the files of a delivery', () => {
  it('are named by what stands in braces, and what is not known stays', () => {
    const given = profile([alone('normal')], {
      pattern: '{project}/{set}_{map}.{tile}.{size}.v{revision}{flavour}{constructor}',
    });
    const { files } = planDelivery(given, 'Slip', [set('Bell', [map('normal', { revision: 3, height: 256 })])]);
    expect(pathsOf(files)).toEqual(['Slip/Bell_normal.1001.512x256.v3{flavour}{constructor}.png']);
  });

  it('stay in their folder and apart, whatever sets and projects are called', () => {
    fc.assert(
      fc.property(
        fc.array(fc.string({ maxLength: 12 }), { minLength: 1, maxLength: 4 }),
        fc.string({ maxLength: 8 }),
        (names, project) => {
          const sets = names.map((name) => set(name, [map('normal'), map('ao')]));
          let paths: string[];
          try {
            paths = pathsOf(
              planDelivery(profile([alone('normal'), alone('ao')], { pattern: '{project}/{set}/{map}' }), project, sets)
                .files,
            );
          } catch (error) {
            expect((error as Error).message).toMatch(/Two files would be called/);
            return;
          }
          expect(new Set(paths.map((path) => path.toLowerCase())).size).toBe(paths.length);
          for (const path of paths) {
            expect(path.split('/')).toHaveLength(3);
            for (const part of path.split('/')) expect(['', '.', '..']).not.toContain(part);
            expect(path).not.toMatch(/[\\:*?"<>|]/);
          }
        },
      ),
    );
  });

  it('that would have one name are refused, also where only capitals differ, and never replace the manifest', () => {
    const plain = profile([alone('normal')], { pattern: '{map}' });
    expect(() => planDelivery(plain, 'A', [set('a', [map('normal')]), set('b', [map('normal')])])).toThrow(
      /Two files would be called “normal\.png”.*put \{set\}/,
    );
    expect(() =>
      planDelivery(profile([alone('normal'), { ...alone('ao'), label: 'NORMAL' }], { pattern: '{map}' }), 'A', [
        set('a', [map('normal'), map('ao')]),
      ]),
    ).toThrow(/Two files/);
    expect(() => deliveryProfile.parse({ name: 'A', files: [alone('ao')], pattern: '../{map}' })).toThrow();
  });

  it('have one for each tile, whose number is told wherever there are several', () => {
    const tiles = [1001, 1002].map((tile) => map('normal', { tile }));
    const { files } = planDelivery(profile([alone('normal')], { pattern: '{map}' }), 'A', [set('a', tiles)]);
    expect(pathsOf(files)).toEqual(['normal.1001.png', 'normal.1002.png']);
    const single = planDelivery(profile([alone('normal')], { pattern: '{map}' }), 'A', [set('a', tiles.slice(1))]);
    expect(pathsOf(single.files)).toEqual(['normal.png']);
  });

  it('are halved and made powers of two as asked for, and never less than a texel', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 16384 }),
        fc.integer({ min: 1, max: 16384 }),
        fc.integer({ min: 0, max: 8 }),
        fc.boolean(),
        (width, height, halvings, powerOfTwo) => {
          const [file] = planDelivery(profile([alone('ao')], { halvings, powerOfTwo }), 'A', [
            set('a', [map('ao', { width, height })]),
          ]).files;
          for (const [side, given] of [
            [file!.width, width],
            [file!.height, height],
          ] as const) {
            expect(side).toBeGreaterThanOrEqual(1);
            const halved = Math.max(1, given / 2 ** halvings);
            if (powerOfTwo) {
              expect(Number.isInteger(Math.log2(side))).toBe(true);
              expect(Math.abs(Math.log2(side / Math.round(halved)))).toBeLessThanOrEqual(0.5);
            } else expect(Math.abs(side - halved)).toBeLessThanOrEqual(0.5);
          }
        },
      ),
    );
  });

  it.each(IMAGE_FORMAT_NAMES)('as %s end as that format does', (format) => {
    const { files } = planDelivery(profile([alone('ao', format)]), 'A', [set('a', [map('ao')])]);
    expect(files[0]!.path.endsWith(`.${IMAGE_FORMATS[format].ending}`)).toBe(true);
  });
});

describe('what the artist should know of a delivery', () => {
  const packed: DeliveredFile = {
    ...{ label: 'orm', format: 'png8' },
    channels: (['ao', 'roughness', 'metallic'] as const).map((kind) => ({
      map: kind,
      channel: 0,
      invert: false,
      levels: [0, 1] as [number, number],
    })),
  };
  const notes = (
    files: readonly DeliveredFile[],
    maps: readonly MapFacts[],
    more: Partial<DeliveryProfile> = {},
  ): string[] => planDelivery(profile(files, more), 'A', [set('Bell', maps)]).notes;

  it('is what is missing, by its words', () => {
    expect(notes([packed, alone('normal')], [map('ao'), map('roughness')])).toEqual([
      '“Bell” has no metallic map; “orm” holds its neutral value instead.',
      '“Bell” has no normal map; “normal” is left out.',
    ]);
  });

  it('is what was resampled, and from what to what', () => {
    expect(notes([packed], [map('ao'), map('roughness', { width: 256 }), map('metallic')])).toEqual([
      'The roughness map of “Bell” was resampled from 256 × 512 to 512 × 512 px for “orm”.',
    ]);
  });

  it('is colour that is packed with data, or into alpha', () => {
    const channel = (kind: MapKind, at = 0) => ({
      map: kind,
      channel: at,
      invert: false,
      levels: [0, 1] as [number, number],
    });
    const mixed: DeliveredFile = {
      label: 'mixed',
      format: 'png8',
      channels: [channel('basecolor'), channel('ao'), channel('ao')],
    };
    expect(notes([mixed], [map('basecolor'), map('ao')])[0]).toMatch(
      /“mixed” packs base colour, which is sRGB, together with linear data/,
    );
    const inAlpha: DeliveredFile = {
      ...mixed,
      channels: [...[0, 1, 2].map(() => channel('ao')), channel('basecolor')],
    };
    expect(notes([inAlpha], [map('basecolor'), map('ao')])[0]).toMatch(/into alpha/);
  });

  it('is that object-space normals stay so, and that glTF cannot hold them', () => {
    const convention = { of: 'direction' as const, ...GLTF_NORMAL, space: 'object' as const };
    const normal = map('normal', { convention });
    expect(notes([alone('normal')], [normal])[0]).toMatch(/is in object space and stays so in “normal”/);
    expect(() => planDelivery(profile([alone('normal')], { mesh: 'glb' }), 'A', [set('Bell', [normal], true)])).toThrow(
      /The normal map of “Bell” is in object space, which a material of glTF cannot hold\. Bake it in tangent space/,
    );
  });

  it('is that there is nothing to deliver', () => {
    expect(() => planDelivery(profile([alone('emission')]), 'A', [set('Bell', [map('ao')])])).toThrow(
      /The profile “Test” asks for maps that the chosen sets do not have\. Run their tickets first/,
    );
    expect(planDelivery(profile([alone('ao')], { mesh: 'glb' }), 'A', [set('Bell', [map('ao')])]).notes).toEqual([
      '“Bell” has no mesh, so none is included.',
    ]);
  });
});

describe('profiles and packings that are ready', () => {
  it('are taken by their schema as they stand, under names of their own', () => {
    for (const ready of READY_PROFILES) expect(deliveryProfile.parse(ready)).toEqual(ready);
    expect(new Set(READY_PROFILES.map(({ name }) => name)).size).toBe(READY_PROFILES.length);
    expect(new Set(PACKINGS.map(({ label }) => label)).size).toBe(PACKINGS.length);
    for (const packing of PACKINGS) expect(mapsOf({ ...packing, format: 'png8' }).length).toBeGreaterThan(0);
  });

  it('deliver colours as colours and data as data', () => {
    const spaceOf = (kind: MapKind) =>
      kind === 'basecolor' || kind === 'emission' ? ('srgb' as const) : ('linear' as const);
    for (const { files } of READY_PROFILES) {
      for (const file of files) {
        const kinds = mapsOf(file);
        expect(isColourFile(file, spaceOf)).toBe(kinds.length > 0 && kinds.every((kind) => spaceOf(kind) === 'srgb'));
      }
    }
  });
});
