import type { DataSource } from 'typeorm';
import type { SheetReport } from '@zographos/operations';
import { throwIfCancelled, type Progress } from '@zographos/operations/run';
import type { BlobStore } from '../blobs/blobStore.ts';
import type { SheetRunRow } from '../data/entities.ts';
import type { OperationHost } from './operationHost.ts';
import type { OperationDone, OperationRequest, SheetPart } from './operationThread.ts';
import { readSheetInputs } from '../runs/atlasInputs.ts';
import { kindsOf, loadSheetMaps, placeSheet, reportOf } from '../runs/atlases.ts';
import { storeMap, type Place } from './storeResults.ts';

/** Makes a sheet: its mesh first, which may be refused, then one map after the other, so that memory holds but one. */
export async function computeSheet(
  run: SheetRunRow,
  request: OperationRequest,
  { database, blobs, host }: { database: DataSource; blobs: BlobStore; host: OperationHost },
  onProgress: (progress: Progress) => void,
): Promise<{ report: SheetReport; place: Place }> {
  const since = performance.now();
  const { sets } = await readSheetInputs(database, run.settings);
  const part = (sheet: SheetPart): Promise<OperationDone> => host.run({ ...request, sheet }, () => {});
  const receivers = run.inputs.receivers.map(({ assetId }) => {
    const set = sets.findIndex(({ meshIds }) => meshIds.includes(assetId));
    return { set, uvSet: sets[set]!.uvSet };
  });
  const { mesh } = (await part({ step: 'mesh', receivers })) as Extract<OperationDone, { mesh: unknown }>;
  const { inspection, packed } = mesh;
  const contentHash = (await blobs.writeBytes(packed)).hash;
  const kinds = kindsOf(sets);
  const made: Parameters<typeof placeSheet>[3][number][] = [];
  for (const [i, kind] of kinds.entries()) {
    throwIfCancelled(request.cancelFlag);
    onProgress({ stage: 'encode', share: i / kinds.length, secondsLeft: null, note: kind });
    const maps = await loadSheetMaps(blobs, kind, sets);
    const { map } = (await part({ step: 'map', kind, maps })) as Extract<OperationDone, { map: unknown }>;
    made.push({ kind, ...(await storeMap(blobs, map)) });
  }
  return {
    report: reportOf(run.settings, sets, (performance.now() - since) / 1000),
    place: async (manager) => {
      await placeSheet(manager, run, { contentHash, inspection }, made);
      return undefined;
    },
  };
}
