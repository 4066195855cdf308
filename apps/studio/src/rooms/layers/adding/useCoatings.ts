import { onMounted, ref } from 'vue';
import { z } from 'zod';
import { coating, ENDPOINTS, PATHS, type Coating, type UsedCoating } from '@zographos/contracts';
import { call, postFiles } from '../../../api/call.ts';
import { useNotices } from '../../../stores/notices.ts';

/** The library of coatings: layers kept to be laid on other receivers. */
export function useCoatings() {
  const notices = useNotices();
  const coatings = ref<Coating[]>([]);

  async function load(): Promise<void> {
    coatings.value = (await notices.guard(() => call(ENDPOINTS.listCoatings, {}))) ?? [];
  }
  onMounted(load);

  async function keep(ticketId: string, layerId: string, name: string): Promise<void> {
    const kept = await notices.guard(() => call(ENDPOINTS.keepCoating, { id: ticketId }, { layerId, name }));
    if (!kept) return;
    notices.say('done', `“${kept.name}” is kept in the library of coatings, with all that it is made of.`);
    await load();
  }

  async function remove({ id }: Coating): Promise<void> {
    await notices.guard(() => call(ENDPOINTS.deleteCoating, { id }));
    await load();
  }

  async function bringIn(files: readonly File[]): Promise<void> {
    await notices.guard(() => postFiles(PATHS.coatingFiles, files, z.array(coating)));
    await load();
  }

  /** Its layers, once what they are made of is in the project. */
  const use = (
    projectId: string,
    { id }: Coating,
    first: { firstPicture: number; firstMaterial: number },
  ): Promise<UsedCoating | undefined> =>
    notices.guard(() => call(ENDPOINTS.useCoating, { id: projectId, coatingId: id }, first));

  return { coatings, keep, remove, bringIn, use };
}
