import path from 'node:path';
import { mkdir } from 'node:fs/promises';
import type { Mesh } from '@zographos/core/mesh';
import type { Image, MapKind } from '@zographos/core/image';
import { likenessImage } from '@zographos/core/measure';
import { encodeImage } from '@zographos/formats/images';
import {
  operationOf,
  type FlatKind,
  type FlatReport,
  type OperationKind,
  type OperationReports,
  type OperationSettings,
} from '@zographos/operations';
import type { RunContext, RunOutcome, RunPicture } from '@zographos/operations/run-context';
import { runContext, withThreads } from '../runContext.ts';
import { writeMap, writeReport, type MapFile, type WriteOptions } from './mapFolder.ts';
import { writeWhole } from './writeWhole.ts';

type Given<Kind extends OperationKind> = Omit<
  RunContext<OperationSettings[Kind]>,
  'put' | keyof ReturnType<typeof runContext>
>;

/** What a run has made beside maps, which are written as they come. */
export interface RunDone<Kind extends OperationKind> extends RunOutcome<OperationReports[Kind]> {
  maps: MapFile[];
  meshes: Mesh[];
}

/**
 * Runs an operation, and writes its maps and files into a folder as they are made.
 * @param putFile takes files in place of the folder, as an archive does
 * @param onMap is shown each map as it is made
 * @param writesMap says which maps become files of their own
 * @param putMap takes maps in place of the folder, where there is but one file
 */
export function runToFolder<Kind extends OperationKind>(
  kind: Kind,
  given: Given<Kind>,
  {
    out,
    threads,
    putFile = (name, bytes) => writeInto(out, name, bytes),
    onMap = () => {},
    writesMap = () => true,
    putMap,
    ...writing
  }: WriteOptions & {
    out: string;
    threads?: number | undefined;
    putFile?: (name: string, bytes: Uint8Array) => Promise<void>;
    onMap?: (kind: MapKind, image: Image) => void;
    writesMap?: (kind: MapKind) => boolean;
    putMap?: (image: Image) => Promise<void>;
  },
): Promise<RunDone<Kind>> {
  return withThreads(async () => {
    const maps: MapFile[] = [];
    const meshes: Mesh[] = [];
    const { run } = await operationOf(kind).load();
    // One file is packed while the next map is made: never more, for each holds its map.
    let packing = Promise.resolve();
    const outcome = await run({
      ...runContext(threads),
      ...given,
      put: async (made) => {
        if (made.what === 'map') {
          await packing;
          if (putMap) await putMap(made.image);
          else if (writesMap(made.kind)) {
            packing = writeMap(out, made, writing).then((file) => void maps.push(file));
            // Whoever awaits it hears of what went wrong.
            packing.catch(() => {});
          }
          onMap(made.kind, made.image);
        } else if (made.what === 'mesh') meshes.push(made.mesh);
        else await putFile(made.path, made.bytes);
      },
    });
    await packing;
    return { ...outcome, maps, meshes };
  });
}

async function writeInto(folder: string, name: string, bytes: Uint8Array): Promise<void> {
  const file = path.join(folder, name);
  await mkdir(path.dirname(file), { recursive: true });
  await writeWhole(file, bytes);
}

/** Runs a bake into a folder, with its report and the likeness, and says what was found. */
export async function bakeToFolder(
  given: Given<'bake'>,
  { started, ...writing }: Parameters<typeof runToFolder<'bake'>>[2] & { started: number },
): Promise<void> {
  const loadSeconds = (performance.now() - started) / 1000;
  const { report, proof, maps } = await runToFolder('bake', { ...given, loadSeconds }, writing);
  if (proof && proof.likeness.length > 0) {
    await writeInto(writing.out, 'likeness.png', await encodeImage(likenessImage(proof.likeness), 'png8'));
  }
  const total = (performance.now() - started) / 1000;
  const seconds = { ...report.seconds, encode: total - report.seconds.total, total };
  const peakMemoryBytes = process.resourceUsage().maxRSS * 1024;
  await writeReport(writing.out, maps, { ...report, seconds, peakMemoryBytes });
  for (const { sentence } of report.findings) process.stderr.write(`${sentence}\n`);
}

/** A ticket of flat material: an operation with its settings. */
export type FlatTicket = { [Kind in FlatKind]: { operation: Kind; settings: OperationSettings[Kind] } }[FlatKind];

/** Runs a ticket of flat material into a folder, with its report. @param pictures in the order of its settings */
export async function flatToFolder(
  { operation, settings }: FlatTicket,
  pictures: RunPicture[],
  writing: WriteOptions & { out: string },
): Promise<{ report: FlatReport; maps: MapFile[] }> {
  const inputs = { receivers: [], sources: [] };
  // Operation and settings belong together by the union, whose members have one kind of report.
  const given = { settings, inputs, pictures } as Given<FlatKind>;
  const { report, maps } = await runToFolder(operation, given, writing);
  await writeReport(writing.out, maps, report);
  return { report, maps };
}
