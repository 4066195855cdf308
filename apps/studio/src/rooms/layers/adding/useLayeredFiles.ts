import { everyLayer, type Layer } from '@zographos/core/layers';
import { layeredFile, PATHS, type ImageSet, type LayeredFileTaken } from '@zographos/contracts';
import { postFiles } from '../../../api/call.ts';
import { useNotices } from '../../../stores/notices.ts';
import { useProject } from '../../../stores/project.ts';
import { emptyGroup, made, newId } from './newLayers.ts';
import { changed } from '../stack/stackEdits.ts';
import type { OpenStack } from '../stack/useStack.ts';

/** Layered files that a paint program wrote over the UV guide: they come in as a group, and again when they are newer. */
export function useLayeredFiles(projectId: () => string, stack: OpenStack) {
  const store = useProject();
  const notices = useNotices();

  async function bringIn(files: readonly File[], set: ImageSet): Promise<void> {
    const [file] = files;
    const taken = file && (await notices.guard(() => postFiles(PATHS.layeredFile(projectId()), [file], layeredFile)));
    if (!taken) return;
    await store.reload();
    const { part, pictures, numbers } = stack.pictures.useAll(taken.layers.map(({ image }) => image));
    const tiles = tilesOf(set).length > 1 ? [tileNamed(taken.name) ?? tilesOf(set)[0]!] : [];
    const laid = taken.layers.map((each, i) => pictureLayer(each, numbers[i]!, tiles));
    const known = groupWith(stack.layers.value, new Set(numbers));
    if (known) {
      const there = new Set(known.layers.flatMap((layer) => (layer.content === 'picture' ? [layer.picture] : [])));
      const added = laid.filter((_, i) => !there.has(numbers[i]!));
      stack.chosenId.value = known.id;
      if (added.length > 0) {
        const next = changed(stack.layers.value, known.id, () => ({ ...known, layers: [...known.layers, ...added] }));
        await stack.changeLayers(next, `layers of “${taken.name}”`, part, pictures);
      }
    } else {
      const group = { ...emptyGroup(), id: newId(), name: taken.name, layers: laid };
      await stack.lay(group, `layers of “${taken.name}”`, part, pictures);
    }
    const notes = taken.notes.slice(0, 3).join(' ');
    const count = taken.layers.length === 1 ? 'One layer' : `${taken.layers.length} layers`;
    notices.say('done', `${count} of “${taken.name}” ${known ? 'updated' : 'imported'}. ${notes}`.trim());
  }

  return { bringIn };
}

const tilesOf = ({ tiles, maps }: ImageSet): number[] =>
  [...new Set([...tiles.map(({ number }) => number), ...maps.map(({ tile }) => tile)])].sort((a, b) => a - b);

/** The tile that a name says, as names of guides do. @example tileNamed('bollard_guide.1002') // 1002 */
export function tileNamed(name: string): number | null {
  const found = /(?:^|[^0-9])(1[0-9]{3})(?:[^0-9]|$)/.exec(name)?.[1];
  return found === undefined ? null : Number(found);
}

/** A layer of the file as an image over the whole layout; in its tile alone where there are several. */
function pictureLayer(
  { name, visible, opacity, blend }: LayeredFileTaken['layers'][number],
  picture: number,
  tiles: readonly number[],
): Layer {
  return made({
    ...{ name: name.slice(0, 120), visible, opacity, blend, content: 'picture', picture },
    ...{ channels: ['basecolor'], place: { on: 'layout' } },
    ...(tiles.length > 0 ? { mask: { steps: [{ measure: 'tile', tiles }] } } : {}),
  });
}

/** The group that shows images of a file already. */
function groupWith(layers: readonly Layer[], pictures: ReadonlySet<number>): (Layer & { content: 'group' }) | null {
  for (const layer of everyLayer(layers)) {
    if (layer.content !== 'group') continue;
    if (layer.layers.some((each) => each.content === 'picture' && pictures.has(each.picture))) return layer;
  }
  return null;
}
