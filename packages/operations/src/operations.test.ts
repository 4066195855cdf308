import { describe, expect, it } from 'vitest';
import { bakeOperation } from './bake/operation.ts';
import { DEFAULT_BAKE } from './bake/settings.ts';
import { parseSettings } from './registry.ts';
import { parseTicketFile } from './ticket/ticketFile.ts';

const names = { receivers: ['Bell light'], sources: ['Bell dense'] };

describe('a ticket reads as a sentence', () => {
  const read = (settings: Partial<typeof DEFAULT_BAKE>): string =>
    bakeOperation
      .sentence({ ...DEFAULT_BAKE, ...settings }, names, 'mm')
      .map(({ text }) => text)
      .join('');

  it('with its lengths, sizes and frames in words', () => {
    expect(read({ reach: { out: 12, in: 8 }, size: { width: 2048, height: 1024 } })).toBe(
      'Bake normal (tangent space, Y up) of Bell light from Bell dense at 2048 × 1024 px, reaching 12 mm out and 8 mm in, with 4 × 4 samples and 16 px padding.',
    );
    expect(read({ padding: 'all', normal: { space: 'object', y: 'up', axes: 'xyz' } })).toBe(
      'Bake normal (object space) of Bell light from Bell dense at 1024 px, with measured reach, with 4 × 4 samples and padding over the whole map.',
    );
  });
});

describe('settings from outside', () => {
  it.each([
    [{ samples: 9 }, /samples/],
    [{ samples: 2.5 }, /samples/],
    [{ size: { width: 8, height: 1024 } }, /size width.*is not usable/],
    [{ reach: { out: 0, in: 0 } }, /some reach/],
    [{ reach: { out: -1, in: 1 } }, /reach/],
    [{ reach: { out: Infinity, in: 1 } }, /reach/],
    [{ maps: [] }, /at least one map/],
    [{ maps: ['shadow'] }, /maps/],
    [{ wobble: 1 }, /bake/],
  ])('%j are refused by name', (wrong, sentence) => {
    expect(() => parseSettings('bake', { ...DEFAULT_BAKE, ...wrong })).toThrow(sentence);
  });
});

describe('ticket files', () => {
  const ticket = {
    zographos: 'ticket',
    version: 2,
    name: 'Bell',
    operation: 'bake',
    settings: DEFAULT_BAKE,
    inputs: { receivers: [{ file: 'a.obj' }], sources: [{ file: 'b.ply', object: 'Bell dense' }] },
  };

  it('come back as they were written', () => {
    expect(parseTicketFile('t.json', JSON.stringify(ticket))).toEqual(ticket);
  });

  it('of the first version, which had one receiver, still run', () => {
    const { receivers, sources } = ticket.inputs;
    const old = { ...ticket, version: 1, inputs: { receiver: receivers[0], sources } };
    expect(parseTicketFile('t.json', JSON.stringify(old))).toEqual(ticket);
  });

  it('are refused with the first thing that is wrong', () => {
    expect(() => parseTicketFile('t.json', '{')).toThrow(/not JSON/);
    expect(() => parseTicketFile('t.json', JSON.stringify({ ...ticket, version: 3 }))).toThrow(/“version”/);
    expect(() =>
      parseTicketFile('t.json', JSON.stringify({ ...ticket, inputs: { ...ticket.inputs, sources: [] } })),
    ).toThrow(/inputs\.sources/);
  });
});
