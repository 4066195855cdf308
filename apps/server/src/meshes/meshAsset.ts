import type { DataSource } from 'typeorm';
import type { MeshAsset } from '@zographos/contracts';
import { assets } from '../data/entities.ts';
import { notFound, readAsset } from '../data/readProject.ts';

/** A mesh as it is now. @throws missing/not-found */
export async function meshAsset(database: DataSource, id: string): Promise<{ asset: MeshAsset; projectId: string }> {
  const asset = await readAsset(database, id);
  if (asset.kind !== 'mesh') return notFound('mesh');
  const { projectId } = await database.getRepository(assets).findOneByOrFail({ id });
  return { asset, projectId };
}
