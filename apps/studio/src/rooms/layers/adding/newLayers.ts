import type { Layer, LayerChannel, MaskMeasure, MaskStep, TilingPaint } from '@zographos/core/layers';
import { LAYER_CHANNELS } from '@zographos/core/layers';
import type { ImageSet } from '@zographos/contracts';
import {
  COATINGS,
  layer as layerSchema,
  layersSettings,
  MOST_LAYER_NAME,
  MOST_MESH_NAME,
  tilingSettings,
  type LayersSettings,
} from '@zographos/operations';

/** A layer that may be added, under the name of what it does. */
export interface NewLayer {
  title: string;
  hint: string;
  layer: Layer;
  /** An image that it shows, which has to be among those of the stack. */
  picture?: 'image' | 'lettering';
  /** The flat set that has to be among the materials of the stack. */
  material?: ImageSet;
  /** Maps that it goes by and the set does not have yet: a run bakes them. */
  bakesFirst?: string;
}

const newId = (): string => crypto.randomUUID().slice(0, 8);

/** A layer with everything that is left out as it usually is. */
export const made = (layer: object): Layer => layerSchema.parse({ id: newId(), ...layer });

/** A step of a mask with everything that is left out as it usually is. */
export const madeStep = (step: { measure: MaskMeasure['measure'] } & Record<string, unknown>): MaskStep =>
  made({ name: 'step', content: 'maps', channels: ['normal'], mask: { steps: [step] } }).mask.steps[0]!;

const where = (...steps: object[]) => ({ mask: { steps } });

/** Slots that are offered each by itself: more could not be looked through. */
const MOST_SLOTS = 6;

/** What is likely to come next on a receiver. @param extent its size in millimetres */
export function likelyLayers(
  slots: readonly string[],
  materials: readonly ImageSet[],
  baked: readonly LayerChannel[],
  [low, high]: readonly [number, number],
  hasImages: boolean,
): NewLayer[] {
  const size = Math.max(1, high - low);
  const grain = round(size / 25);
  const all: NewLayer[] = [
    ...(baked.length > 0
      ? [
          {
            title: 'Maps of the set',
            hint: 'baked maps as the ground',
            layer: made({ name: 'Baked maps', content: 'maps', channels: baked }),
          },
        ]
      : []),
    {
      title: 'Plain colour',
      hint: 'one value for each channel',
      layer: made({
        name: 'Plain colour',
        content: 'plain',
        values: { basecolor: '#8c8d8a', roughness: 0.6, metallic: 0 },
      }),
    },
    ...materials.map((set) => ({
      title: set.name,
      hint: 'tiling material at its real size',
      layer: made({ name: set.name, content: 'tiling', material: 0, channels: channelsOf(set) }),
      material: set,
    })),
    ...COATINGS.map(({ name, hint, layers }) => ({
      title: name,
      hint: `coating: ${hint}`,
      layer: made({ name, content: 'group', layers }),
    })),
    paintedLayer(),
    {
      title: 'Lettering',
      hint: 'set in a typeface, laid on as a decal',
      picture: 'lettering',
      layer: made({
        name: 'Lettering',
        content: 'plain',
        values: { basecolor: '#e7e1d2', roughness: 0.5, metallic: 0, height: 0.1 },
      }),
    },
    ...(hasImages
      ? [
          {
            title: 'Image',
            hint: 'a decal on the surface, or fitted to an island',
            picture: 'image' as const,
            layer: made({ name: 'Image', content: 'picture', picture: 0, channels: ['basecolor'] }),
          },
        ]
      : []),
    {
      title: 'Worn edges',
      hint: 'bare metal where edges are convex and open',
      layer: made({
        name: 'Worn edges',
        content: 'plain',
        values: { basecolor: '#8a8d91', roughness: 0.35, metallic: 1 },
        ...where({
          measure: 'wear',
          radius: round(size / 80),
          breakup: { amount: 0.6, field: { size: grain, octaves: 5 } },
        }),
      }),
    },
    {
      title: 'Settled dust',
      hint: 'level places that see the sky',
      layer: made({
        name: 'Settled dust',
        content: 'plain',
        opacity: 0.7,
        values: { basecolor: '#a99c84', roughness: 0.95, metallic: 0 },
        ...where({ measure: 'dust', breakup: { amount: 0.3, field: { size: grain, octaves: 5 } } }),
      }),
    },
    {
      title: 'Waterline',
      hint: 'darkened below a level, with a ragged edge',
      layer: made({
        name: 'Waterline',
        content: 'plain',
        opacity: 0.6,
        blend: 'multiply',
        values: { basecolor: '#4a4f3a', roughness: 0.8 },
        ...where({
          ...{ measure: 'waterline', level: round(low + size * 0.3), band: round(size / 12) },
          ...{ ragged: round(size / 40), raggedSize: round(size / 8) },
        }),
      }),
    },
    {
      title: 'Rust runs',
      hint: 'drops that run down from open edges',
      layer: made({
        name: 'Rust runs',
        content: 'plain',
        opacity: 0.85,
        values: { basecolor: '#6b3518', roughness: 0.9, metallic: 0 },
        ...where({
          ...{ measure: 'runs', drops: 300, length: round(size / 5), width: round(size / 150) },
          ...{ wanderSize: round(size / 40), wander: 0.35 },
          from: [{ measure: 'wear', radius: round(size / 60) }],
        }),
      }),
    },
    {
      title: 'Rust spreading',
      hint: 'patches grown over the surface from seeds in hollows',
      layer: made({
        name: 'Rust spreading',
        content: 'field',
        field: { size: round(size / 60), octaves: 6 },
        ramp: [
          { at: 0.2, color: '#3d2117' },
          { at: 0.8, color: '#8f5029' },
        ],
        values: { roughness: [0.8, 0.95], metallic: [0, 0], height: [0, 0.1] },
        ...where({
          ...{ measure: 'spreading', seeds: 40, reach: round(size / 15), roughness: 0.5, roughSize: round(size / 30) },
          from: [{ measure: 'map', map: 'ao', from: 0.95, to: 0.6 }],
        }),
      }),
    },
    {
      title: 'Sun fade',
      hint: 'paler where the sun shines over a year',
      layer: made({
        name: 'Sun fade',
        content: 'adjustment',
        channels: ['basecolor'],
        steps: [
          { do: 'saturation', amount: 0.6 },
          { do: 'brightness', amount: 0.08 },
        ],
        ...where({ measure: 'sunFade', amount: 0.7 }),
      }),
    },
    {
      title: 'Mottled noise',
      hint: 'a procedural field in object space',
      layer: made({
        name: 'Mottled noise',
        content: 'field',
        opacity: 0.4,
        blend: 'overlay',
        field: { size: round(size / 8), octaves: 6 },
        ramp: [
          { at: 0, color: '#3c3a36' },
          { at: 1, color: '#c8c4b8' },
        ],
        values: { roughness: [0.4, 0.8] },
      }),
    },
    ...(slots.length > 1
      ? slots
          .filter(({ length }) => length <= MOST_MESH_NAME)
          .slice(0, MOST_SLOTS)
          .map((slot) => ({
            title: `Colour of “${slot}”`,
            hint: 'on one material slot',
            layer: made({
              // Files name slots as they like: with nothing but blanks, or at any length.
              name: slot.trim().slice(0, MOST_LAYER_NAME) || 'Slot',
              content: 'plain',
              values: { basecolor: '#7d6a55', roughness: 0.6, metallic: 0 },
              ...where({ measure: 'slot', slots: [slot] }),
            }),
          }))
      : []),
    {
      title: 'Adjustment',
      hint: 'changes everything beneath',
      layer: made({
        name: 'Contrast',
        content: 'adjustment',
        channels: ['basecolor'],
        steps: [{ do: 'contrast', amount: 1.15 }],
      }),
    },
    {
      title: 'Group',
      hint: 'layers under one mask',
      layer: made({ name: 'Group', content: 'group', layers: [] }),
    },
  ];
  return all;
}

/** A layer to be painted on. */
export const paintedLayer = (): NewLayer => ({
  title: 'Painted',
  hint: 'strokes painted on the model',
  layer: made({
    name: 'Painted',
    content: 'painted',
    channels: ['basecolor'],
  }),
});

export const emptyGroup = (): Layer & { content: 'group' } =>
  made({ name: 'Group', content: 'group', layers: [] }) as Layer & { content: 'group' };

export { newId };

/** A flat set as paint, in all of the channels that it has. */
export const tilingPaint = (set: ImageSet): TilingPaint =>
  tilingSettings.parse({ material: 0, channels: channelsOf(set) });

/** The channels that a flat set has maps for. */
const channelsOf = ({ maps }: ImageSet): LayerChannel[] => {
  const there = LAYER_CHANNELS.filter((channel) =>
    maps.some(({ kind, revisions }) => kind === channel && revisions[0]),
  );
  return there.length > 0 ? there : ['basecolor'];
};

const round = (millimetres: number): number => Number(Math.max(0.01, millimetres).toPrecision(2));

/** A new stack: what is baked as the ground, if anything is. @param size of the maps it makes */
export const newStack = (size: LayersSettings['size'], baked: readonly LayerChannel[]): LayersSettings =>
  layersSettings.parse({
    size,
    tiles: 'all',
    layers: baked.length > 0 ? [made({ name: 'Baked maps', content: 'maps', channels: baked })] : [],
  });
