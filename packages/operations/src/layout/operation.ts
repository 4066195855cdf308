import { FIRST_TILE } from '@zographos/core/uv';
import type { Operation, SentencePart } from '../operation.ts';
import { layoutSettings, type LayoutSettings } from './settings.ts';

/** A running Node process with its libraries. */
const BASE_BYTES = 220e6;
/** While it is cut open, welded and drawn. */
const BYTES_PER_TRIANGLE = 900;

/** Lays meshes out anew; its result is a revision of each of them with one more UV set. */
export const layoutOperation: Operation<LayoutSettings> = {
  kind: 'layout',
  version: 1,
  settings: layoutSettings,
  outputs: () => [],
  goesByName: ({ weights }) => Object.keys(weights).length > 0,

  estimate: (_settings, { receivers }) => ({
    rays: 0,
    memoryBytes: BASE_BYTES + BYTES_PER_TRIANGLE * receivers.reduce((sum, { triangles }) => sum + triangles, 0),
  }),

  sentence(settings, names) {
    const { method, size, gap, edge, name, rotate, passes } = settings;
    const meshes = names.receivers.length > 4 ? `${names.receivers.length} meshes` : names.receivers.join(' and ');
    return [
      { text: method === 'unwrap' ? 'Unwrap' : 'Pack the islands of', slot: 'method' },
      { text: ' ' },
      { text: meshes || 'nothing yet', slot: 'receivers' },
      ...together(settings, names.receivers.length),
      { text: ' onto a new UV set ' },
      { text: name, slot: 'name' },
      { text: ' at ' },
      { text: size.width === size.height ? `${size.width} px` : `${size.width} × ${size.height} px`, slot: 'size' },
      { text: ', with ' },
      { text: `${short(gap)} px`, slot: 'gap' },
      { text: ' between islands and ' },
      { text: `${short(edge)} px`, slot: 'gap' },
      { text: ' to the edge, texels ' },
      { text: densityOf(settings), slot: 'density' },
      ...(method === 'unwrap' ? [{ text: ', cut ' }, { text: seamsOf(settings), slot: 'seams' }] : []),
      ...(rotate ? [] : [{ text: ', ' }, { text: 'none turned', slot: 'density' }]),
      ...roomOf(settings),
      ...(settings.locked.some((list) => list.length > 0)
        ? [{ text: ', ' }, { text: `${lockedCount(settings)} islands staying`, slot: 'locked' }]
        : []),
      { text: ', the best of ' },
      { text: passes === 1 ? 'one try' : `${passes} tries`, slot: 'passes' },
      { text: '.' },
    ];
  },
};

const short = (value: number): string => String(Number(value.toPrecision(4)));

const lockedCount = ({ locked }: LayoutSettings): number => locked.reduce((sum, list) => sum + list.length, 0);

function together({ together: one, weights }: LayoutSettings, count: number): SentencePart[] {
  if (count < 2) return [];
  const weighted = Object.values(weights).some((weight) => weight !== 1) ? ', some smaller than others' : '';
  return [{ text: ', ' }, { text: (one ? 'together' : 'each by itself') + weighted, slot: 'together' }];
}

function densityOf({ density, scale }: LayoutSettings): string {
  const which = density === 'equal' ? 'equally dense' : 'as dense as they are to each other';
  return scale === 'fill' ? which : `${which}, ${short(scale)} ${density === 'equal' ? 'px for each unit' : 'times'}`;
}

function seamsOf({ seams }: LayoutSettings): string {
  const along = [...(seams.hardEdges > 0.75 ? ['hard edges'] : []), ...(seams.existing ? ['the present seams'] : [])];
  const where = along.length > 0 ? `along ${along.join(' and ')}` : 'where it bends';
  return seams.bend === 2 ? where : `${where}, ${seams.bend > 2 ? 'in fewer pieces' : 'in flatter pieces'}`;
}

function roomOf({ tiles, window }: LayoutSettings): SentencePart[] {
  const [u0, v0, u1, v1] = window;
  const whole = u0 === 0 && v0 === 0 && u1 === 1 && v1 === 1;
  if (whole && tiles.length === 1 && tiles[0] === FIRST_TILE) return [];
  const part = whole ? '' : `${short(u0)} to ${short(u1)} across and ${short(v0)} to ${short(v1)} up of `;
  return [{ text: ', in ' }, { text: `${part}tile${tiles.length > 1 ? 's' : ''} ${tiles.join(', ')}`, slot: 'room' }];
}
