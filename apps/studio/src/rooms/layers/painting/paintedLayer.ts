import { channelsOfStroke, LAYER_CHANNELS, type Layer, type Stroke } from '@zographos/core/layers';
import { UNDER_PEN } from '../preview/underPen.ts';

/** Where strokes of a layer go: into what it lays down, or into a step of its mask. */
export type PaintTarget = 'content' | number;

/** What can be painted of a layer, its content before its mask; null where nothing can. */
export function paintTarget(layer: Layer | undefined): PaintTarget | null {
  if (layer?.content === 'painted') return 'content';
  const step = layer?.mask.steps.findIndex(({ measure }) => measure === 'painted') ?? -1;
  return step >= 0 ? step : null;
}

/** A layer with one more stroke; one that is painted writes whatever channels its strokes do. */
export function withStroke(
  layer: Layer,
  target: PaintTarget,
  name: string,
  stroke: Pick<Stroke, 'brush' | 'paint'>,
): Layer {
  if (target === 'content') {
    if (layer.content !== 'painted') return layer;
    const written = channelsOfStroke(stroke);
    const channels = LAYER_CHANNELS.filter((channel) => layer.channels.includes(channel) || written.includes(channel));
    return { ...layer, channels, strokes: [...layer.strokes, name] };
  }
  const steps = layer.mask.steps.map((step, i) =>
    i === target && step.measure === 'painted' ? { ...step, strokes: [...step.strokes, name] } : step,
  );
  return { ...layer, mask: { ...layer.mask, steps } };
}

/** A layer without the stroke under the pen. */
export function withoutPen(layer: Layer): Layer {
  const rest = (names: readonly string[]): string[] => names.filter((name) => name !== UNDER_PEN);
  const steps = layer.mask.steps.map((step) =>
    step.measure === 'painted' ? { ...step, strokes: rest(step.strokes) } : step,
  );
  const masked = { ...layer, mask: { ...layer.mask, steps } };
  return masked.content === 'painted' ? { ...masked, strokes: rest(masked.strokes) } : masked;
}
