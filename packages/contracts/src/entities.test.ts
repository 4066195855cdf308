import { randomUUID } from 'node:crypto';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { OPERATION_KINDS, OPERATIONS, TICKET_KINDS } from '@zographos/operations';
import type { Image, MapConvention } from '@zographos/core/image';
import { newTicket } from './endpoints.ts';
import {
  DEFAULT_NAME_PATTERN,
  flatReportOf,
  isBakeTicket,
  isFlatTicket,
  isLayersTicket,
  isLightTicket,
  namePattern,
  region,
  reportOf,
  serverEvent,
  type Run,
  type Ticket,
} from './entities.ts';
import { readSamplesBody, samplesBody } from './samples.ts';

const ID = '00000000-0000-4000-8000-000000000001';

describe('a name pattern', () => {
  it.each([DEFAULT_NAME_PATTERN, '{map}_u{u}_v{v}', 'T-{set}-{map}-{tile}'])('%s is one', (pattern) => {
    expect(namePattern.parse(pattern)).toBe(pattern);
  });

  it.each([
    ['', /at least one character/],
    ['{set}.{tile}', /needs \{map\}/],
    ['{set}_{map}', /needs \{tile\}, or \{u\} and \{v\}/],
    ['{map}_{u}', /needs \{tile\}/],
    ['../{map}.{tile}', /no slashes/],
    ['{map}:{tile}', /no slashes, colons/],
    ['{map}\\{tile}', /no slashes/],
    ['{map}|{tile}?', /wildcards/],
  ])('“%s” is refused in words', (pattern, words) => {
    expect(
      namePattern
        .safeParse(pattern)
        .error?.issues.map(({ message }) => message)
        .join(' '),
    ).toMatch(words);
  });

  it('never lets a file leave its folder, whatever is written', () => {
    fc.assert(
      fc.property(fc.string({ unit: fc.constantFrom('.', '/', '\\', 'a', '{map}', '{tile}', ':', '_') }), (pattern) => {
        const { success } = namePattern.safeParse(pattern);
        if (success) expect(pattern).not.toMatch(/[/\\:]|\.\./);
      }),
    );
  });
});

describe('tickets', () => {
  it('of each operation that has them are made with its settings, and with no others', () => {
    for (const operation of TICKET_KINDS) {
      const { ticket } = OPERATIONS[operation];
      const isNew = ticket === 'flat' || ticket === 'lit';
      const set = isNew ? { set: { name: 'Deck' } } : ticket === 'set' ? { set: { id: randomUUID() } } : {};
      const made = { name: 'A', operation, settings: {}, inputs: { receivers: [], sources: [] } };
      const issues = newTicket.safeParse({ ...made, ...set }).error?.issues ?? [];
      // Only the settings can be wrong with it.
      for (const { path } of issues) expect(path[0], operation).toBe('settings');
      const other = newTicket.safeParse({ ...made, settings: { flavour: 1 }, set: { name: 'Deck' } });
      expect(other.success, operation).toBe(false);
    }
    expect(newTicket.safeParse({ name: 'A', operation: 'knit', settings: {}, inputs: {} }).success).toBe(false);
  });

  it('are told apart by their operation', () => {
    for (const operation of TICKET_KINDS) {
      const ticket = { operation } as Ticket;
      const kinds = [isBakeTicket(ticket), isFlatTicket(ticket), isLayersTicket(ticket), isLightTicket(ticket)];
      expect(kinds).toEqual(['mesh', 'flat', 'set', 'lit'].map((kept) => kept === OPERATIONS[operation].ticket));
    }
  });
});

describe('the report of a run', () => {
  it('is given only as that of its own operation', () => {
    for (const operation of OPERATION_KINDS) {
      const run = { operation, report: { mark: operation } } as unknown as Run;
      for (const asked of OPERATION_KINDS) {
        expect(reportOf(run, asked)).toEqual(asked === operation ? { mark: operation } : null);
      }
      const isFlat = OPERATIONS[operation].ticket === 'flat';
      expect(flatReportOf(run)).toEqual(isFlat ? { mark: operation } : null);
    }
    expect(reportOf(null, 'bake')).toBeNull();
    expect(flatReportOf(undefined)).toBeNull();
  });
});

describe('a region', () => {
  it('is a rectangle of at least one texel of one UDIM tile', () => {
    const one = { tile: 1001, x: 0, y: 0, width: 1, height: 1 };
    expect(region.parse(one)).toEqual(one);
    for (const wrong of [{ width: 0 }, { x: -1 }, { y: 0.5 }, { tile: 7 }, { depth: 1 }]) {
      expect(region.safeParse({ ...one, ...wrong }).success, JSON.stringify(wrong)).toBe(false);
    }
  });
});

describe('events', () => {
  it('are of three types, and another is none', () => {
    expect(serverEvent.safeParse({ type: 'database', up: false }).success).toBe(true);
    expect(serverEvent.safeParse({ type: 'changed', projectId: ID }).success).toBe(true);
    expect(serverEvent.safeParse({ type: 'moved', projectId: ID }).success).toBe(false);
  });
});

describe('samples on their way', () => {
  const meanings: Partial<Image>[] = [
    {},
    { colorSpace: 'srgb' },
    { range: [-2, 3], colorSpace: 'linear' },
    { convention: { of: 'height', unit: 'cm', mid: 0.25, span: 7 } satisfies MapConvention },
    { convention: { of: 'direction', space: 'tangent', y: 'down', axes: 'zyx' } satisfies MapConvention },
  ];

  it('come back to the last bit, with all that they mean', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 9 }),
        fc.integer({ min: 1, max: 9 }),
        fc.constantFrom(1, 3, 4),
        fc.constantFrom(...meanings),
        (width, height, channels, meaning) => {
          const data = new Float32Array(width * height * channels).map((_, i) => Math.cos(i) * 1e4);
          const image: Image = { width, height, channels, data, ...meaning };
          expect(readSamplesBody(samplesBody(image).buffer as ArrayBuffer)).toEqual(image);
        },
      ),
    );
  });

  it('with a header that is none are an error', () => {
    expect(() => readSamplesBody(new ArrayBuffer(8))).toThrow();
    const body = samplesBody({ width: 1, height: 1, channels: 1, data: new Float32Array(1) });
    body[5] = 0;
    expect(() => readSamplesBody(body.buffer as ArrayBuffer)).toThrow();
  });
});
