import type { SunSeason } from '@zographos/core/bake';
import { describeKind, describeNormalSpace, followsNormalSpace, phraseOfKinds } from '@zographos/core/image';
import { FIRST_TILE } from '@zographos/core/uv';
import type { SentenceNames, SentencePart } from '../operation.ts';
import { count, inSentence, lengthText, namesText, shortNumber, sizeText } from '../wording.ts';
import { BACK_FACE_LABELS, CURVATURE_LABELS, ID_LABELS, RAY_DIRECTION_LABELS, REPEAT_LABELS } from './options.ts';
import type { BakeOperationSettings } from './settings.ts';

type Settings = BakeOperationSettings;

/** What a bake reads as: “Bake normal (tangent space, Y up) of Bell light from Bell dense at 2048 px, reaching …”. */
export function bakeSentence(settings: Settings, names: SentenceNames, unit: string): SentencePart[] {
  const { samples, padding, maps, normal, occlusion, oversize, background } = settings;
  const isDirected = maps.some(followsNormalSpace);
  // What comes from an image casts no rays.
  const hasFans = maps.some((kind) => describeKind(kind).fans && !settings.pictures[kind]);
  return [
    { text: 'Bake ' },
    { text: phraseOfKinds(maps), slot: 'maps' },
    ...(isDirected ? [{ text: ' (' }, { text: describeNormalSpace(normal), slot: 'normal' }, { text: ')' }] : []),
    { text: ' of ' },
    { text: names.receivers.join(', '), slot: 'receivers' },
    { text: ' from ' },
    ...sourcesOf(settings, names),
    ...picturesOf(settings),
    { text: ' at ' },
    { text: sizeText(settings.size), slot: 'size' },
    ...tilesOf(settings),
    ...reachingOf(settings, names, unit),
    { text: ', with ' },
    { text: `${samples} × ${samples}`, slot: 'samples' },
    { text: ' samples' },
    ...(oversize > 1 ? [{ text: ', ' }, { text: `${oversize} × supersampling`, slot: 'samples' }] : []),
    ...(hasFans ? [{ text: ', ' }, { text: `${occlusion.rays} occlusion rays per sample`, slot: 'occlusion' }] : []),
    { text: ' and ' },
    { text: padding === 'all' ? 'padding over the whole map' : `${padding} px`, slot: 'padding' },
    ...(padding === 'all' ? [] : [{ text: ' padding' }]),
    ...(background && padding !== 'all'
      ? [{ text: ' on ' }, { text: `background ${background}`, slot: 'padding' }]
      : []),
    { text: '.' },
  ];
}

/** What is seldom changed: “On UV 1 in UDIM tile 1001; sources: all, not repeated, original scale. Rays follow …”. */
export function moreBakeSentences(settings: Settings, names: SentenceNames, unit: string): SentencePart[][] {
  const { maps, match, repeat, sourceScale, pictures, height, gradient, sky, sun, curvature, id } = settings;
  const pictured = maps.filter((kind) => pictures[kind]);
  return [
    [
      { text: 'On ' },
      { text: names.uvSets?.[settings.uvSet] ?? `UV set ${settings.uvSet + 1}`, slot: 'uvSet' },
      { text: ' in ' },
      { text: tileList(settings), slot: 'tiles' },
      { text: '; sources: ' },
      { text: match === 'all' ? 'all' : 'matched by name', slot: 'match' },
      { text: ', ' },
      {
        text: repeat === 'none' ? 'not repeated' : repeatPhrase(repeat),
        slot: 'repeat',
      },
      { text: ', ' },
      { text: sourceScale === 1 ? 'original scale' : `scaled by ${shortNumber(sourceScale)}`, slot: 'scale' },
      { text: '.' },
    ],
    [
      { text: 'Rays follow ' },
      { text: inSentence(RAY_DIRECTION_LABELS[settings.direction].label), slot: 'direction' },
      { text: '. Back faces are ' },
      { text: inSentence(BACK_FACE_LABELS[settings.backFaces].label), slot: 'backFaces' },
      { text: '. Rays start at ' },
      { text: names.cage ? `cage ${names.cage}` : 'the outer reach', slot: 'cage' },
      { text: '.' },
    ],
    [
      { text: 'Colour and material come from ' },
      {
        text: pictured.length > 0 ? `images for ${phraseOfKinds(pictured)}` : 'the source’s materials',
        slot: 'pictures',
      },
      { text: '.' },
    ],
    ...(maps.includes('height')
      ? [
          [
            { text: 'Height range in 8- and 16-bit files: ' },
            { text: height.span === 'auto' ? 'automatic' : lengthText(height.span, unit), slot: 'height' },
            { text: '.' },
          ],
        ]
      : []),
    ...(maps.includes('gradient')
      ? [
          [
            { text: 'The position gradient grows along ' },
            { text: axisText(gradient), slot: 'gradient' },
            { text: '.' },
          ],
        ]
      : []),
    ...(maps.includes('sky')
      ? [
          [
            { text: 'The sky is ' },
            { text: `within ${sky?.angle ?? 90}° of ${axisText(sky?.up ?? [0, 1, 0])}`, slot: 'sky' },
            { text: '.' },
          ],
        ]
      : []),
    ...(maps.includes('sun')
      ? [
          [
            { text: 'The sun is followed over ' },
            {
              text: `${SEASON_PHRASES[sun?.season ?? 'year']} at ${latitudeText(sun?.latitude ?? 50)}, north at ${axisText(sun?.north ?? [0, 0, -1])}`,
              slot: 'sun',
            },
            { text: '.' },
          ],
        ]
      : []),
    ...(maps.includes('curvature')
      ? [
          [
            { text: 'Curvature shows ' },
            { text: inSentence(CURVATURE_LABELS[curvature.show].label), slot: 'curvature' },
            { text: '.' },
          ],
        ]
      : []),
    ...(maps.includes('id')
      ? [[{ text: 'ID colours by ' }, { text: inSentence(ID_LABELS[id].label), slot: 'id' }, { text: '.' }]]
      : []),
  ];
}

function sourcesOf({ match, repeat, sourceScale }: Settings, { sources }: SentenceNames): SentencePart[] {
  return [
    { text: namesText(sources, 'mesh', ' and '), slot: 'sources' },
    ...(sourceScale === 1 ? [] : [{ text: ', ' }, { text: `scaled by ${shortNumber(sourceScale)}`, slot: 'scale' }]),
    ...(match === 'all' ? [] : [{ text: ', ' }, { text: 'matched by name', slot: 'match' }]),
    ...(repeat === 'none' ? [] : [{ text: ', ' }, { text: 'repeated over the tile', slot: 'repeat' }]),
  ];
}

function picturesOf({ pictures, maps }: Settings): SentencePart[] {
  const carried = maps.filter((kind) => pictures[kind]);
  if (carried.length === 0) return [];
  const which = carried.length === maps.length ? 'its images' : `images for ${phraseOfKinds(carried)}`;
  return [{ text: ' and ' }, { text: which, slot: 'pictures' }];
}

const tileList = ({ tiles }: Settings): string =>
  tiles === 'all' ? 'all UDIM tiles' : `UDIM tile${tiles.length > 1 ? 's' : ''} ${tiles.join(', ')}`;

function tilesOf(settings: Settings): SentencePart[] {
  const { tiles, tileSizes } = settings;
  const own = Object.keys(tileSizes).length;
  if (tiles !== 'all' && tiles.length === 1 && tiles[0] === FIRST_TILE && own === 0) return [];
  const list = tileList(settings);
  return [{ text: ' in ' }, { text: own > 0 ? `${list}, ${count(own, 'tile')} of another size` : list, slot: 'tiles' }];
}

function reachingOf({ reach, aim, touches }: Settings, { cage }: SentenceNames, unit: string): SentencePart[] {
  const touched = touches.length > 0 ? ', adjusted by hand' : '';
  if (aim === 'nearest') return [{ text: ', using the ' }, { text: 'nearest surface point', slot: 'reach' }];
  if (aim === 'shared') return [{ text: ', through ' }, { text: 'shared triangles', slot: 'reach' }];
  if (cage) {
    const inwards =
      typeof reach === 'string'
        ? [{ text: ' with ' }, { text: 'measured inner reach', slot: 'reach' }]
        : [{ text: ' to ' }, { text: lengthText(reach.in, unit), slot: 'reach' }, { text: ' in' }];
    return [{ text: ', from cage ' }, { text: cage, slot: 'cage' }, ...inwards];
  }
  if (typeof reach === 'string') {
    const how = reach === 'auto' ? 'measured reach' : 'reach fitted per vertex';
    return [{ text: ', with ' }, { text: how + touched, slot: 'reach' }];
  }
  return [
    { text: ', reaching ' },
    { text: lengthText(reach.out, unit), slot: 'reach' },
    { text: ' out and ' },
    { text: lengthText(reach.in, unit), slot: 'reach' },
    { text: ` in${touched}` },
  ];
}

const AXES = ['X', 'Y', 'Z'];

/** “+Y” for an axis, else the numbers. */
function axisText(direction: readonly number[]): string {
  const along = direction.findIndex((value) => value !== 0);
  const isAxis = direction.every((value, k) => k === along || value === 0);
  return isAxis ? `${direction[along]! > 0 ? '+' : '−'}${AXES[along]}` : direction.map(shortNumber).join(' ');
}

/** @example 'repeated on a hexagonal grid, 6 across' */
function repeatPhrase({ grid, columns, rows }: Exclude<Settings['repeat'], 'none'>): string {
  const counts = rows === 'follow' ? `${columns} across` : `${columns} × ${rows}`;
  return `repeated on a ${inSentence(REPEAT_LABELS[grid].label)}, ${counts}`;
}

const SEASON_PHRASES: Readonly<Record<SunSeason, string>> = {
  year: 'a year',
  summer: 'a summer',
  winter: 'a winter',
};
const latitudeText = (latitude: number): string => `${Math.abs(latitude)}° ${latitude < 0 ? 'south' : 'north'}`;
