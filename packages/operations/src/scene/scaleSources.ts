import { sharedCopyFloat32 } from '@zographos/core/shared-arrays';
import type { BakePassSettings } from '../bake/settings.ts';
import type { OperationInputs } from '../operation.ts';
import type { RunMesh } from './runMesh.ts';

/** The same inputs with their sources brought to the receivers' scale, about the origin. */
export function scaleSources(
  inputs: OperationInputs<RunMesh>,
  { sourceScale }: BakePassSettings,
): OperationInputs<RunMesh> {
  if (sourceScale === 1) return inputs;
  const sources = inputs.sources.map(({ hash, mesh }) => {
    const positions = sharedCopyFloat32(mesh.positions);
    for (let i = 0; i < positions.length; i++) positions[i]! *= sourceScale;
    return { hash: `${hash} × ${sourceScale}`, mesh: { ...mesh, positions } };
  });
  return { ...inputs, sources };
}
