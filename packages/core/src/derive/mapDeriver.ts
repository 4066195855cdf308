import { adjust, type Adjustment } from '../adjust/adjust.ts';
import { GLTF_NORMAL, inNormalSpace } from '../image/convention.ts';
import type { Image } from '../image/image.ts';
import { describeKind } from '../image/kindMeaning.ts';
import type { MapKind } from '../image/mapKinds.ts';
import { planeLike, tone } from '../image/planes.ts';
import { resample, type Border } from '../image/filter/resample.ts';
import { Memo } from '../math/memo.ts';
import { sizeWithin } from '../math/size.ts';
import { cavityFromHeight, edgesFromHeight } from './curvatureFromHeight.ts';
import { heightFromNormal } from './heightFromNormal.ts';
import {
  heightFromTone,
  suggestHeight,
  toneScales,
  type HeightSuggestion,
  type ToneHeight,
  type ToneScales,
} from './heightFromTone.ts';
import { normalFromHeight, type NormalOptions } from './normalFromHeight.ts';
import { occlusionFromHeight } from './occlusionFromHeight.ts';
import { depthOfSteepness } from './steepness.ts';
import { labOf, pickedMap, pickMask, type PickedMap } from './toneMask.ts';

/** What maps can be derived from. */
export const DERIVE_SOURCES = ['color', 'height', 'normal'] as const;
export type DeriveSource = (typeof DERIVE_SOURCES)[number];

/** What a map is taken for when others are derived from it. */
export function deriveSourceOf(kind: MapKind): DeriveSource {
  const { values } = describeKind(kind);
  if (values === 'direction') return 'normal';
  return values === 'length' ? 'height' : 'color';
}

export const PICKED_KINDS = ['roughness', 'metallic', 'specular', 'opacity'] as const;
export type PickedKind = (typeof PICKED_KINDS)[number];

export const DERIVED_KINDS = [
  'height',
  'normal',
  'ao',
  'edges',
  'cavity',
  ...PICKED_KINDS,
  'displacement',
] as const satisfies MapKind[];
export type DerivedKind = (typeof DERIVED_KINDS)[number];

/** How each map is derived. Lengths are in tile widths. */
export interface DeriveOptions extends Record<PickedKind, PickedMap> {
  /** How high white lies over black, in tile widths; null where a normal map or `steepness` tells it. */
  depth: number | null;
  /** Where nothing else tells the depth, such that hardly any slope is steeper than so many degrees. */
  steepness: number;
  height: ToneHeight;
  normal: Omit<NormalOptions, 'depth'>;
  ao: { reach: number; slices: number };
  edges: { width: number; radius: number };
  cavity: { width: number; strength: number };
  /** Of what the tile is in the world: heights are given in its unit, 0 where the height is `middle`. */
  displacement: { tileWidth: number; middle: number };
  adjust: Partial<Record<MapKind, readonly Adjustment[]>>;
}

export const isPicked = (kind: DerivedKind): kind is PickedKind => PICKED_KINDS.some((each) => each === kind);

/** From the most care to the least. */
const CARES = ['full', 'fair', 'quick'] as const;
/** How exactly occlusion is looked for: roughly while settings move, on half the texels once they rest, or in full. */
export type Care = (typeof CARES)[number];
const QUICK = { slices: 3, side: 224 };

/**
 * Derives the maps of a material from one picture. Steps that several maps share are made once, and made again only when
 * what they depend on has changed: a map on screen follows its sliders.
 */
export class MapDeriver {
  private readonly source: Image;
  private readonly from: DeriveSource;
  private readonly border: Border;
  private readonly steps = new Memo();

  /**
   * @param source samples as light where they are colours; normals in tangent space, written in any way
   * @param repeats whether the picture wraps at its borders
   * @throws input/other-convention for normals in object space
   */
  constructor(source: Image, from: DeriveSource, repeats: boolean) {
    this.source = from === 'normal' ? inNormalSpace(source, GLTF_NORMAL, describeKind('normal').label) : source;
    this.from = from;
    this.border = repeats ? 'repeat' : 'clamp';
  }

  /**
   * Several maps, each made when it is asked for and not kept: as little is held at a time as can be. Those by picked tones
   * come first, then the height and what is made of it.
   */
  *makeAll(kinds: readonly DerivedKind[], options: DeriveOptions): Generator<{ kind: DerivedKind; make: () => Image }> {
    for (const kind of kinds.filter(isPicked)) yield { kind, make: () => this.made(kind, options, 'full') };
    this.steps.forget('lab');
    for (const kind of kinds.filter((each) => !isPicked(each))) {
      const make = (): Image => {
        this.height(options);
        this.steps.forget('scales');
        return this.made(kind, options, 'full');
      };
      yield { kind, make };
    }
  }

  /** @param care how exactly occlusion is looked for */
  make(kind: DerivedKind, options: DeriveOptions, care: Care = 'full'): Image {
    const key = JSON.stringify([
      ...[kind === 'height' ? null : options[kind], options.adjust[kind]],
      ...(isPicked(kind) && options[kind].cavity === 0
        ? []
        : [options.depth, options.steepness, options.height, options.adjust.height, options.cavity]),
    ]);
    if (kind !== 'ao') return this.steps.once(kind, key, () => this.made(kind, options, care));
    // What was looked for with more care already is not thrown away.
    const enough = CARES.slice(0, CARES.indexOf(care) + 1);
    const own = enough.find((each) => this.steps.has(`ao, ${each}`, key)) ?? care;
    return this.steps.once(`ao, ${own}`, key, () => this.made(kind, options, own));
  }

  private made(kind: DerivedKind, options: DeriveOptions, care: Care): Image {
    const { border } = this;
    if (kind === 'height') {
      const convention = { of: 'height', unit: 'tile', mid: 0, span: this.depth(options) } as const;
      return { ...this.height(options), convention };
    }
    const steps = options.adjust[kind] ?? [];
    if (isPicked(kind)) {
      const cavities = options[kind].cavity !== 0 ? this.cavities(options) : null;
      return adjust(pickedMap(this.lab(), options[kind], border, cavities), steps, border);
    }
    const height = this.height(options);
    const depth = this.depth(options);
    switch (kind) {
      case 'normal':
        return {
          ...adjust(normalFromHeight(height, { ...options.normal, depth }, border), steps, border),
          convention: { of: 'direction', ...GLTF_NORMAL, y: options.normal.y },
        };
      case 'ao':
        return adjust(this.occlusion(height, { ...options.ao, depth }, care), steps, border);
      case 'edges':
        return adjust(edgesFromHeight(height, { depth, ...options.edges }, border), steps, border);
      case 'cavity':
        return adjust(this.cavities(options), steps, border);
      case 'displacement':
        return this.displacement(options, depth);
    }
  }

  private cavities(options: DeriveOptions): Image {
    const depth = this.depth(options);
    return cavityFromHeight(this.height(options), { depth, ...options.cavity }, this.border);
  }

  private occlusion(height: Image, options: DeriveOptions['ao'] & { depth: number }, care: Care): Image {
    const { border } = this;
    if (care === 'full') return occlusionFromHeight(height, options, border);
    const longer = Math.max(height.width, height.height);
    const { slices, side } = care === 'fair' ? { slices: 4, side: longer / 2 } : QUICK;
    const small = resample(height, sizeWithin(height, side), 'linear', border);
    const few = { ...options, slices: Math.min(slices, options.slices) };
    return resample(occlusionFromHeight(small, few, border), height, 'linear', border);
  }

  /** Where one pick of a map counts. */
  mask(kind: PickedKind, pick: number, options: DeriveOptions): Image {
    return pickMask(this.lab(), options[kind].picks[pick]!);
  }

  suggestion(): HeightSuggestion {
    return this.steps.once('suggestion', '', () => suggestHeight(this.scales()));
  }

  /** How high white lies over black, in tile widths. */
  depth(options: Pick<DeriveOptions, 'depth' | 'steepness' | 'height' | 'adjust'>): number {
    if (options.depth !== null) return options.depth;
    if (this.from === 'normal') return this.integrated().depth;
    const { steepness, height, adjust: all } = options;
    return this.steps.once('depth', JSON.stringify([steepness, height, all.height]), () =>
      depthOfSteepness(this.height(options), steepness, this.border),
    );
  }

  private height({ height, adjust: all }: Pick<DeriveOptions, 'height' | 'adjust'>): Image {
    const steps = all.height ?? [];
    return this.steps.once('height', JSON.stringify([height, steps]), () => {
      const plain =
        this.from === 'normal'
          ? this.integrated().height
          : this.from === 'height'
            ? this.ofOneChannel()
            : heightFromTone(this.scales(), height, height.way === 'by-detail-size' ? this.suggestion().signs : []);
      return adjust(plain, steps, this.border);
    });
  }

  private displacement(options: DeriveOptions, depth: number): Image {
    const { tileWidth, middle } = options.displacement;
    const steps = options.adjust.displacement ?? [];
    const height = adjust(this.height(options), steps, this.border);
    const scale = depth * tileWidth;
    return {
      ...planeLike(height),
      data: height.data.map((value) => (value - middle) * scale),
      range: [-middle * scale, (1 - middle) * scale],
      convention: { of: 'height', unit: 'mm', mid: middle, span: scale },
    };
  }

  private ofOneChannel(): Image {
    const { channels, data, range: [low, high] = [0, 1] } = this.source;
    const plane = planeLike(this.source);
    const span = high - low || 1;
    for (let i = 0; i < plane.data.length; i++) plane.data[i] = (data[i * channels]! - low) / span;
    return plane;
  }

  private scales(): ToneScales {
    return this.steps.once('scales', '', () => toneScales(tone(this.source), this.border));
  }

  private lab(): Image {
    return this.steps.once('lab', '', () => labOf(this.source));
  }

  private integrated(): { height: Image; depth: number } {
    return this.steps.once('integrated', '', () => heightFromNormal(this.source, this.border === 'repeat'));
  }
}
