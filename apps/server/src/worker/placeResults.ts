import type { DataSource, EntityManager } from 'typeorm';
import { likenessImage } from '@zographos/core/measure';
import { encodeImage } from '@zographos/formats/images';
import type { OperationKind } from '@zographos/operations';
import {
  imageSets,
  runs,
  tickets,
  type BakeRunRow,
  type DeliverRunRow,
  type FlatRunRow,
  type LayersRunRow,
  type LightRunRow,
  type LayoutRunRow,
  type MergeRunRow,
  type AtlasRunRow,
  type RunRow,
  type TicketRunRow,
} from '../data/entities.ts';
import { placeAtlas } from '../runs/atlases.ts';
import { placeLayout } from '../runs/layouts.ts';
import { placeMerge } from '../runs/merges.ts';
import { addMapRevision, enqueueRun, mapAt } from '../runs/queue.ts';
import { packRecords } from './earlierBake.ts';
import type { MadeThings } from './madeThings.ts';
import type { OperationDone } from './operationThread.ts';

/** Shows what a run has made, within the transaction that ends it. What it gives back is done once that is over. */
export type Place = (manager: EntityManager) => Promise<(() => Promise<unknown>) | undefined>;

/** A run that has come to its end. */
interface Ended {
  database: DataSource;
  made: MadeThings;
  done: OperationDone;
  /** Of `performance.now()`: when it began, and when its operation ended. */
  started: number;
  computed: number;
}

/** Where the results of each operation go. */
const PLACES: Record<OperationKind, (run: never, ended: Ended) => Promise<Place> | Place> = {
  bake: placeBake,
  seamless: placeInSet,
  derive: placeInSet,
  field: placeInSet,
  combine: placeInSet,
  cutouts: placeInSet,
  layers: placeInSet,
  light: placeInSet,
  layout:
    (run: LayoutRunRow, { made }: Ended): Place =>
    async (manager) => {
      await placeLayout(manager, run, made.meshes);
      return undefined;
    },
  // The merged mesh and the ticket of its maps, which is run at once.
  merge:
    (run: MergeRunRow, { made, database }: Ended): Place =>
    async (manager) => {
      const ticket = await placeMerge(manager, run, made.meshes);
      return () => enqueueRun(database, ticket);
    },
  atlas:
    (run: AtlasRunRow, { made }: Ended): Place =>
    async (manager) => {
      await placeAtlas(manager, run, made.meshes[0] ?? null, made.maps);
      return undefined;
    },
  deliver: placeDelivery,
};

/** How the results of a run are put in place. */
export const placeResults = (run: RunRow, ended: Ended): Promise<Place> | Place =>
  // The table has for each operation what takes its runs, which indexing by a union cannot show.
  (PLACES[run.operation] as (run: RunRow, ended: Ended) => Promise<Place> | Place)(run, ended);

async function placeBake(run: BakeRunRow, { made, done, started, computed }: Ended): Promise<Place> {
  const report = done.report as NonNullable<BakeRunRow['report']>;
  const proof = done.proof!;
  const likeness =
    proof.likeness.length > 0 ? Buffer.from(await encodeImage(likenessImage(proof.likeness), 'png8')) : null;
  const records = await packRecords(done.records ?? []);
  const now = performance.now();
  report.seconds.encode = (now - computed) / 1000 + made.storingSeconds;
  report.seconds.total = (now - started) / 1000;
  report.peakMemoryBytes = process.resourceUsage().maxRSS * 1024;
  return async (manager) => {
    const details = { id: run.id, proof: { seams: proof.seams }, likeness, records };
    await manager.getRepository(runs).save(details);
    // The layout this run was asked for, whatever the ticket says by now.
    const { id: imageSetId } = await manager
      .getRepository(imageSets)
      .findOneByOrFail({ receiverId: run.inputs.receivers[0]!.assetId, uvSet: run.settings.uvSet, lit: false });
    await addMaps(manager, run, imageSetId, made);
    return undefined;
  };
}

/** Maps go to the set of their ticket. */
function placeInSet(run: FlatRunRow | LayersRunRow | LightRunRow, { made }: Ended): Place {
  return async (manager) => {
    const { imageSetId } = await manager.getRepository(tickets).findOneByOrFail({ id: run.ticketId });
    await addMaps(manager, run, imageSetId, made);
    return undefined;
  };
}

async function addMaps(
  manager: EntityManager,
  run: TicketRunRow,
  imageSetId: string,
  { maps }: MadeThings,
): Promise<void> {
  for (const { kind, tile, ...revision } of maps) {
    const mapId = await mapAt(manager, { imageSetId, kind, tile, layered: run.operation === 'layers' }, run.ticketId);
    await addMapRevision(manager, mapId, run.id, { ...revision, key: run.key });
  }
}

/** A delivery is the archive of its files. */
async function placeDelivery(_run: DeliverRunRow, { made, done }: Ended): Promise<Place> {
  const archive = await made.finish();
  const report = done.report as NonNullable<DeliverRunRow['report']>;
  if (archive) Object.assign(report, { archive: archive.hash, bytes: archive.size });
  return () => Promise.resolve(undefined);
}
