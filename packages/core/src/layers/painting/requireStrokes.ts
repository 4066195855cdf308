import { ZographosError } from '../../errors.ts';
import type { LayerInputs } from '../inputs/layerInputs.ts';
import type { Stroke } from './stroke.ts';

/** The strokes of these names. @throws missing/not-found */
export const requireStrokes = (names: readonly string[], { strokes }: LayerInputs): Stroke[] =>
  names.map((name) => {
    const stroke = strokes.get(name);
    if (stroke) return stroke;
    throw new ZographosError(
      'missing/not-found',
      'A stroke that was painted is not there any more. Undo the last changes, or remove the painted layer.',
    );
  });
