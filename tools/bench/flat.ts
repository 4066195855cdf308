import { availableParallelism } from 'node:os';
import sharp from 'sharp';
import { createNoise4D } from 'simplex-noise';
import { adjust, type Adjustment } from '@zographos/core/adjust';
import { MapDeriver } from '@zographos/core/derive';
import { blur, packChannels, quantise, resample, type Image } from '@zographos/core/image';
import { coloured, DEFAULT_LAYER, fieldImage } from '@zographos/core/pattern';
import { DEFAULT_TILE, TileMaker, type EndMethod } from '@zographos/core/seamless';
import { encodeImage } from '@zographos/formats/images';
import { parseSettings } from '@zographos/operations';
import { deriveMaps } from '@zographos/operations/derive';
import { drawField } from '@zographos/operations/field';
import { withKernelTeam } from '@zographos/operations/kernel';
import { bestSeconds, seconds, type Figures } from './figures.ts';

/** Flat material at 1k, 2k and 4k: each step in pixels a second, and beside sharp where it has the same step. */
export const benchFlat = (say: (line: string) => void): Promise<Figures> =>
  withKernelTeam(ALL_THREADS, () => benchInKernel(say));

async function benchInKernel(say: (line: string) => void): Promise<Figures> {
  const figures: Figures = {};
  const photo = picture(1024);
  for (const side of [1024, 2048, 4096]) {
    const own: Figures = {};
    const pixels = side * side;
    const tell: Tell = (name, time, other) => {
      own[name] = other
        ? { pixelsPerSecond: pixels / time, [`ratioTo ${other.of}`]: other.time / time }
        : pixels / time;
      const beside = other ? `, ${(other.time / time).toFixed(2)} × ${other.of}` : '';
      say(`${side} px ${name}: ${(pixels / time / 1e6).toFixed(2)} Mpx/s${beside}`);
    };
    const size = { width: side, height: side };
    const large = resample(photo, size, 'linear');
    let tile = large;
    for (const method of ['band', 'cut', 'preserve', 'mirror'] as const satisfies EndMethod[]) {
      const ends = { method, width: 1 / 8, softness: 0.1, balance: 0.5 };
      const settings = { ...DEFAULT_TILE, ends: { across: ends, up: ends }, size };
      tell(
        `seamless, ${method}`,
        await seconds(
          () => ([tile] = new TileMaker([{ kind: 'basecolor', image: large }], 0).make(settings) as [Image]),
        ),
      );
    }
    const anew = { ...DEFAULT_TILE, way: 'patches' as const, size };
    tell('seamless, patches', await seconds(() => new TileMaker([{ kind: 'basecolor', image: large }], 0).make(anew)));
    const field = (layers: unknown[]) => {
      const settings = { layers, wrap: 'flat-torus', samples: 1, size, maps: [{ kind: 'height' }] };
      return seconds(() => drawField(parseSettings('field', settings), [], ALL_THREADS));
    };
    tell('field of cracks and four octaves, in four dimensions', await field(LAYERS));
    const simplex = await field([{ ...DEFAULT_LAYER, kind: 'simplex-noise', octaves: OCTAVES }]);
    const packaged = { of: 'simplex-noise on one thread', time: await packagedNoise(side) };
    tell('field of six octaves of simplex noise, in four dimensions', simplex, packaged);
    const maps = ['height', 'normal', 'ao', 'edges', 'cavity', 'roughness'] as const;
    const settings = parseSettings('derive', { maps: [...maps], picture: { kind: 'basecolor', colorSpace: 'srgb' } });
    const deriver = new MapDeriver(tile, 'color', true);
    for (const kind of maps) tell(`derive, ${kind}`, await seconds(() => deriver.make(kind, settings)));
    tell(
      'derive, all of these',
      await seconds(() => deriveMaps(settings, [tile], ALL_THREADS, () => Promise.resolve())),
    );
    for (const step of STEPS) tell(`adjust, ${step.do}`, await seconds(() => adjust(tile, [step], 'repeat')));
    await besideSharp(tile, tell);
    figures[side] = own;
  }
  return figures;
}

/** @param other who does the same, and in what time */
type Tell = (name: string, time: number, other?: { of: string; time: number }) => void;

/** As many values of the package simplex-noise as a field of so many texels along its side has, in plain JavaScript. */
function packagedNoise(side: number): Promise<number> {
  const noise = createNoise4D();
  return seconds(() => {
    let sum = 0;
    for (let octave = 0; octave < OCTAVES; octave++) {
      const step = (6 * 2 ** octave) / side;
      for (let y = 0; y < side; y++) {
        for (let x = 0; x < side; x++) sum += noise(x * step, y * step, 0.3, 0.7);
      }
    }
    return sum;
  });
}

async function besideSharp(tile: Image, tell: Tell): Promise<void> {
  const { width, height } = tile;
  const bytes = quantise(tile.data, 8);
  const raw = { width, height, channels: 3 as const };
  const half = { width: width / 2, height: height / 2 };
  const halved = () => sharp(bytes, { raw }).resize({ ...half, kernel: 'lanczos3' });
  tell('blur, 8 px', await bestSeconds(2, () => blur(tile, 8, 'clamp')), {
    of: 'sharp',
    time: await bestSeconds(2, () => sharp(bytes, { raw }).blur(8).raw().toBuffer()),
  });
  tell('halved, Lanczos', await bestSeconds(2, () => resample(tile, half, 'lanczos3')), {
    of: 'sharp',
    time: await bestSeconds(2, () => halved().raw().toBuffer()),
  });
  const channel = { image: tile, channel: 0, invert: false, levels: [0, 1] as const };
  tell('packed', await bestSeconds(2, () => packChannels([channel, { ...channel, invert: true }, { constant: 0 }])));
  tell('encoded as PNG', await seconds(() => encodeImage(tile, 'png8')));
}

const ALL_THREADS = { cancelFlag: new Int32Array(1), onProgress: () => {}, threads: availableParallelism() };

const STEPS: Adjustment[] = [
  { do: 'levels', black: 0.1, white: 0.9, gamma: 1.2 },
  { do: 'saturation', amount: 1.3 },
  { do: 'denoise', radius: 1 / 256, edge: 0.1 },
  { do: 'equalise', amount: 1 },
];

const OCTAVES = 6;

/** Cracked stone. */
const LAYERS = [
  { ...DEFAULT_LAYER, kind: 'cracks' as const, octaves: 3 },
  { ...DEFAULT_LAYER, blend: 'overlay' as const, octaves: 4, seed: 4 },
];

function picture(side: number): Image {
  const field = fieldImage({ layers: LAYERS, wrap: 'none', samples: 1 }, { width: side, height: side });
  return coloured(field, [
    { at: 0, color: '#26231f' },
    { at: 1, color: '#d9d0bd' },
  ]);
}
