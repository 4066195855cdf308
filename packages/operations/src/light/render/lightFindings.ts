import { TexelState } from '@zographos/core/image';
import type { LightWork } from '@zographos/core/light';
import { note, warning, type Finding } from '../../proof/finding.ts';
import { count, percentText } from '../../wording.ts';
import { combinedAt } from './lightPasses.ts';
import type { LightReport } from '../report.ts';
import type { LightSettings } from '../settings.ts';

/** Places that a finding names at most. */
const PLACES = 8;
/** A texel so many times as bright as what lies about it is a firefly. */
const FIREFLY = 6;
/** Noise that is seen, as a share of the mean light. */
const SEEN_NOISE = 0.03;

/** What was found on a tile: places of texels, and how many there are. */
export interface FoundOnTile {
  tile: number;
  fireflies: number[];
  dark: number[];
  /** Texels that are lit though a part of them lies within another mesh. */
  moved: number;
  width: number;
}

/**
 * Looks for texels that are far brighter than all about them, and for those that no light reaches.
 * @param samples that were taken
 */
export function findOnTile(tile: number, work: LightWork, samples: number): FoundOnTile {
  const { states, buried } = work.target;
  const { width, height } = work.plan.size;
  const light = new Float32Array(width * height);
  let sum = 0;
  let covered = 0;
  let moved = 0;
  for (let i = 0; i < light.length; i++) {
    if (states[i] !== TexelState.covered) continue;
    for (let c = 0; c < 3; c++) light[i]! += combinedAt(work, i, c) / (3 * samples);
    sum += light[i]!;
    if (buried[i] !== 0 && light[i]! > 0) moved++;
    covered++;
  }
  const mean = covered > 0 ? sum / covered : 0;
  const found: FoundOnTile = { tile, fireflies: [], dark: [], moved, width };
  for (let y = 1; y < height - 1; y++) {
    for (let x = 1; x < width - 1; x++) {
      const at = y * width + x;
      if (states[at] !== TexelState.covered) continue;
      if (light[at] === 0) found.dark.push(at);
      if (light[at]! < FIREFLY * mean) continue;
      const about: number[] = [];
      for (const step of [-width - 1, -width, -width + 1, -1, 1, width - 1, width, width + 1]) {
        if (states[at + step] === TexelState.covered) about.push(light[at + step]!);
      }
      if (about.length >= 3 && light[at]! > FIREFLY * Math.max(middleOf(about), mean)) found.fireflies.push(at);
    }
  }
  return found;
}

const middleOf = (values: number[]): number => values.sort((a, b) => a - b)[values.length >> 1]!;

/** What the artist should know about the light of a bake, and which change to its ticket would help. */
export function lightFindings(
  found: readonly FoundOnTile[],
  {
    noise,
    samples,
    overlapping,
    moved,
    texels,
  }: Pick<LightReport, 'noise' | 'samples' | 'overlapping' | 'moved' | 'texels'>,
  settings: LightSettings,
  shutIn: readonly number[],
): Finding[] {
  const findings: Finding[] = [];
  const places = (of: 'fireflies' | 'dark'): Finding['places'] =>
    found
      .flatMap(({ tile, width, ...each }) =>
        each[of].map((at) => ({
          ...{ tile, x: at % width, y: Math.floor(at / width) },
          ...{ texels: 1, position: null, part: null },
        })),
      )
      .slice(0, PLACES);
  const number = (of: 'fireflies' | 'dark'): number => found.reduce((sum, each) => sum + each[of].length, 0);
  if (noise > SEEN_NOISE && settings.denoise === 0) {
    // The error falls as the root of the number of samples.
    const more = Math.min(65536, samples * 4);
    findings.push(
      note(
        'noise',
        `The noise of a texel is ${percentText(noise)} of the mean light after ${count(samples, 'sample')}; ${more} samples would halve it, and denoising hides it.`,
        { remedy: { label: 'Denoise', change: { denoise: 0.5 } } },
      ),
    );
  }
  const fireflies = number('fireflies');
  if (fireflies > 0) {
    findings.push(
      warning(
        'fireflies',
        `${count(fireflies, 'texel')} ${fireflies === 1 ? 'is' : 'are'} more than ${FIREFLY} times as bright as all about ${fireflies === 1 ? 'it' : 'them'}: paths that lights are rarely found by. More samples make them fewer; so do lights that are larger.`,
        {
          places: places('fireflies'),
          remedy: { label: 'Four times the samples', change: { samples: Math.min(65536, samples * 4) } },
        },
      ),
    );
  }
  for (const lamp of shutIn) {
    const { kind, group } = settings.lights[lamp]!;
    findings.push(
      warning(
        'shut-in',
        `Light ${lamp + 1} (${group ?? kind}) stands inside a mesh, so that its light reaches nothing outside. Move it out.`,
      ),
    );
  }
  if (moved > 0) {
    findings.push(
      note(
        'moved',
        `${count(moved, 'texel')} ${moved === 1 ? 'lies' : 'lie'} in part within another mesh and ${moved === 1 ? 'is' : 'are'} lit where ${moved === 1 ? 'it is' : 'they are'} open, so that no dark leaks out.`,
      ),
    );
  }
  const dark = number('dark');
  if (dark > 0) {
    const all = dark >= texels * 0.5;
    findings.push(
      warning(
        'dark',
        `${count(dark, 'texel')} (${percentText(dark / Math.max(1, texels))}) get no light at all: they lie inside something, ${all ? 'every light is shut out, ' : ''}or nothing that they see is lit. Move the meshes apart, add a light or an environment, or look at the back faces.`,
        { places: places('dark') },
      ),
    );
  }
  if (overlapping > 0) {
    findings.push(
      warning(
        'overlapping',
        `${count(overlapping, 'texel')} lie in two triangles of the layout at once and show one of them. Pack the islands apart, or choose another UV set.`,
        { remedy: { label: 'Open UV', room: 'uv' } },
      ),
    );
  }
  return findings;
}
