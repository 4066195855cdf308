import { writeGlb, writeObj, writePly } from '@zographos/formats/meshes';
import type { MapKind } from '@zographos/core/image';
import {
  DEFAULT_BAKE,
  parseSettings,
  USUAL_ENDINGS,
  type BakeOperationSettings,
  type FlatKind,
  type OperationSettings,
} from '@zographos/operations';
import { bellBuoyDense, bellBuoyLight } from './bellBuoy.ts';
import { bollardDense, bollardLight } from './bollard.ts';
import { crackedMud } from './photographs/crackedMud.ts';
import { harbourStone } from './photographs/harbourStone.ts';
import { jettyPlanks } from './photographs/jettyPlanks.ts';
import { KIT_MATERIALS, kitDense, kitLight } from './kit.ts';
import { netFloat } from './netFloat.ts';
import { QUAY_MATERIALS, quayScenes } from './quay.ts';
import { fishScale, roofPlane, SCALES } from './roof.ts';

export { bellBuoyDense, bellBuoyLight };

/** The files of the demo project Saltmarsh Quay; lengths in mm, in glTF in metres. Made one by one, as each is asked for. */
export async function* demoFiles(): AsyncGenerator<{ name: string; bytes: Uint8Array }> {
  yield { name: 'Bell light.obj', bytes: writeObj([bellBuoyLight()]) };
  yield { name: 'Bell dense.ply', bytes: writePly(bellBuoyDense()) };
  yield { name: 'Bollard light.obj', bytes: writeObj([bollardLight()]) };
  yield { name: 'Bollard dense.ply', bytes: writePly(bollardDense()) };
  yield { name: 'Kit.mtl', bytes: new TextEncoder().encode(KIT_MATERIALS) };
  yield { name: 'Kit light.obj', bytes: writeObj(kitLight(), 'Kit.mtl') };
  yield { name: 'Kit dense.obj', bytes: writeObj(kitDense(), 'Kit.mtl') };
  yield { name: 'Quay.mtl', bytes: new TextEncoder().encode(QUAY_MATERIALS) };
  yield { name: 'Quay.obj', bytes: writeObj(quayScenes(), 'Quay.mtl') };
  yield { name: 'Roof plane.obj', bytes: writeObj([roofPlane()]) };
  yield { name: 'Fish scale.ply', bytes: writePly(fishScale()) };
  yield { name: 'Net float.glb', bytes: await writeGlb([await netFloat()]) };
  yield { name: 'Harbour stone.jpg', bytes: await harbourStone() };
  yield { name: 'Cracked mud.jpg', bytes: await crackedMud() };
  yield { name: 'Jetty planks.jpg', bytes: await jettyPlanks() };
}

/** A ticket that is ready to run in the demo; its meshes are named by their objects. */
export interface DemoTicket {
  name: string;
  operation: 'bake';
  settings: BakeOperationSettings;
  receivers: string[];
  sources: string[];
}

const BELL: Pick<DemoTicket, 'operation' | 'receivers' | 'sources'> = {
  operation: 'bake',
  receivers: ['Bell light'],
  sources: ['Bell dense'],
};
const BELL_REACH = { out: 14, in: 8 };

export const DEMO_TICKETS: DemoTicket[] = [
  {
    ...BELL,
    name: 'Bell buoy normal',
    settings: { ...DEFAULT_BAKE, size: { width: 2048, height: 2048 }, reach: BELL_REACH },
  },
  {
    ...BELL,
    name: 'Bell buoy wear',
    settings: {
      ...DEFAULT_BAKE,
      maps: ['height', 'ao', 'sky', 'curvature'],
      size: { width: 1024, height: 1024 },
      reach: BELL_REACH,
      samples: 2,
      occlusion: { ...DEFAULT_BAKE.occlusion, rays: 32 },
    },
  },
  {
    name: 'Bollard, two tiles',
    operation: 'bake',
    receivers: ['Bollard light'],
    sources: ['Bollard dense'],
    settings: {
      ...DEFAULT_BAKE,
      maps: ['normal', 'height', 'ao', 'sky', 'curvature'],
      tiles: 'all',
      tileSizes: { '1002': { width: 512, height: 512 } },
      reach: 'fitted',
      samples: 2,
      occlusion: { ...DEFAULT_BAKE.occlusion, rays: 32 },
    },
  },
  {
    name: 'Quay kit',
    operation: 'bake',
    receivers: ['Cleat_low', 'Shackle_low', 'Ring_low'],
    sources: ['Cleat_high', 'Shackle_high', 'Ring_high'],
    settings: {
      ...DEFAULT_BAKE,
      maps: ['normal', 'ao', 'id', 'basecolor'],
      match: USUAL_ENDINGS,
      reach: { out: 4, in: 4 },
      samples: 2,
      padding: 8,
      mend: true,
      occlusion: { ...DEFAULT_BAKE.occlusion, rays: 32, occluders: 'all', smooth: 2 },
    },
  },
  {
    name: 'Fish-scale roof',
    operation: 'bake',
    receivers: ['Roof plane'],
    sources: ['Fish scale'],
    settings: {
      ...DEFAULT_BAKE,
      maps: ['normal', 'height', 'ao'],
      repeat: { grid: 'staggered', ...SCALES },
      reach: { out: 30, in: 10 },
      samples: 2,
      occlusion: { ...DEFAULT_BAKE.occlusion, rays: 32, distance: 120 },
    },
  },
  {
    name: 'Net float, new layout',
    operation: 'bake',
    receivers: ['Net float'],
    sources: ['Net float'],
    settings: {
      ...DEFAULT_BAKE,
      maps: ['basecolor', 'roughness'],
      uvSet: 1,
      aim: 'shared',
      reach: { out: 0.001, in: 0.001 },
      samples: 2,
      prove: false,
    },
  },
];

/** A step of flat material in the demo. */
export type DemoFlatTicket = {
  [Kind in FlatKind]: {
    name: string;
    operation: Kind;
    settings: OperationSettings[Kind];
    /** The flat set it fills; made by the first step that names it. */
    set: string;
    /** The image it is made of, or the map of its own set. */
    from: { image: string } | { map: MapKind } | null;
  };
}[FlatKind];

const TILE = { width: 1024, height: 1024 };
/** Wide enough for a cut to go around stones and plates. */
const WIDE_CUT = { width: 0.2 };
const COLOUR = { kind: 'basecolor', colorSpace: 'srgb' } as const;

export const DEMO_FLAT_TICKETS: DemoFlatTicket[] = [
  {
    name: 'Harbour stone, tile',
    operation: 'seamless',
    set: 'Harbour stone',
    from: { image: 'Harbour stone' },
    settings: parseSettings('seamless', {
      pictures: [COLOUR],
      even: { light: 0.9, color: 0.6, radius: 0.3 },
      ends: { across: WIDE_CUT, up: WIDE_CUT },
      spots: [
        {
          path: [
            [0.765, 0.42],
            [0.835, 0.435],
          ],
          radius: 0.055,
          reach: 2,
        },
      ],
      size: TILE,
    }),
  },
  {
    name: 'Harbour stone, maps',
    operation: 'derive',
    set: 'Harbour stone',
    from: { map: 'basecolor' },
    settings: parseSettings('derive', {
      maps: ['height', 'normal', 'ao', 'edges', 'roughness'],
      picture: COLOUR,
      height: { weights: [0, 0.8, 1, 1, 0.8, 0.4, 0.1] },
    }),
  },
  {
    name: 'Cracked mud, tile',
    operation: 'seamless',
    set: 'Cracked mud',
    from: { image: 'Cracked mud' },
    settings: parseSettings('seamless', {
      pictures: [COLOUR],
      even: { light: 1, color: 0.6, radius: 0.35 },
      ends: { across: WIDE_CUT, up: WIDE_CUT },
      size: { width: 1152, height: 864 },
    }),
  },
  {
    name: 'Jetty planks, tile',
    operation: 'seamless',
    set: 'Jetty planks',
    from: { image: 'Jetty planks' },
    settings: parseSettings('seamless', {
      pictures: [COLOUR],
      // Five whole boards, which meet in their gaps.
      corners: [
        [0.1016, 0],
        [0.8828, 0],
        [0.8828, 1],
        [0.1016, 1],
      ],
      even: { light: 0.8, color: 0.5, radius: 0.35 },
      ends: { across: { method: 'none' }, up: WIDE_CUT },
      size: { width: 938, height: 1200 },
    }),
  },
  {
    name: 'Sailcloth, woven',
    operation: 'field',
    set: 'Sailcloth',
    from: null,
    settings: parseSettings('field', {
      layers: [
        { kind: 'weave', columns: 48, rows: 48, thickness: 0.92, warp: { amount: 0.002, scale: 12, seed: 4 } },
        { kind: 'gradient-noise', scale: 10, octaves: 5, seed: 21, blend: 'soft-light', opacity: 0.35 },
      ],
      size: TILE,
      maps: [
        {
          kind: 'basecolor',
          ramp: [
            { at: 0, color: '#4b4436' },
            { at: 0.5, color: '#b9ac90' },
            { at: 1, color: '#e6ddc6' },
          ],
        },
        { kind: 'height' },
      ],
    }),
  },
  {
    name: 'Sailcloth, maps',
    operation: 'derive',
    set: 'Sailcloth',
    from: { map: 'height' },
    settings: parseSettings('derive', {
      maps: ['normal', 'ao'],
      picture: { kind: 'height', colorSpace: 'linear' },
      from: 'height',
      depth: 0.008,
    }),
  },
];

export { quayScenes } from './quay.ts';
export { DEMO_LIGHTS, type DemoLight } from './demoLights.ts';
export { DEMO_STACKS, type DemoStack } from './demoStacks.ts';
