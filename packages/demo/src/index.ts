import { writeObj, writePly } from '@zographos/formats/meshes';
import { DEFAULT_BAKE, type BakeOperationSettings } from '@zographos/operations';
import { bellBuoyDense, bellBuoyLight } from './bellBuoy.ts';

export { bellBuoyDense, bellBuoyLight };

/** The files of the demo project Saltmarsh Quay; lengths in mm. Made one by one, as each is asked for. */
export function* demoFiles(): Generator<{ name: string; bytes: Uint8Array }> {
  yield { name: 'Bell light.obj', bytes: writeObj([bellBuoyLight()]) };
  yield { name: 'Bell dense.ply', bytes: writePly(bellBuoyDense()) };
}

/** The ticket that is ready to run in the demo; its meshes are named by their objects. */
export const DEMO_TICKET: {
  name: string;
  operation: 'bake';
  settings: BakeOperationSettings;
  receiver: string;
  sources: string[];
} = {
  name: 'Bell buoy normal',
  operation: 'bake',
  settings: {
    ...DEFAULT_BAKE,
    size: { width: 2048, height: 2048 },
    reach: { out: 14, in: 8 },
  },
  receiver: 'Bell light',
  sources: ['Bell dense'],
};
