import { z } from 'zod';
import { ZographosError } from '@zographos/core/errors';
import { tilingOf, type Layer, type MaskStep, type Stroke } from '@zographos/core/layers';
import { layerList } from './layerSettings.ts';
import { recordOfStrokeText, strokeText } from './strokeSettings.ts';
import { layersSettings, type LayersSettings } from './settings.ts';

/** A stack saved as a file: its layers, and the folders and images that they are made of, beside it. */
const stackFile = z.strictObject({
  zographos: z.literal('stack'),
  version: z.literal(1),
  name: z.string().max(120).default('Stack'),
  /** Remarks for whoever reads the file. */
  about: z.array(z.string()).optional(),
  mixing: layersSettings.shape.mixing,
  layers: layerList,
  /** Tiling materials, each a folder of maps named by their kinds; width of a tile in millimetres. */
  materials: z
    .array(
      z.strictObject({ name: z.string().max(120), folder: z.string().min(1), width: z.number().positive().max(1e6) }),
    )
    .max(64)
    .default([]),
  /** Images, named by layers by their place in this list. */
  pictures: z.array(z.string().min(1)).max(64).default([]),
  /** What was painted, by names that layers use. */
  strokes: z.record(z.string().min(1).max(64), strokeText).default({}),
});

export type StackFile = z.infer<typeof stackFile>;

/** @throws input/unreadable-file when the text is not a stack, naming the first thing that is wrong */
export function parseStackFile(name: string, text: string): StackFile {
  let json: unknown;
  try {
    json = JSON.parse(text);
  } catch (error) {
    throw new ZographosError(
      'input/unreadable-file',
      `“${name}” is not JSON. Check it in an editor; cli layers --example prints a stack.`,
      { cause: error },
    );
  }
  const parsed = stackFile.safeParse(json);
  if (parsed.success) return parsed.data;
  const issue = parsed.error.issues[0]!;
  throw new ZographosError(
    'input/unreadable-file',
    `“${name}” is not a stack that can be run: “${issue.path.join('.') || 'stack'}”: ${issue.message}. cli layers --example prints a stack.`,
  );
}

/** What layers are made of under other numbers and names, for those that move from one stack to another. */
export interface Renumbering {
  pictures?: ReadonlyMap<number, number>;
  materials?: ReadonlyMap<number, number>;
  strokeNames?: ReadonlyMap<string, string>;
}

/**
 * The same layers, which name what they are made of otherwise. Brushes of their strokes are not changed.
 * @example renumberedLayers(layers, { pictures: new Map([[0, 3]]) })
 */
export function renumberedLayers(layers: readonly Layer[], numbering: Renumbering): Layer[] {
  const { pictures, materials, strokeNames } = numbering;
  const step = <Step extends MaskStep>(each: Step): Step => {
    if (each.measure === 'picture') return { ...each, picture: pictures?.get(each.picture) ?? each.picture };
    if (each.measure === 'painted') return { ...each, strokes: named(each.strokes) };
    if (each.measure === 'runs' || each.measure === 'spreading') return { ...each, from: each.from.map(step) };
    return each;
  };
  const named = (names: readonly string[]): string[] => names.map((name) => strokeNames?.get(name) ?? name);
  return layers.map((layer): Layer => {
    const mask = { ...layer.mask, steps: layer.mask.steps.map(step) };
    switch (layer.content) {
      case 'group':
        return {
          ...layer,
          mask,
          layers: renumberedLayers(layer.layers, numbering),
        };
      case 'picture':
        return { ...layer, mask, picture: pictures?.get(layer.picture) ?? layer.picture };
      case 'tiling':
        return { ...layer, mask, material: materials?.get(layer.material) ?? layer.material };
      case 'painted':
        return { ...layer, mask, strokes: named(layer.strokes) };
      default:
        return { ...layer, mask };
    }
  });
}

/** The same stroke, which names the picture on its brush and the material that is its paint otherwise. */
export function renumberedStroke(stroke: Stroke, { pictures, materials }: Renumbering): Stroke {
  const { picture } = stroke.brush;
  const tiling = tilingOf(stroke);
  const brush = picture
    ? { ...stroke.brush, picture: { ...picture, picture: pictures?.get(picture.picture) ?? picture.picture } }
    : stroke.brush;
  const paint = tiling
    ? { tiling: { ...tiling, material: materials?.get(tiling.material) ?? tiling.material } }
    : stroke.paint;
  return { ...stroke, brush, paint };
}

/** A stack as it is written in a file: with the images and materials that are beside it, numbered anew. */
export function stackFileOf({
  name,
  mixing,
  layers,
  pictures,
  materials,
  strokes,
  pictureNumbers,
  materialNumbers,
}: Pick<StackFile, 'name' | 'mixing' | 'pictures' | 'materials'> & {
  layers: readonly Layer[];
  strokes: Readonly<Record<string, Stroke>>;
  pictureNumbers: ReadonlyMap<number, number>;
  materialNumbers: ReadonlyMap<number, number>;
}): z.input<typeof stackFile> {
  const numbering = { pictures: pictureNumbers, materials: materialNumbers };
  const numbered = renumberedLayers(layers, numbering);
  const renamed = Object.entries(strokes).map(([key, stroke]) => [
    key,
    recordOfStrokeText(renumberedStroke(stroke, numbering)),
  ]);
  return {
    ...{ zographos: 'stack', version: 1, name, mixing, pictures, materials },
    layers: numbered,
    strokes: Object.fromEntries(renamed) as z.input<typeof stackFile>['strokes'],
  };
}

/** A stack that needs no other file, with remarks. */
export const EXAMPLE_STACK = {
  zographos: 'stack',
  version: 1,
  name: 'Painted steel, worn and weathered',
  about: [
    'Layers lie from the ground upwards. Each has content (plain, tiling, picture, field, painted, maps, adjustment, group), a mask and a blend mode.',
    'Lengths are millimetres, angles degrees, shares 0 to 1; --unit says how long a unit of the mesh is.',
    'A mask is a list of steps (slot, object, part, near, island, tile, faces, id, map, axis, facing, painted, field, picture, wear, dust, runs, spreading, sunFade, waterline), combined by multiply, add, subtract, least, most, screen or replace, and then shaped: levels, contrast, grow, blur, breakup, invert.',
    'Maps that masks go by (curvature, ao, sky …) are taken from --set, and baked from the receiver itself if they are not there.',
    'Strokes are points on the surface, seven numbers each (x, y, z, its normal, pressure): "strokes": { "s1": { "brush": { "radius": 8 }, "paint": { "basecolor": "#ffffff" }, "points": [0, 0, 0, 0, 0, 1, 1] } }, laid down by { "content": "painted", "channels": ["basecolor"], "strokes": ["s1"] }. Its paint can be a tiling material: { "tiling": { "material": 0, "channels": ["basecolor", "normal"] } }.',
    'Tiling materials are folders beside this file: "materials": [{ "name": "Oak", "folder": "oak", "width": 300 }], laid down by { "content": "tiling", "material": 0, "channels": ["basecolor", "normal"] }.',
  ],
  mixing: 'seen',
  layers: [
    {
      ...{ id: 'steel', name: 'Steel', content: 'plain' },
      values: { basecolor: '#5d6166', roughness: 0.42, metallic: 1 },
    },
    {
      ...{ id: 'paint', name: 'Red lead paint', content: 'plain' },
      values: { basecolor: '#8f3b2a', roughness: 0.55, metallic: 0, height: 0.15 },
      mask: {
        steps: [
          {
            ...{ measure: 'wear', radius: 3, hardness: 0.4, sheltered: 0.5, invert: true },
            breakup: { amount: 0.5, field: { noise: 'gradient-noise', size: 6, octaves: 4 } },
          },
        ],
      },
    },
    {
      ...{ id: 'rust', name: 'Rust in patches', content: 'field' },
      field: { noise: 'gradient-noise', size: 18, octaves: 6, seed: 5 },
      ramp: [
        { at: 0, color: '#3a2018' },
        { at: 1, color: '#9a5a2c' },
      ],
      values: { roughness: [0.7, 0.95], metallic: [0, 0], height: [-0.1, 0.2] },
      mask: {
        steps: [
          { measure: 'field', field: { noise: 'cells', size: 40, octaves: 1, seed: 9, levels: [0.45, 0.2] } },
          { measure: 'map', map: 'ao', from: 1, to: 0.6, combine: 'screen', strength: 0.5 },
        ],
        shaping: { contrast: 2 },
      },
    },
    {
      ...{ id: 'runs', name: 'Rust runs', content: 'plain', opacity: 0.8 },
      values: { basecolor: '#6a3519', roughness: 0.9, metallic: 0 },
      mask: {
        steps: [
          {
            ...{ measure: 'runs', drops: 400, length: 40, width: 2, wander: 0.4, wanderSize: 10 },
            from: [{ measure: 'wear', radius: 4 }],
          },
        ],
      },
    },
    {
      ...{ id: 'dust', name: 'Settled dust', content: 'plain', opacity: 0.7 },
      values: { basecolor: '#a89a80', roughness: 0.95 },
      mask: { steps: [{ measure: 'dust', amount: 0.5, angle: 50, softness: 40 }] },
    },
    {
      ...{ id: 'tone', name: 'A little more contrast', content: 'adjustment' },
      channels: ['basecolor'],
      steps: [{ do: 'contrast', amount: 1.1 }],
    },
  ],
} as const;

/** The settings of a run of a stack file; images are its pictures first, then those of materials and measured maps. */
export const settingsOfStack = (
  { mixing, layers }: StackFile,
  rest: Pick<LayersSettings, 'size' | 'measured' | 'materials'> & Partial<LayersSettings>,
): LayersSettings => layersSettings.parse({ ...rest, mixing, layers });
