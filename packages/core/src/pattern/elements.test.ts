import { describe, expect, it } from 'vitest';
import { tileSeam } from '../seamless/tileSeam.ts';
import type { Image } from '../image/image.ts';
import { elementColors, elementShades } from './elementMap.ts';
import { fieldDrawer } from './field.ts';
import { DEFAULT_LAYER, FIELD_KINDS, hasElements, type FieldLayer } from './fieldLayer.ts';

const SIDE = 96;
const SIZE = { width: SIDE, height: SIDE };

/** A disc that fills its image but for a border, white on nothing. */
function disc(side: number): Image {
  const data = new Float32Array(side * side * 4);
  for (let i = 0; i < side * side; i++) {
    const [x, y] = [(i % side) + 0.5 - side / 2, Math.floor(i / side) + 0.5 - side / 2];
    data.fill(Math.hypot(x, y) < side * 0.4 ? 1 : 0, i * 4, i * 4 + 4);
  }
  return { width: side, height: side, channels: 4, data, colorSpace: 'srgb' };
}

function drawn(layer: Partial<FieldLayer>, rows: [from: number, to: number] = [0, SIDE], samples = 1) {
  const whole = { ...DEFAULT_LAYER, line: 0.1, bevel: 0.05, ...layer };
  const drawer = fieldDrawer({ layers: [whole], wrap: 'flat-torus', samples, motifs: [disc(64)] }, SIZE);
  const [values, elements] = [
    new Float32Array((rows[1] - rows[0]) * SIDE),
    new Uint32Array((rows[1] - rows[0]) * SIDE),
  ];
  drawer.values(...rows, values);
  if (hasElements(whole)) drawer.elements(...rows, elements);
  return { values, elements };
}

const mean = (values: ArrayLike<number>): number =>
  Array.from(values).reduce((sum, value) => sum + value, 0) / values.length;

/** The values of each element, apart. */
function byElement({ values, elements }: ReturnType<typeof drawn>): Map<number, number[]> {
  const all = new Map<number, number[]>();
  elements.forEach((element, i) => all.set(element, [...(all.get(element) ?? []), values[i]!]));
  return all;
}

describe('elements of patterns', () => {
  it.each([
    ['bricks', { columns: 3, rows: 4 }, 12],
    ['planks', { columns: 2, rows: 6 }, 12],
    ['scales', { columns: 4, rows: 6 }, 24],
  ] as const)('are as many as their columns and rows say (%s)', (kind, counts, many) => {
    const { elements } = drawn({ kind, ...counts, elements: { tone: 0, tilt: 0, offset: 0.7 } });
    expect(new Set(elements).size).toBe(many);
    const { data } = elementColors(elements, SIZE);
    const colors = new Set(Array.from(elements, (_, i) => data.slice(i * 3, i * 3 + 3).join()));
    expect(colors.size).toBe(many);
    expect(new Set(elementShades(elements, SIZE).data).size).toBe(many);
  });

  it('of cells are those of their nearest points: each has one random value (Worley 1996)', () => {
    const cells = byElement(drawn({ kind: 'cells', measure: 'flat', scale: 7 }));
    expect(cells.size).toBeGreaterThan(20);
    for (const values of cells.values()) expect(new Set(values).size).toBe(1);
  });

  it('differ in tone from each other, and not within', () => {
    const layer = { columns: 4, rows: 4, line: 0, bevel: 0, shift: 0 };
    const tones = byElement(drawn({ ...layer, kind: 'bricks', elements: { tone: 0.8, tilt: 0, offset: 0 } }));
    for (const values of tones.values()) expect(Math.max(...values) - Math.min(...values)).toBeLessThan(1e-6);
    const each = [...tones.values()].map(([value]) => value!);
    expect(Math.min(...each)).toBeGreaterThanOrEqual(0.2);
    expect(Math.max(...each) - Math.min(...each)).toBeGreaterThan(0.3);
  });

  it('lie in a plane where they are tilted, each in one of its own', () => {
    const layer = { columns: 4, rows: 4, line: 0, bevel: 0, shift: 0 };
    const { values } = drawn({ ...layer, kind: 'bricks', elements: { tone: 0, tilt: 0.5, offset: 0 } });
    const slopes = new Set<string>();
    const each = SIDE / 4;
    for (let element = 0; element < 16; element++) {
      const at = (x: number, y: number): number =>
        values[(Math.floor(element / 4) * each + y) * SIDE + (element % 4) * each + x]!;
      const [right, down] = [at(13, 12) - at(12, 12), at(12, 13) - at(12, 12)];
      slopes.add(`${right.toFixed(4)} ${down.toFixed(4)}`);
      for (const [x, y] of [
        [4, 4],
        [19, 6],
        [7, 18],
      ] as const)
        expect(at(x, y)).toBeCloseTo(at(12, 12) + right * (x - 12) + down * (y - 12), 4);
    }
    expect(slopes.size).toBe(16);
  });

  it.each(['scratches', 'fibres', 'scales', 'planks', 'picture'] as const)(
    'make patterns that go on across the border, however unlike they are (%s)',
    (kind) => {
      const { values } = drawn(
        { kind, columns: 5, rows: 6, width: 0.03, spread: 1, elements: { tone: 0.5, tilt: 0.5, offset: 1 } },
        [0, SIDE],
        2,
      );
      // The tile moved by half, whose border lies where nothing meets: its seam is what a tile without one has.
      const moved = values.map(
        (_, i) => values[((Math.floor(i / SIDE) + SIDE / 2) % SIDE) * SIDE + (((i % SIDE) + SIDE / 2) % SIDE)]!,
      );
      for (const axis of ['across', 'up'] as const) {
        const [own, usual] = [values, moved].map((data) => tileSeam({ ...SIZE, channels: 1, data }, axis));
        expect(own!).toBeLessThan(2 * Math.max(1, usual!));
      }
    },
  );

  it.each(FIELD_KINDS)('are drawn in any parts as in one (%s)', (kind) => {
    const layer = { kind, elements: { tone: 0.4, tilt: 0.3, offset: 0.2 } };
    const whole = drawn(layer);
    const part = drawn(layer, [17, 40]);
    expect(part.values).toEqual(whole.values.slice(17 * SIDE, 40 * SIDE));
    expect(part.elements).toEqual(whole.elements.slice(17 * SIDE, 40 * SIDE));
  });

  it('are refused where there are none', () => {
    const drawer = fieldDrawer({ layers: [DEFAULT_LAYER], wrap: 'none', samples: 1 }, SIZE);
    expect(() => drawer.elements(0, SIDE, new Uint32Array(SIDE * SIDE))).toThrow(/No layer has elements/);
  });
});

describe('an image that is repeated', () => {
  it('covers as much of each cell as it covers of itself, turned or not', () => {
    // A disc of 0.4 of its side: π · 0.16 of a cell, at half the size a quarter of that.
    for (const layer of [{}, { direction: 30 }, { shift: 0.5 }] as const) {
      for (const thickness of [1, 0.5]) {
        const { values } = drawn({ kind: 'picture', columns: 3, rows: 4, shift: 0, ...layer, thickness }, [0, SIDE], 3);
        // It fits the lower of its cell's sides: cells are 32 × 24 texels.
        expect(mean(values)).toBeCloseTo(Math.PI * 0.16 * thickness ** 2 * (24 / 32), 2);
      }
    }
  });

  it('is asked for where a layer has none', () => {
    const layers = [{ ...DEFAULT_LAYER, kind: 'picture' as const }];
    expect(() => fieldDrawer({ layers, wrap: 'none', samples: 1 }, SIZE)).toThrow(/no image to repeat/);
  });
});

describe('lines strewn over a tile', () => {
  it('cover as much as their lengths and widths say, as long as hardly any cross', () => {
    const lines = { kind: 'fibres', count: 12, length: 0.4, width: 0.02, curl: 0, spread: 0 } as const;
    const { elements } = drawn(lines);
    // Twelve of 0.4 × 0.02, with round ends, less what little they cross: they are parallel.
    const covered = mean(Array.from(elements, (element) => (element > 0 ? 1 : 0)));
    expect(covered).toBeGreaterThan(0.8 * 12 * 0.4 * 0.02);
    expect(covered).toBeLessThan(1.1 * 12 * (0.4 + 0.02) * 0.02);
  });

  it('run the way they are told', () => {
    for (const [direction, along] of [
      [0, 'across'],
      [90, 'up'],
    ] as const) {
      const { values } = drawn(
        { kind: 'scratches', direction, spread: 0, curl: 0, width: 0.01, count: 60 },
        [0, SIDE],
        2,
      );
      let [across, up] = [0, 0];
      for (let i = 0; i < values.length - SIDE - 1; i++) {
        across += (values[i + 1]! - values[i]!) ** 2;
        up += (values[i + SIDE]! - values[i]!) ** 2;
      }
      expect(along === 'across' ? up / across : across / up).toBeGreaterThan(4);
    }
  });
});
