import { createHash } from 'node:crypto';
import { In, type DataSource } from 'typeorm';
import {
  eachInput,
  inputList,
  mapInputs,
  operationOf,
  parseSettings,
  type MeshFacts,
  type OperationInputs,
  type OperationKind,
} from '@zographos/operations';
import { assets, type AssetRevisionRow, type AssetRow, type TicketRow } from '../data/entities.ts';
import { latestPictures } from '../data/pictures.ts';
import { latestRevisions } from '../data/latestRevisions.ts';
import { canonicalJson } from './canonicalJson.ts';

/** What the name of a result is made of. */
type KnownInput = { contentHash: string } & Pick<MeshFacts, 'name' | 'uvTiles'>;

/**
 * The name of a result before it exists: SHA-256 over the operation, its version, its settings and the content
 * of its inputs, and their names where it goes by them. Equal keys mean equal bytes.
 */
export function runKey<Kind extends OperationKind>(
  operation: Kind,
  settings: unknown,
  facts: OperationInputs<KnownInput>,
): string {
  const known = operationOf(operation);
  const { version } = known;
  const parsed = known.resolve(parseSettings(operation, settings), facts);
  const inputs = mapInputs(facts, ({ contentHash, name }) => ({ contentHash, name }));
  const named = known.goesByName(parsed) ? inputs : inputList(inputs).map(({ contentHash }) => contentHash);
  const { receivers, sources, cage } = inputs;
  const shape = [receivers.length, sources.length, cage !== undefined];
  const text = canonicalJson({ operation, version, settings: parsed, inputs: named, shape });
  return createHash('sha256').update(text).digest('hex');
}

/** What an asset is named by: its content, and how an image is meant where that was corrected by hand. */
function contentOf({ colorSpace, convention }: AssetRow, { contentHash, inspection }: AssetRevisionRow): string {
  if (!('guess' in inspection)) return contentHash;
  const { guess } = inspection;
  const isAsGuessed =
    colorSpace === guess.colorSpace && canonicalJson(convention) === canonicalJson(guess.convention ?? null);
  return isAsGuessed ? contentHash : `${contentHash} ${canonicalJson([colorSpace, convention])}`;
}

/** The key each ticket's run would have now; tickets with a missing input have none. */
export async function currentKeys(
  database: DataSource,
  tickets: readonly Pick<TicketRow, 'id' | 'operation' | 'settings' | 'inputs'>[],
): Promise<Map<string, string>> {
  const ids = [...new Set(tickets.flatMap(({ inputs }) => inputList(inputs)))];
  const revisions = await latestRevisions(database, ids);
  const rows = await database.getRepository(assets).findBy({ id: In(ids) });
  const contents = new Map<string, KnownInput>();
  for (const row of rows) {
    const revision = revisions.get(row.id);
    if (!revision) continue;
    const { inspection } = revision;
    const uvTiles = 'uvTiles' in inspection ? { uvTiles: inspection.uvTiles } : {};
    contents.set(row.id, { contentHash: contentOf(row, revision), name: row.name, ...uvTiles });
  }
  const drawn = ids.filter((id) => !revisions.has(id));
  for (const [id, { contentHash, name }] of await latestPictures(database, drawn))
    contents.set(id, { contentHash, name });
  const keys = new Map<string, string>();
  for (const { id, operation, settings, inputs } of tickets) {
    if (operation === 'bake' && inputs.sources.length === 0) continue;
    if (inputList(inputs).some((input) => !contents.has(input))) continue;
    keys.set(id, runKey(operation, settings, await eachInput(inputs, (input) => contents.get(input)!)));
  }
  return keys;
}
