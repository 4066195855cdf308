import { parseSettings, type OperationSettings } from '@zographos/operations';
import { LANTERN, seenFrom } from './quay.ts';

/** Light of the demo on one receiver; its meshes are named by their objects. */
export interface DemoLight {
  name: string;
  set: string;
  receiver: string;
  sources: string[];
  settings: OperationSettings['light'];
}

/** Small, for a first look: light takes its time. */
const SIDES = { buoy: 512, bollard: 256 };
const sizeOf = (object: keyof typeof SIDES) => ({ width: SIDES[object], height: SIDES[object] });

/** The harbour at noon under an overcast sky. */
const noon = (object: keyof typeof SIDES) =>
  parseSettings('light', {
    ...{ size: sizeOf(object), samples: 24, denoise: 0.6, materials: 'maps', tiles: 'all' },
    passes: ['combined', 'diffuse-direct', 'diffuse-indirect', 'reflection', 'refraction', 'emission'],
    environment: { kind: 'overcast' },
    environmentStrength: 4,
  });

/** The same at evening: what is left of the sky, and the lantern on the quay. */
const evening = (object: 'buoy' | 'bollard') =>
  parseSettings('light', {
    ...{ size: sizeOf(object), samples: 24, denoise: 0.6, materials: 'maps', tiles: 'all' },
    passes: ['combined', 'direct', 'indirect', 'shadow', 'noisy', 'groups'],
    environment: { kind: 'clear', elevation: 4 },
    environmentStrength: 0.15,
    lights: [
      {
        ...{ kind: 'sphere', name: 'Lantern', group: 'lantern', position: seenFrom(object, LANTERN), radius: 45 },
        strength: [1.6e6, 0.9e6, 0.36e6],
      },
    ],
  });

export const DEMO_LIGHTS: DemoLight[] = (
  [
    { object: 'buoy', title: 'Bell buoy', receiver: 'Bell light' },
    { object: 'bollard', title: 'Bollard', receiver: 'Bollard light' },
  ] as const
).flatMap(({ object, title, receiver }) => {
  const meshes = { receiver, sources: [`Quay by the ${object}`] };
  return [
    { ...meshes, name: `${title} at noon`, set: `${title} at noon`, settings: noon(object) },
    { ...meshes, name: `${title} at evening`, set: `${title} at evening`, settings: evening(object) },
  ];
});
