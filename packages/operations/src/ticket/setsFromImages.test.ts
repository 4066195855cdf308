import { createHash } from 'node:crypto';
import { afterAll, describe, expect, it } from 'vitest';
import { TexelState, type Image, type ImagePacking } from '@zographos/core/image';
import { reliefPlane } from '@zographos/core/testing';
import { encodeImage } from '@zographos/formats/images';
import { bakeTicket } from '../bake/bakeTicket.ts';
import { closeBakePool } from '../bake/bakeMaps.ts';
import { run as runSeamless } from '../seamless/run.ts';
import { hashedMesh } from '../scene/runMesh.ts';
import { collect, quietly } from '../testing/collect.ts';
import { proposeSets, ticketsOfSet, type ImageFacts } from './setsFromImages.ts';

afterAll(closeBakePool);

const image = (name: string, more: Partial<ImageFacts> = {}): ImageFacts => ({
  ...{ id: name, name, kind: 'roughness', colorSpace: 'linear', convention: null, packing: null, channels: 1 },
  ...{ width: 64, height: 64 },
  ...more,
});
const ORM: ImagePacking = (['ao', 'roughness', 'metallic'] as const).map((map) => ({ map, channel: 0, invert: false }));
const mesh = (name: string, triangles = 100, uvSets = 1) => ({ id: name, name, triangles, uvSets });

describe('sets of imported images', () => {
  it('are those that are called the same, each with the mesh of its name', () => {
    const sets = proposeSets(
      [
        image('quay/Bollard_normal.1001', { kind: 'normal' }),
        image('quay/bollard_normal.1002', { kind: 'normal' }),
        image('cleat_ORM', { packing: ORM, kind: 'image', channels: 3 }),
        image('cleat_basecolor', { kind: 'basecolor', channels: 4 }),
        image('cleat_roughness'),
        image('Harbour stone', { kind: 'image' }),
      ],
      [mesh('Cleat_high', 9000), mesh('Cleat_low', 300), mesh('bollard light'), mesh('bollard', 900, 0)],
    );
    const shown = sets.map(({ name, meshId, maps, leftOut }) => ({
      ...{ name, meshId, leftOut },
      maps: maps.map(({ meaning, tile }) => `${meaning.kind} ${tile}`),
    }));
    expect(shown).toEqual([
      { name: 'Bollard', meshId: 'bollard light', leftOut: [], maps: ['normal 1001', 'normal 1002'] },
      {
        ...{ name: 'cleat', meshId: 'Cleat_low', leftOut: ['cleat_roughness'] },
        maps: ['ao 1001', 'roughness 1001', 'metallic 1001', 'basecolor 1001', 'opacity 1001'],
      },
    ]);
  });

  it('of one set and one mesh go together whatever they are called, and of several do not', () => {
    expect(proposeSets([image('wood_roughness')], [mesh('hull')])[0]!.meshId).toBe('hull');
    expect(proposeSets([image('wood_roughness'), image('net_roughness')], [mesh('hull')])[0]!.meshId).toBeNull();
  });

  it('is one ticket for each size and tile', () => {
    const [set] = proposeSets(
      [
        image('a_roughness'),
        image('a_ao', { kind: 'ao', width: 128, height: 128 }),
        image('a_metal.1002', { kind: 'metallic' }),
      ],
      [mesh('a')],
    );
    const settings = ticketsOfSet(set!).map((ticket) => ticket.settings);
    expect(settings).toMatchObject([
      { maps: ['roughness'], size: { width: 64 }, tiles: [1001] },
      { maps: ['ao'], size: { width: 128 } },
      { maps: ['metallic'], tiles: [1002] },
    ]);
  });
});

describe('the tickets of such a set', () => {
  const side = 64;
  /** Any numbers of eight bits. */
  const noise: Image = {
    ...{ width: side, height: side, channels: 3 },
    data: Float32Array.from({ length: side * side * 3 }, (_, i) => ((i * i * 31 + i * 17) % 256) / 255),
  };
  const pictureOf = async (name: string) => {
    const bytes = await encodeImage(noise, 'png8');
    return { name, bytes, hash: createHash('sha256').update(name).digest('hex') };
  };
  const [set] = proposeSets([image('deck_ORM', { packing: ORM, kind: 'image', channels: 3 })], []);

  it('give each texel within islands as it came, and say that the layout is taken on trust', async () => {
    const [ticket] = ticketsOfSet({ ...set!, meshId: 'deck' });
    if (ticket?.operation !== 'bake') throw new Error('a bake was expected');
    const deck = hashedMesh(reliefPlane('deck', 4, 1));
    const { maps, report } = await bakeTicket({
      ...{ ...quietly(), loadSeconds: 0, settings: ticket.settings, inputs: { receivers: [deck], sources: [deck] } },
      pictures: [await pictureOf('deck_ORM.png')],
    });
    expect(maps.map(({ kind }) => kind)).toEqual(['ao', 'roughness', 'metallic']);
    for (const [c, { image: made, states }] of maps.entries()) {
      const wrong = states.findIndex(
        (state, i) =>
          state === TexelState.covered && Math.round(made.data[i]! * 255) !== Math.round(noise.data[i * 3 + c]! * 255),
      );
      expect(wrong).toBe(-1);
    }
    expect(report.findings.map(({ sentence }) => sentence)).toEqual([
      'Whether “deck_ORM.png” was made for these UVs cannot be checked, for an image does not say so. Look at the maps on the model.',
    ]);
  });

  it('compare no normals that came from an image with the bare surface', async () => {
    const [own] = proposeSets([image('deck_normal', { kind: 'normal', channels: 3 })], [mesh('deck')]);
    const [ticket] = ticketsOfSet(own!);
    if (ticket?.operation !== 'bake') throw new Error('a bake was expected');
    const deck = hashedMesh(reliefPlane('deck', 4, 1));
    const { report } = await bakeTicket({
      ...{ ...quietly(), loadSeconds: 0, settings: ticket.settings, inputs: { receivers: [deck], sources: [deck] } },
      pictures: [await pictureOf('deck_normal.png')],
    });
    expect(report.likeness).toEqual([]);
  });

  it('give every texel as it came where no mesh carries them', async () => {
    const [ticket] = ticketsOfSet(set!);
    if (ticket?.operation !== 'seamless') throw new Error('a tile was expected');
    const picture = await pictureOf('deck_ORM.png');
    const { maps } = await collect(runSeamless, {
      ...{
        settings: ticket.settings,
        inputs: { receivers: [], sources: [] },
        pictures: ticket.pictures.map(() => picture),
      },
    });
    expect(maps.map(({ kind }) => kind)).toEqual(['ao', 'roughness', 'metallic']);
    for (const [c, { image: made }] of maps.entries()) {
      const bytes = made.data.map((value) => Math.round(value * 255));
      expect(bytes).toEqual(
        Float32Array.from({ length: side * side }, (_, i) => Math.round(noise.data[i * 3 + c]! * 255)),
      );
    }
  });
});
