import { defineStore } from 'pinia';
import { ENDPOINTS, type Asset, type ImageSet, type MeshAsset, type Run, type TileOfSet } from '@zographos/contracts';
import type { SplitBy } from '@zographos/core/uv';
import type { LayoutSettings, MergeSettings, MeshChange, AtlasSettings } from '@zographos/operations';
import { call } from '../api/call.ts';
import { useEdits } from './edits.ts';
import { useProject } from './project.ts';

/** Changes of meshes. Each makes a revision; taking it back makes one that is as it was before. */
export const useMeshEdits = defineStore('meshEdits', () => {
  const store = useProject();
  const edits = useEdits();

  const contentOf = (id: string): string => store.meshById(id)!.contentHash;

  async function restore(id: string, to: string): Promise<void> {
    if (contentOf(id) === to) return;
    await kept(call(ENDPOINTS.restoreRevision, { id }, { from: contentOf(id), to }));
  }

  /** Shows what came of a call, or what is there now if it was refused. */
  async function kept(asset: Promise<Asset>): Promise<void> {
    try {
      store.putAsset(await asset);
    } catch (error) {
      await store.reload();
      throw error;
    }
  }

  /** Changes meshes as one edit that can be taken back. */
  function change(label: string, parts: readonly { id: string; change: MeshChange }[]): Promise<void> {
    const before = new Map<string, string>();
    return edits.perform({
      label,
      async apply() {
        for (const part of parts) {
          before.set(part.id, contentOf(part.id));
          const body = { from: contentOf(part.id), change: part.change };
          await kept(call(ENDPOINTS.changeMesh, { id: part.id }, body));
        }
        await store.reload();
      },
      async revert() {
        for (const [id, hash] of before) await restore(id, hash);
        await store.reload();
      },
    });
  }

  /** Goes back to an earlier revision, as an edit. */
  function goBack({ id, name, contentHash }: MeshAsset, to: string): Promise<void> {
    return edits.perform({
      label: `restore “${name}”`,
      apply: () => restore(id, to),
      revert: () => restore(id, contentHash),
    });
  }

  async function layOut(meshes: readonly MeshAsset[], settings: LayoutSettings): Promise<Run> {
    const ids = meshes.map(({ id }) => id);
    const run = await call(ENDPOINTS.createLayout, { id: store.project!.id }, { meshes: ids, settings });
    await store.reload();
    return run;
  }

  async function merge(meshes: readonly MeshAsset[], settings: MergeSettings): Promise<Run> {
    const ids = meshes.map(({ id }) => id);
    const run = await call(ENDPOINTS.createMerge, { id: store.project!.id }, { meshes: ids, settings });
    await store.reload();
    return run;
  }

  async function placeAtlas(settings: AtlasSettings): Promise<Run> {
    const run = await call(ENDPOINTS.createAtlas, { id: store.project!.id }, settings);
    await store.reload();
    return run;
  }

  /** A layout that has come to its end can be taken back like any other edit. */
  function recordLayout(before: ReadonlyMap<string, string>): void {
    const after = new Map([...before.keys()].map((id) => [id, contentOf(id)]));
    const all = async (hashes: ReadonlyMap<string, string>): Promise<void> => {
      for (const [id, hash] of hashes) await restore(id, hash);
      await store.reload();
    };
    const names = store.meshesByIds([...before.keys()]).map(({ name }) => name);
    edits.record({ label: `layout of ${names.join(', ')}`, apply: () => all(after), revert: () => all(before) });
  }

  const finishRun = (id: string): Promise<Run> => call(ENDPOINTS.finishRun, { id });

  async function split(mesh: MeshAsset, how: SplitBy): Promise<Asset[]> {
    const body = how.by === 'islands' ? { ...how, islands: [...how.islands] } : how;
    const made = await call(ENDPOINTS.splitMesh, { id: mesh.id }, { from: mesh.contentHash, how: body });
    await store.reload();
    return made;
  }

  async function join(name: string, meshes: readonly MeshAsset[]): Promise<Asset> {
    const ids = meshes.map(({ id }) => id);
    const made = await call(ENDPOINTS.joinMeshes, { id: store.project!.id }, { name, meshes: ids });
    await store.reload();
    return made;
  }

  type TilesOfLayout = { uvSet: number; tiles: TileOfSet[]; namePattern?: string; confirmed?: boolean };

  async function setTiles(mesh: MeshAsset, change: TilesOfLayout): Promise<ImageSet> {
    const set = await call(ENDPOINTS.setTiles, { id: mesh.id }, change);
    await store.reload();
    return set;
  }

  async function renumber(
    mesh: MeshAsset,
    change: { uvSet: number; tile: number; to: number; islands: number[] },
  ): Promise<void> {
    await kept(call(ENDPOINTS.renumberTile, { id: mesh.id }, { from: mesh.contentHash, ...change }));
    await store.reload();
  }

  return { change, goBack, layOut, merge, placeAtlas, recordLayout, finishRun, split, join, setTiles, renumber };
});
