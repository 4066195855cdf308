import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { TextWriter } from './textWriter.ts';

const written = (write: (text: TextWriter) => void): string => {
  const text = new TextWriter();
  write(text);
  return new TextDecoder().decode(text.finish());
};

describe('text that is written piece by piece', () => {
  it('brings every number of single precision back, as the platform writes it', () => {
    fc.assert(
      fc.property(fc.float({ noDefaultInfinity: true, noNaN: true }), (value) => {
        const text = written((to) => to.float(value));
        expect(Math.fround(Number(text))).toBe(value + 0);
        // The platform writes with an exponent below a millionth only.
        if (Math.abs(value) >= 1e-5) expect(text).toBe(String(Number(value.toPrecision(9))));
      }),
      { numRuns: 3000 },
    );
    for (const [value, text] of [
      [0, '0'],
      [-0.5, '-0.5'],
      [1e-5, '0.00000999999975'],
      [1.5e-5, '0.0000149999996'],
      [0.099999994, '0.099999994'],
      [999999.94, '999999.938'],
      [123456792, '123456792'],
      [1e9, '1000000000'],
      [-1.1754944e-38, '-1.17549435e-38'],
    ] as const) {
      expect(written((to) => to.float(Math.fround(value)))).toBe(text);
    }
  });

  it('writes whole numbers, and goes on from piece to piece', () => {
    const text = written((to) => {
      for (let i = 0; i < 700_000; i++) {
        to.whole(i);
        to.char(32);
      }
      to.text('Ölzeug, 2⁵³ − 1: ');
      to.whole(Number.MAX_SAFE_INTEGER);
    });
    expect(text).toBe(`${Array.from({ length: 700_000 }, (_, i) => i).join(' ')} Ölzeug, 2⁵³ − 1: 9007199254740991`);
  });
});
