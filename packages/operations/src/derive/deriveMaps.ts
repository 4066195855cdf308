import { adjust } from '@zographos/core/adjust';
import { addSky, asOpenness, isPicked, type DerivedKind } from '@zographos/core/derive';
import { planeLike, sharedImage, type Image } from '@zographos/core/image';
import type { DeriveSettings } from './settings.ts';
import type { DeriveAnswer, DeriveJob } from './deriveThread.ts';
import { requirePicture, type FlatMap, type FlatWatch } from '../flat/flatMap.ts';
import { deriveOnOneThread } from './deriveOnOneThread.ts';
import { ThreadTeam } from '../threads/threadTeam.ts';

/** Below so many texels threads take longer to start than there is to do. */
const WORTH_THREADS = 256 * 256;

/**
 * The maps of a material, derived on several threads: the same to the last bit as on one. The height comes first, then
 * what is made of it, map by map; occlusion cut by cut.
 * @param pictures the first is derived from, as light
 * @throws run/cancelled, run/failed
 */
export async function deriveMaps(
  settings: DeriveSettings,
  pictures: readonly Image[],
  { cancelFlag, onProgress, threads }: FlatWatch & { threads: number },
): Promise<FlatMap[]> {
  const source = requirePicture(pictures, 0);
  if (threads < 2 || source.width * source.height < WORTH_THREADS) {
    return deriveOnOneThread(settings, pictures, { cancelFlag, onProgress });
  }
  const { maps, ao, repeats } = settings;
  const team = new ThreadTeam<DeriveJob, DeriveAnswer>('./deriveThread', import.meta.url, threads, cancelFlag);
  const steps = maps.length + (maps.includes('ao') ? ao.slices : 0);
  let done = 0;
  const ask = (job: DeriveJob, note: DerivedKind): Promise<DeriveAnswer> => {
    const answer = team.do(job).then((found) => {
      onProgress({ stage: 'trace', share: ++done / (steps + 1), secondsLeft: null, note });
      return found;
    });
    // Where one fails the others do, and the first of them is heard of.
    answer.catch(() => {});
    return answer;
  };
  try {
    const picture = sharedImage(source);
    const ofSource = (make: DerivedKind): Promise<DeriveAnswer> => ask({ of: 'source', picture, settings, make }, make);
    const picked = new Map(maps.filter(isPicked).map((kind) => [kind as DerivedKind, ofSource(kind)]));
    const first = maps.every(isPicked) ? null : await ofSource('height');
    /** As if the height had been given: what it was adjusted by is in it. */
    const ofHeight = (make: DeriveJob['make'], kind: DerivedKind): Promise<DeriveAnswer> => {
      const { image, depth } = first!;
      const given = { ...settings, from: 'height' as const, depth, adjust: { ...settings.adjust, height: [] } };
      return ask({ of: 'height', picture: image, settings: given, make }, kind);
    };
    const openness = async (): Promise<Image> => {
      const sum = planeLike(source);
      const skies = Array.from({ length: ao.slices }, (_, cut) => ofHeight({ cut }, 'ao'));
      for (const each of skies) addSky(sum, (await each).image);
      return adjust(asOpenness(sum, ao.slices), settings.adjust.ao ?? [], repeats ? 'repeat' : 'clamp');
    };
    const imageOf = async (kind: DerivedKind): Promise<Image> => {
      if (kind === 'height') return first!.image;
      if (kind === 'ao') return openness();
      return (await (picked.get(kind) ?? ofHeight(kind, kind))).image;
    };
    return await Promise.all(maps.map(async (kind) => ({ kind, image: await imageOf(kind) })));
  } finally {
    team.close();
  }
}
