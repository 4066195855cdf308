import type { Layer } from '@zographos/core/layers';

/**
 * A layer with a colour picked into it: a plain one takes it, a field as the first or the last colour of its ramp.
 * @param last whether the last colour of a ramp is meant
 * @returns null where it has no colour of its own
 */
export function withPickedColor(layer: Layer, color: string, last: boolean): Layer | null {
  if (layer.content === 'plain') return { ...layer, values: { ...layer.values, basecolor: color } };
  if (layer.content !== 'field') return null;
  const ramp = layer.ramp ?? [
    { at: 0, color },
    { at: 1, color },
  ];
  const at = last ? ramp.length - 1 : 0;
  return { ...layer, ramp: ramp.map((stop, i) => (i === at ? { ...stop, color } : stop)) };
}
