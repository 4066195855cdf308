import { FIRST_TILE } from '@zographos/core/uv';
import { defineOperation, type SentenceNames, type SentencePart } from '../operation.ts';
import { BASE_BYTES } from '../memoryLimit.ts';
import { count, namesText, shortNumber, sizeText } from '../wording.ts';
import { layoutReport } from './report.ts';
import { layoutSettings, spacingText, type LayoutSettings } from './settings.ts';

/** While it is cut open, welded and drawn. */
const BYTES_PER_TRIANGLE = 900;

/** Lays meshes out anew; its result is a revision of each of them with one more UV set. */
export const layoutOperation = defineOperation({
  kind: 'layout',
  version: 1,
  ticket: null,
  settings: layoutSettings,
  report: layoutReport,
  outputs: () => [],
  goesByName: ({ weights }) => Object.keys(weights).length > 0,
  estimate: (_settings, { receivers }) => ({
    rays: 0,
    memoryBytes: BASE_BYTES + BYTES_PER_TRIANGLE * receivers.reduce((sum, { triangles }) => sum + triangles, 0),
  }),
  sentence,
  moreSentences: (settings) =>
    areaOf(settings).length > 0
      ? []
      : [[{ text: 'Islands fill ' }, { text: `UDIM tile ${FIRST_TILE}`, slot: 'room' }, { text: '.' }]],
  load: () => import('#run/layout'),
});

function sentence(settings: LayoutSettings, { receivers }: SentenceNames, unit: string): SentencePart[] {
  const { method, size, gap, edge, name, rotate, passes } = settings;
  const locked = settings.locked.reduce((sum, list) => sum + list.length, 0);
  return [
    { text: method === 'unwrap' ? 'Unwrap' : 'Pack the islands of', slot: 'method' },
    { text: ' ' },
    { text: namesText(receivers, 'mesh', ' and '), slot: 'receivers' },
    ...together(settings, receivers.length),
    { text: ' onto a new UV set ' },
    { text: name, slot: 'name' },
    { text: ' at ' },
    { text: sizeText(size), slot: 'size' },
    { text: ', with island spacing ' },
    { text: spacingText(gap), slot: 'gap' },
    { text: ' and tile margin ' },
    { text: spacingText(edge), slot: 'gap' },
    { text: ', ' },
    { text: densityOf(settings, unit), slot: 'density' },
    ...(method === 'unwrap' ? [{ text: ', cut ' }, { text: seamsOf(settings), slot: 'seams' }] : []),
    ...(rotate ? [] : [{ text: ', ' }, { text: 'without rotation', slot: 'density' }]),
    ...areaOf(settings),
    ...(locked > 0 ? [{ text: ', ' }, { text: `${count(locked, 'island')} locked`, slot: 'locked' }] : []),
    { text: ', best of ' },
    { text: count(passes, 'attempt'), slot: 'passes' },
    { text: '.' },
  ];
}

function together({ together: one, weights }: LayoutSettings, meshes: number): SentencePart[] {
  if (meshes < 2) return [];
  const isWeighted = Object.values(weights).some((weight) => weight !== 1);
  const how = one ? 'together' : 'each on its own layout';
  return [{ text: ', ' }, { text: isWeighted ? `${how}, some at lower density` : how, slot: 'together' }];
}

function densityOf({ density, scale }: LayoutSettings, unit: string): string {
  const which = density === 'equal' ? 'uniform texel density' : 'relative texel density kept';
  if (scale === 'fill') return which;
  const per = unit === 'units' ? 'unit' : unit;
  return `${which}, ${density === 'equal' ? `${shortNumber(scale)} px/${per}` : `scaled by ${shortNumber(scale)}`}`;
}

function seamsOf({ seams }: LayoutSettings): string {
  const along = [...(seams.hardEdges > 0.75 ? ['hard edges'] : []), ...(seams.existing ? ['existing seams'] : [])];
  const where = along.length > 0 ? `along ${along.join(' and ')}` : 'where the surface bends';
  if (seams.bend === 2) return where;
  return `${where}, into ${seams.bend > 2 ? 'fewer islands with more stretch' : 'more islands with less stretch'}`;
}

/** The part of the tiles that is filled, where that is not the whole first one. */
function areaOf({ tiles, window }: LayoutSettings): SentencePart[] {
  const [u0, v0, u1, v1] = window;
  const isWhole = u0 === 0 && v0 === 0 && u1 === 1 && v1 === 1;
  if (isWhole && tiles.length === 1 && tiles[0] === FIRST_TILE) return [];
  const part = isWhole
    ? ''
    : `u ${shortNumber(u0)} to ${shortNumber(u1)}, v ${shortNumber(v0)} to ${shortNumber(v1)} of `;
  return [
    { text: ', in ' },
    { text: `${part}UDIM tile${tiles.length > 1 ? 's' : ''} ${tiles.join(', ')}`, slot: 'room' },
  ];
}
