import { computed, shallowRef, watch, type ComputedRef, type Ref } from 'vue';
import type { MapKind } from '@zographos/core/image';
import { PATHS, type FlatTicket, type ImageSet } from '@zographos/contracts';
import { useNotices } from '../../../stores/notices.ts';
import type { BytesImage } from '../../../viewport/materials/mapTextures.ts';
import type { PreviewMap } from '../preview/flatWorker.ts';

const USUAL_DEPTH = 0.02;

/** What a model wears: what is being made, and what the set has beside it. */
export function useWornMaps({
  set,
  steps,
  maps,
  depth,
  side,
  isWanted,
}: {
  set: ComputedRef<ImageSet | undefined>;
  steps: ComputedRef<FlatTicket[]>;
  /** What is being made. */
  maps: Ref<PreviewMap[]>;
  depth: Ref<number | null>;
  /** Of pictures that are loaded, in texels. */
  side: Ref<number>;
  isWanted: ComputedRef<boolean>;
}) {
  const notices = useNotices();
  const stored = shallowRef(new Map<MapKind, BytesImage>());
  /** What there is to load, named by its content. */
  const wanted = computed(() =>
    isWanted.value && set.value
      ? JSON.stringify([side.value, set.value.maps.map(({ revisions }) => revisions[0]?.id)])
      : '',
  );
  watch(wanted, async (name) => {
    const loaded = new Map<MapKind, BytesImage>();
    await Promise.all(
      (name === '' ? [] : (set.value?.maps ?? [])).map(async ({ kind, revisions: [latest] }) => {
        const picture = latest && (await notices.guard(() => pictureOf(latest.id, side.value)));
        if (picture) loaded.set(kind, picture);
      }),
    );
    if (name === wanted.value) stored.value = loaded;
  });
  const worn = computed(() => {
    const all = new Map(stored.value);
    for (const map of maps.value) all.set(map.kind, map);
    return all;
  });
  const modelDepth = computed(() => {
    const derive = steps.value.find(({ operation }) => operation === 'derive');
    const own = derive?.operation === 'derive' ? derive.settings.depth : null;
    return depth.value ?? own ?? USUAL_DEPTH;
  });
  return { worn, modelDepth };
}

/** @throws Error when the server cannot be reached */
async function pictureOf(revisionId: string, side: number): Promise<BytesImage> {
  const response = await fetch(PATHS.picture(revisionId, side));
  const bitmap = await createImageBitmap(await response.blob(), {
    colorSpaceConversion: 'none',
    premultiplyAlpha: 'none',
  });
  const canvas = new OffscreenCanvas(bitmap.width, bitmap.height);
  const context = canvas.getContext('2d', { willReadFrequently: true })!;
  context.drawImage(bitmap, 0, 0);
  const { data: rgba, width, height } = context.getImageData(0, 0, bitmap.width, bitmap.height);
  const values = Float32Array.from({ length: width * height }, (_, i) => rgba[i * 4]! / 255);
  return { width, height, rgba, values };
}
