import type { Size } from '@zographos/core/math';
import { pickChannel, sharedImage, TexelState, withNeededRange, type Image } from '@zographos/core/image';
import { sharedUint8 } from '@zographos/core/shared-arrays';
import { FIRST_TILE } from '@zographos/core/uv';
import { limitsFrom, readImageFile } from '@zographos/formats/images';
import { secondsSince, type RunContext, type RunOutcome, type RunPicture } from '../runContext.ts';
import type { PictureMeaning } from './adjustments.ts';
import { asMeantBy, type FlatMap } from './flatMap.ts';
import { FlatMeasures } from './measureFlat.ts';
import { withKernelTeam } from '../kernel/withKernelTeam.ts';
import { refuseFlatBeyondMemory, type FlatMaker } from './memory.ts';
import type { FlatReport } from './report.ts';

export { requirePicture } from './flatMap.ts';

/** What the runs of flat material differ in. */
export interface FlatWork {
  /** What the images of the ticket hold, in their order. */
  meanings: readonly PictureMeaning[];
  /** What decides how much memory it needs. */
  needs: { kind: FlatMaker; size: (pictures: readonly Image[]) => Size; maps: number };
  /**
   * @param pictures as light, in the order of the ticket
   * @param put takes each map as soon as it is made
   * @param tell takes what is to be reported besides what is measured
   */
  make: (
    pictures: readonly Image[],
    put: (map: FlatMap) => Promise<void>,
    tell: (part: Partial<FlatReport>) => void,
  ) => Promise<void>;
}

/**
 * Reads the images of a ticket, makes its maps of them, measures them and puts them.
 * @throws limit/memory before anything is computed, input/bad-settings, input/unreadable-file, run/cancelled
 */
export async function runFlatTicket(
  context: Pick<RunContext<unknown>, 'pictures' | 'memoryLimitBytes' | 'threads' | 'cancelFlag' | 'put'>,
  { meanings, needs, make }: FlatWork,
): Promise<RunOutcome<FlatReport>> {
  const since = performance.now();
  const measures = new FlatMeasures();
  const told: Partial<FlatReport> = {};
  await withKernelTeam(context, async () => {
    const images: Image[] = [];
    for (const [i, picture] of (context.pictures ?? []).entries()) images.push(await imageOf(picture, meanings[i]));
    refuseFlatBeyondMemory(needs.kind, needs.size(images), needs.maps, context);
    const put = async (map: FlatMap): Promise<void> => {
      measures.add(map);
      const { kind } = map;
      const image = withNeededRange(kind, map.image);
      // Flat material fills its tile: every texel counts.
      const states = sharedUint8(image.width * image.height).fill(TexelState.covered);
      await context.put({ what: 'map', kind, tile: FIRST_TILE, image: sharedImage(image), states });
    };
    await make(images, put, (part) => Object.assign(told, part));
  });
  return { report: { ...measures.report(secondsSince(since)), ...told } };
}

/** A map is held as light already; a file is read and taken as the ticket says it is meant. */
async function imageOf(
  { name, bytes, image, colorSpace, convention }: RunPicture,
  meaning: PictureMeaning | undefined,
): Promise<Image> {
  if (image) return pickChannel(image, meaning?.pick);
  const read = await readImageFile(name, bytes, limitsFrom(process.env));
  const known = { ...(colorSpace ? { colorSpace } : {}), ...(convention ? { convention } : {}) };
  return pickChannel(asMeantBy({ ...known, ...meaning }, read), meaning?.pick);
}
