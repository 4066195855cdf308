import { computed, shallowRef, watch, type Ref } from 'vue';
import type { ImageSet, MeshAsset } from '@zographos/contracts';
import type { Size } from '@zographos/core/math';
import { FIRST_TILE, tileAt } from '@zographos/core/uv';
import { useNotices } from '../../../stores/notices.ts';
import { boxOfIsland, middleOf } from '../islandPicks.ts';
import { loadLayout, measureLayout, type MeshesOnLayout } from './loadLayout.ts';
import type { CheckedLayout, LaidMeshes } from './layoutWorker.ts';

/** The meshes of a layout, each with the UV set it lies on. */
export interface OnLayout extends MeshesOnLayout {
  meshes: MeshAsset[];
}

export type LayoutOnScreen = ReturnType<typeof useLayoutOnScreen>;

/** The layout of some meshes as it is on the server, or will be once that has heard of the last edit; and what it is worth. */
export function useLayoutOnScreen(
  onLayout: Ref<OnLayout>,
  size: Ref<Size>,
  sizeOf: (tile: number) => Size,
  padding: Ref<number>,
  imageSet: Ref<ImageSet | undefined>,
) {
  const notices = useNotices();
  const layout = shallowRef<LaidMeshes | null>(null);
  const checked = shallowRef<CheckedLayout | null>(null);
  const layoutKey = computed(() => [...onLayout.value.contentHashes, ...onLayout.value.uvSets].join());

  watch(
    layoutKey,
    async (key) => {
      const read =
        onLayout.value.contentHashes.length > 0 ? await notices.guard(() => loadLayout(onLayout.value)) : null;
      if (key === layoutKey.value) layout.value = read ?? null;
    },
    { immediate: true },
  );

  const islandsIn = computed(() => {
    const byTile = new Map<number, number[]>();
    const { value: laid } = layout;
    for (let island = 0; island < (laid?.boxes.length ?? 0) / 4; island++) {
      const tile = tileAt(...middleOf(boxOfIsland(laid!, island)));
      if (tile === null) continue;
      const known = byTile.get(tile);
      if (known) known.push(island);
      else byTile.set(tile, [island]);
    }
    return new Map([...byTile].sort(([a], [b]) => a - b));
  });
  /** Those that the layout was given; else those with islands. */
  const tilesInUse = computed(() => {
    const given = imageSet.value?.tiles.map(({ number }) => number) ?? [];
    if (given.length > 0) return given;
    return islandsIn.value.size > 0 ? [...islandsIn.value.keys()] : [FIRST_TILE];
  });
  const tiles = computed(() => {
    const given = imageSet.value?.tiles ?? [];
    const numbers = new Set([...tilesInUse.value, ...islandsIn.value.keys()]);
    return [...numbers]
      .sort((a, b) => a - b)
      .map((number) => {
        const { width, height } = given.find((tile) => tile.number === number) ?? sizeOf(number);
        const note = width === height ? `${width} px` : `${width} × ${height} px`;
        return { number, note, inUse: tilesInUse.value.includes(number) };
      });
  });

  /** Checks follow whatever they depend on; only the latest counts. */
  const checkKey = computed(() =>
    [layoutKey.value, size.value.width, size.value.height, padding.value, ...tilesInUse.value].join(),
  );
  watch(
    [checkKey, layout],
    async () => {
      checked.value = null;
      if (!layout.value || onLayout.value.contentHashes.length === 0) return;
      const { value: key } = checkKey;
      const options = { size: size.value, padding: padding.value, tiles: tilesInUse.value };
      const found = await notices.guard(() => measureLayout(onLayout.value, options));
      if (found && key === checkKey.value) checked.value = found;
    },
    { immediate: true },
  );

  return { layout, layoutKey, checked, islandsIn, tilesInUse, tiles };
}
