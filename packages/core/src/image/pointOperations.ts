import { linearToSrgb, srgbToLinear } from '../color/srgb.ts';
import type { KernelTeam } from '../kernel/kernelTeam.ts';
import type { Image } from './image.ts';

/** A cubic piece of a curve: where it begins, and the factors of its polynomial in the distance from there. */
export interface CurvePiece {
  from: number;
  factors: readonly [number, number, number, number];
}

/** One value through a curve of pieces, at least one; before the first it is that of its begin. */
export function onPieces(pieces: readonly CurvePiece[], value: number): number {
  let i = 0;
  while (i + 1 < pieces.length && pieces[i + 1]!.from <= value) i++;
  const {
    from,
    factors: [a, b, c, d],
  } = pieces[i]!;
  const x = Math.max(0, value - from);
  return a + x * (b + x * (c + x * d));
}

/** One thing done to each texel by itself. Those of one value are done to each colour, and leave alpha. */
export type PointOperation =
  | { do: 'scale-and-shift'; by: number; shift: number }
  | { do: 'clamp'; low: number; high: number }
  /** 0 for values at or below 0. */
  | { do: 'power'; exponent: number }
  /** Through the sRGB curve and back; values below 0 become 0. */
  | { do: 'to-screen' }
  | { do: 'to-light' }
  /** Values before the first piece are those of its begin. */
  | { do: 'curve'; pieces: readonly CurvePiece[] }
  /** About the luma of Rec. 709. */
  | { do: 'saturate'; amount: number }
  | { do: 'to-oklab' }
  /** Of OKLab. */
  | { do: 'turn-hue'; cos: number; sin: number }
  | { do: 'from-oklab' }
  /** Three channels into one. */
  | { do: 'mix'; weights: readonly [number, number, number] };

/** What a run of operations of one value does, as a table from 0 to 1 in steps of the square root. */
type Tabulated = { do: 'tabulated'; table: Float32Array };

/** Numbered as in kernel/picture/pointOperations.ts. */
const OPERATIONS: readonly (PointOperation | Tabulated)['do'][] = [
  ...(['scale-and-shift', 'clamp', 'power', 'to-screen', 'to-light', 'curve'] as const),
  ...(['saturate', 'to-oklab', 'turn-hue', 'from-oklab', 'mix', 'tabulated'] as const),
];
const STEP_FLOATS = 8;
const PIECE_FLOATS = 5;
const TABLE_STEPS = 4096;
/** Texels of a task, of a part that is copied at once, and of what a thread works on at a time. */
const TASK_TEXELS = 8192;
const PART_TEXELS = 1024 * 1024;
const STRETCH_TEXELS = 512;
/** Of fewer texels a table would take longer than they do. */
const WORTH_A_TABLE = 65_536;

/**
 * Does things to each texel by itself, one after the other, in the kernel. Single precision: off by about 1e-6 of 1.
 * @param image of one to four channels
 * @param channels of the result: as many as before, 1 after `mix`, 3 for OKLab of grey
 * @returns its samples
 */
export function pointOperationsInKernel(
  team: KernelTeam,
  { data, channels: own }: Image,
  operations: readonly PointOperation[],
  channels = own,
): Float32Array {
  const texels = data.length / own;
  const result = new Float32Array(texels * channels);
  const atOnce = Math.min(PART_TEXELS, texels);
  team.within(() => {
    const done = texels < WORTH_A_TABLE ? operations : tabulated(operations);
    const steps = layOperations(team, done);
    // Two of each: while one is worked on the other is copied.
    const rooms = [0, 1].map(() => ({
      picture: team.take(atOnce * own * 4),
      result: team.take(atOnce * channels * 4),
    }));
    const endOf = (part: number): number => Math.min(texels, (part + 1) * atOnce);
    team.inParts(
      Math.ceil(texels / Math.max(1, atOnce)),
      (part) => {
        const from = part * atOnce * own;
        const end = endOf(part) * own;
        team.floats(rooms[part & 1]!.picture, end - from).set(data.subarray(from, end));
      },
      (part, meanwhile) => {
        const count = endOf(part) - part * atOnce;
        const { picture, result: to } = rooms[part & 1]!;
        const numbers = [picture, own, to, channels, count, TASK_TEXELS, steps, done.length, own < 3 ? 1 : 3];
        team.run('pointOperations', Math.ceil(count / TASK_TEXELS), STRETCH_TEXELS * 16, numbers, meanwhile);
      },
      (part) => {
        const from = part * atOnce * channels;
        const end = endOf(part) * channels;
        result.set(team.floats(rooms[part & 1]!.result, end - from), from);
      },
    );
  });
  return result;
}

function layOperations(team: KernelTeam, operations: readonly (PointOperation | Tabulated)[]): number {
  const steps = new Float32Array(operations.length * STEP_FLOATS);
  const addresses = new Uint32Array(steps.buffer);
  operations.forEach((operation, k) => {
    const at = k * STEP_FLOATS;
    steps[at] = OPERATIONS.indexOf(operation.do);
    steps.set(numbersOf(operation), at + 1);
    if (operation.do === 'tabulated') addresses[at + 2] = team.lay(operation.table);
    if (operation.do === 'curve') addresses[at + 2] = layPieces(team, operation.pieces);
    if (operation.do === 'to-screen' || operation.do === 'to-light') {
      addresses[at + 2] = team.lay(srgbTable(operation.do));
    }
  });
  return team.lay(steps);
}

const tables = new Map<'to-screen' | 'to-light', Float32Array>();

/**
 * One of the sRGB curves from 0 to 1, in steps between which it is straight to within 2e-7 of 1. That to the screen is
 * steep in the dark: its steps are those of the square root.
 */
function srgbTable(which: 'to-screen' | 'to-light'): Float32Array {
  const known = tables.get(which);
  if (known) return known;
  const curve = which === 'to-screen' ? (root: number): number => linearToSrgb(root * root) : srgbToLinear;
  const table = Float32Array.from({ length: TABLE_STEPS + 2 }, (_, i) => curve(i / TABLE_STEPS));
  tables.set(which, table);
  return table;
}

function layPieces(team: KernelTeam, pieces: readonly CurvePiece[]): number {
  const table = new Float32Array(pieces.length * PIECE_FLOATS);
  pieces.forEach(({ from, factors }, k) => table.set([from, ...factors], k * PIECE_FLOATS));
  return team.lay(table);
}

/** Off by no more than this, a table does for what it stands for. */
const TABLE_ERROR = 5e-7;

/**
 * Puts a table in the place of runs of operations of one value, where it is as good: after a clamp, so that no value lies
 * beyond it, and where at least two of them take long.
 */
function tabulated(operations: readonly PointOperation[]): (PointOperation | Tabulated)[] {
  const out: (PointOperation | Tabulated)[] = [];
  for (let i = 0; i < operations.length;) {
    const operation = operations[i++]!;
    out.push(operation);
    if (operation.do !== 'clamp' || operation.low < 0 || operation.high > 1) continue;
    const length = operations.slice(i).findIndex((each) => !ofOneValue(each));
    const run = operations.slice(i, length < 0 ? undefined : i + length);
    const table = run.filter(({ do: what }) => TAKES_LONG.has(what)).length > 1 ? tableOf(run) : null;
    if (!table) continue;
    out.push({ do: 'tabulated', table });
    i += run.length;
  }
  return out;
}

const TAKES_LONG: ReadonlySet<PointOperation['do']> = new Set(['power', 'to-screen', 'to-light', 'curve']);

const ofOneValue = ({ do: what }: PointOperation): boolean =>
  TAKES_LONG.has(what) || what === 'scale-and-shift' || what === 'clamp';

/** @returns null where it would be too far off between its steps, as at kinks */
function tableOf(run: readonly PointOperation[]): Float32Array | null {
  const at = (root: number): number => run.reduce((value, operation) => changed(operation, value), root * root);
  const table = Float32Array.from({ length: TABLE_STEPS + 2 }, (_, i) => at(Math.min(1, i / TABLE_STEPS)));
  for (let i = 0; i < TABLE_STEPS; i++) {
    const between = (table[i]! + table[i + 1]!) / 2;
    if (!(Math.abs(between - at((i + 0.5) / TABLE_STEPS)) < TABLE_ERROR)) return null;
  }
  return table;
}

/** One value by one of the operations of one value. */
function changed(operation: PointOperation, value: number): number {
  switch (operation.do) {
    case 'scale-and-shift':
      return value * operation.by + operation.shift;
    case 'clamp':
      return Math.max(operation.low, Math.min(operation.high, value));
    case 'power':
      return value > 0 ? value ** operation.exponent : 0;
    case 'to-screen':
      return linearToSrgb(Math.max(0, value));
    case 'to-light':
      return srgbToLinear(Math.max(0, value));
    case 'curve':
      return onPieces(operation.pieces, value);
    default:
      throw new Error(`“${operation.do}” is not done to one value.`);
  }
}

function numbersOf(operation: PointOperation | Tabulated): readonly number[] {
  switch (operation.do) {
    case 'scale-and-shift':
      return [operation.by, operation.shift];
    case 'clamp':
      return [operation.low, operation.high];
    case 'power':
      return [operation.exponent];
    case 'curve':
      return [operation.pieces.length];
    case 'saturate':
      return [operation.amount];
    case 'turn-hue':
      return [operation.cos, operation.sin];
    case 'mix':
      return operation.weights;
    default:
      return [];
  }
}
