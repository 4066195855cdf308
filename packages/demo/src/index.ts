import { writeObj, writePly } from '@zographos/formats/meshes';
import { DEFAULT_BAKE, type BakeOperationSettings } from '@zographos/operations';
import { bellBuoyDense, bellBuoyLight } from './bellBuoy.ts';

export { bellBuoyDense, bellBuoyLight };

/** The files of the demo project Saltmarsh Quay; lengths in mm. Made one by one, as each is asked for. */
export function* demoFiles(): Generator<{ name: string; bytes: Uint8Array }> {
  yield { name: 'Bell light.obj', bytes: writeObj([bellBuoyLight()]) };
  yield { name: 'Bell dense.ply', bytes: writePly(bellBuoyDense()) };
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
      maps: ['height', 'ao', 'curvature'],
      size: { width: 1024, height: 1024 },
      reach: BELL_REACH,
      samples: 2,
      occlusion: { ...DEFAULT_BAKE.occlusion, rays: 32 },
    },
  },
];
