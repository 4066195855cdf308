import { adjust, type Adjustment } from '../adjust/adjust.ts';
import type { Image, MapKind } from '../image/image.ts';
import { planeLike, tone } from '../image/planes.ts';
import type { Border } from '../image/resample.ts';
import { Steps } from '../steps.ts';
import { cavityFromHeight, edgesFromHeight } from './curvatureFromHeight.ts';
import { heightFromNormal } from './heightFromNormal.ts';
import { bandsOf, heightFromTone, suggestHeight, type HeightSuggestion, type ToneHeight } from './heightFromTone.ts';
import { normalFromHeight, type NormalOptions } from './normalFromHeight.ts';
import { occlusionFromHeight } from './occlusionFromHeight.ts';
import { labOf, pickedMap, pickMask, type PickedMap } from './toneMask.ts';

/** What maps can be derived from. */
export const DERIVE_SOURCES = ['color', 'height', 'normal'] as const;
export type DeriveSource = (typeof DERIVE_SOURCES)[number];

/** What a map is taken for when others are derived from it. */
export function deriveSourceOf(kind: MapKind): DeriveSource {
  if (kind === 'normal') return 'normal';
  return kind === 'height' || kind === 'displacement' ? 'height' : 'color';
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
  /** How high white lies over black, in tile widths; null where a normal map tells it. */
  depth: number | null;
  height: ToneHeight;
  normal: Omit<NormalOptions, 'depth'>;
  ao: { reach: number; slices: number };
  edges: { width: number; radius: number };
  cavity: { width: number; strength: number };
  /** Of what the tile is in the world: heights are given in its unit, 0 where the height is `middle`. */
  displacement: { tileWidth: number; middle: number };
  adjust: Partial<Record<MapKind, readonly Adjustment[]>>;
}

const USUAL_DEPTH = 0.02;

/**
 * Derives the maps of a material from one picture. Steps that several maps share are made once, and made again only when
 * what they depend on has changed: a map on screen follows its sliders.
 */
export class MapDeriver {
  private readonly source: Image;
  private readonly from: DeriveSource;
  private readonly border: Border;
  private readonly steps = new Steps();

  /** @param source samples as light where they are colours @param repeats whether the picture wraps at its borders */
  constructor(source: Image, from: DeriveSource, repeats: boolean) {
    this.source = source;
    this.from = from;
    this.border = repeats ? 'repeat' : 'clamp';
  }

  /** @param draft looks at fewer places for occlusion */
  make(kind: DerivedKind, options: DeriveOptions, draft = false): Image {
    const { border } = this;
    const steps = options.adjust[kind] ?? [];
    const depth = this.depth(options);
    switch (kind) {
      case 'height':
        return this.height(options);
      case 'normal':
        return adjust(normalFromHeight(this.height(options), { ...options.normal, depth }, border), steps, border);
      case 'ao': {
        const { reach, slices } = options.ao;
        const cuts = draft ? { slices: Math.min(3, slices), every: false } : { slices, every: true };
        return adjust(occlusionFromHeight(this.height(options), { depth, reach, ...cuts }, border), steps, border);
      }
      case 'edges':
        return adjust(edgesFromHeight(this.height(options), { depth, ...options.edges }, border), steps, border);
      case 'cavity':
        return adjust(cavityFromHeight(this.height(options), { depth, ...options.cavity }, border), steps, border);
      case 'displacement':
        return this.displacement(options, depth);
      default:
        return adjust(pickedMap(this.lab(), options[kind], border), steps, border);
    }
  }

  /** Where one pick of a map counts. */
  mask(kind: PickedKind, pick: number, options: DeriveOptions): Image {
    return pickMask(this.lab(), options[kind].picks[pick]!);
  }

  suggestion(): HeightSuggestion {
    return this.steps.once('suggestion', '', () => suggestHeight(this.bands()));
  }

  /** How high white lies over black, in tile widths. */
  depth({ depth }: Pick<DeriveOptions, 'depth'>): number {
    return depth ?? (this.from === 'normal' ? this.integrated().depth : USUAL_DEPTH);
  }

  private height({ height, adjust: all }: DeriveOptions): Image {
    const steps = all.height ?? [];
    return this.steps.once('height', JSON.stringify([height, steps]), () => {
      const plain =
        this.from === 'normal'
          ? this.integrated().height
          : this.from === 'height'
            ? this.ofOneChannel()
            : heightFromTone(this.bands(), height, height.way === 'band by band' ? this.suggestion().signs : []);
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
    };
  }

  private ofOneChannel(): Image {
    const { channels, data, range: [low, high] = [0, 1] } = this.source;
    const plane = planeLike(this.source);
    const span = high - low || 1;
    for (let i = 0; i < plane.data.length; i++) plane.data[i] = (data[i * channels]! - low) / span;
    return plane;
  }

  private bands(): Image[] {
    return this.steps.once('bands', '', () => bandsOf(tone(this.source), this.border));
  }

  private lab(): Image {
    return this.steps.once('lab', '', () => labOf(this.source));
  }

  private integrated(): { height: Image; depth: number } {
    return this.steps.once('integrated', '', () => heightFromNormal(this.source, this.border === 'repeat'));
  }
}
