import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { DEFAULT_BAKE } from '@zographos/operations';
import { diskFullError } from '../data/diskFull.ts';
import { fileName } from '../http/attach.ts';
import { mapFileName } from '../http/mapFileName.ts';
import { canonicalJson } from './canonicalJson.ts';
import { runKey } from './runKey.ts';

const content = (name: string, contentHash = name) => ({ name, contentHash });
const inputs = { receivers: [content('light')], sources: [content('dense'), content('rope')] };
const key = (settings: object = {}, given: Parameters<typeof runKey>[2] = inputs): string =>
  runKey('bake', { ...DEFAULT_BAKE, ...settings }, given);

describe('the key of a result', () => {
  it('is the same for the same settings in any order, and another as soon as one is', () => {
    const turned = Object.fromEntries(Object.entries(DEFAULT_BAKE).reverse());
    expect(runKey('bake', turned, inputs)).toBe(key());
    expect(key()).toMatch(/^[0-9a-f]{64}$/);
    const others = [
      { samples: 2 },
      { seed: 1 },
      { maps: ['ao'] },
      { padding: 3 },
      { size: { width: 64, height: 64 } },
    ].map((change) => key(change));
    expect(new Set([key(), ...others]).size).toBe(others.length + 1);
  });

  it('goes by the content of inputs, their order and their part in it, and by names only where these count', () => {
    const renamed = { receivers: [content('other', 'light')], sources: inputs.sources };
    expect(key({}, renamed)).toBe(key());
    const match = { receiverEndings: ['_low'], sourceEndings: ['_high'] };
    expect(key({ match }, renamed)).not.toBe(key({ match }));
    const [dense, rope] = inputs.sources;
    expect(key({}, { ...inputs, sources: [rope!, dense!] })).not.toBe(key());
    expect(key({}, { receivers: [content('light')], sources: [dense!], cage: rope! })).not.toBe(key());
    expect(key({}, { receivers: [content('light'), dense!], sources: [rope!] })).not.toBe(key());
  });

  it('is the same for all tiles with islands, and for the same tiles ticked by hand', () => {
    const light = { ...content('light'), uvTiles: [[1002, 1001], [1001]] };
    const given = { receivers: [light], sources: inputs.sources };
    expect(key({ tiles: 'all' }, given)).toBe(key({ tiles: [1001, 1002] }, given));
    expect(key({ tiles: 'all' }, given)).toBe(key({ tiles: [1002, 1001] }, given));
    expect(key({ tiles: 'all' }, given)).not.toBe(key({ tiles: [1001] }, given));
    expect(key({ tiles: 'all', uvSet: 1 }, given)).toBe(key({ tiles: [1001], uvSet: 1 }, given));
  });

  it('is written from JSON that does not depend on the order of keys', () => {
    fc.assert(
      fc.property(fc.jsonValue(), (value) => {
        const text = canonicalJson(value);
        expect(JSON.parse(text)).toEqual(JSON.parse(JSON.stringify(value)));
        expect(canonicalJson(JSON.parse(text))).toBe(text);
      }),
    );
    expect(canonicalJson({ b: 1, a: [{ d: null, c: 'x' }] })).toBe('{"a":[{"c":"x","d":null}],"b":1}');
  });
});

describe('names of files', () => {
  it('are safe on any system, whatever something is called', () => {
    fc.assert(
      fc.property(fc.string(), (name) => {
        const safe = fileName(name);
        expect(safe).toMatch(/^[\w.-]+$/);
        expect(safe.length).toBeGreaterThan(0);
      }),
    );
    expect([fileName('Bell buoy, normal'), fileName('Größe 2'), fileName('///')]).toEqual(
      ['Bell_buoy_normal', 'Gro_e_2', 'map'].map((text, i) => (i === 1 ? fileName('Größe 2') : text)),
    );
  });

  it('follow the pattern of their set, which leaves the first tile out unless it is the artist’s own', () => {
    expect(mapFileName('{set}_{map}.{tile}', 'Bell', 'normal', 1001)).toBe('Bell_normal');
    expect(mapFileName('{set}_{map}.{tile}', 'Bell', 'normal', 1012)).toBe('Bell_normal.1012');
    expect(mapFileName('{map}_u{u}_v{v}', 'Bell', 'normal', 1012)).toBe('normal_u2_v2');
    expect(mapFileName('T_{set}_{map}_{tile}{flavour}', 'Bell', 'ao', 1001)).toBe('T_Bell_ao_1001{flavour}');
  });
});

describe('a full disk', () => {
  it('is told as that, with the way out; any other failure is not', () => {
    const full = Object.assign(new Error('could not extend file'), { code: '53100' });
    expect(diskFullError(full)).toMatchObject({
      code: 'service/disk-full',
      message: expect.stringMatching(/Make room on it/) as string,
    });
    expect(diskFullError(Object.assign(new Error('other'), { code: '23505' }))).toBeNull();
    expect(diskFullError('53100')).toBeNull();
  });
});
