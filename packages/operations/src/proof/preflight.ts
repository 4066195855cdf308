import { boundsOf, diagonal, type Bounds } from '@zographos/core/mesh';
import type { BakePassSettings } from '../bake/settings.ts';
import type { OperationInputs } from '../operation.ts';
import type { Finding } from './finding.ts';
import { listed } from '../scene/matchedInputs.ts';
import type { RunMesh } from '../scene/runMesh.ts';
import { grouped } from '../wording.ts';
import { warning } from './finding.ts';

/** A source with so many times fewer triangles than its receiver was probably meant the other way round. */
const SWAPPED = 4;
/** How far a ratio of sizes may be from that of two units. */
const SLACK = 0.12;

/** Ratios between units that meshes are exchanged in. */
const UNITS: readonly [ratio: number, large: string, small: string][] = [
  [10, 'centimetres', 'millimetres'],
  [100, 'metres', 'centimetres'],
  [1000, 'metres', 'millimetres'],
  [2.54, 'inches', 'centimetres'],
  [25.4, 'inches', 'millimetres'],
  [39.37, 'metres', 'inches'],
  [30.48, 'feet', 'centimetres'],
  [304.8, 'feet', 'millimetres'],
];

/** Looks at the inputs before anything is computed: are they the right way round, and of one scale? */
export function preflight(
  { receivers, sources }: OperationInputs<RunMesh>,
  { sourceScale }: BakePassSettings,
): Finding[] {
  const findings: Finding[] = [];
  const count = (inputs: RunMesh[]): number => inputs.reduce((sum, { mesh }) => sum + mesh.indices.length / 3, 0);
  const names = (inputs: RunMesh[]): string => listed(inputs.map(({ mesh }) => mesh.name));
  const carrying = count(receivers);
  const giving = count(sources);
  if (carrying > giving * SWAPPED && sources.some(({ mesh }) => mesh.uvSets.length > 0)) {
    findings.push(
      warning(
        'swapped',
        `${names(receivers)} (receiver) has ${grouped(carrying)} triangles, ${names(sources)} (source) only ${grouped(giving)}. They may be swapped: the low-poly mesh should be the receiver.`,
        {
          remedy: {
            label: 'Swap receiver and source',
            change: { sourceScale: tidy(1 / sourceScale), match: 'all' },
            exchange: true,
          },
        },
      ),
    );
  }
  const scale = scaleMismatch(boxOf(receivers), boxOf(sources));
  if (scale) {
    findings.push(
      warning('scale', `${names(sources)} ${scale.sentence}`, {
        remedy: {
          label: `Take the source at ${scale.factor} times its size`,
          change: { sourceScale: tidy(sourceScale * scale.factor) },
        },
      }),
    );
  }
  return findings;
}

export interface ScaleMismatch {
  /** Goes on after the source's name. */
  sentence: string;
  /** What would bring the source to the receiver's unit. */
  factor: number;
}

/** Says which units two boxes seem to be in, if their sizes differ as units do; null if they are of one size. */
export function scaleMismatch(receiver: Bounds, source: Bounds): ScaleMismatch | null {
  const ratio = diagonal(source) / diagonal(receiver);
  const times = Math.max(ratio, 1 / ratio);
  if (!Number.isFinite(times) || times < 2) return null;
  // A small receiver within a large source, or the reverse, is no mistake of scale.
  if (overlap(receiver, source) && times < 9) return null;
  const unit = UNITS.find(([expected]) => Math.abs(Math.log(times / expected)) < Math.log(1 + SLACK));
  if (!unit) return null;
  const [expected, large, small] = unit;
  const figure = times >= 10 ? Math.round(times) : times.toFixed(1);
  const [apart, its, other] = ratio > 1 ? ['large', small, large] : ['small', large, small];
  const factor = tidy(ratio > 1 ? 1 / expected : expected);
  return {
    sentence: `is about ${figure} times as ${apart} as the receiver. It seems to be in ${its} and the receiver in ${other}. Scale the source by ${factor}, or export one of them in the other’s unit.`,
    factor,
  };
}

const tidy = (value: number): number => Number(value.toPrecision(6));

const overlap = (a: Bounds, b: Bounds): boolean =>
  a.min.every((low, k) => low <= b.max[k]!) && b.min.every((low, k) => low <= a.max[k]!);

export function boxOf(inputs: readonly RunMesh[]): Bounds {
  const box: Bounds = { min: [Infinity, Infinity, Infinity], max: [-Infinity, -Infinity, -Infinity] };
  for (const { mesh } of inputs) {
    const { min, max } = boundsOf(mesh.positions);
    for (let k = 0; k < 3; k++) {
      box.min[k] = Math.min(box.min[k]!, min[k]!);
      box.max[k] = Math.max(box.max[k]!, max[k]!);
    }
  }
  return box;
}
