import { TexelState } from '../../image/image.ts';
import { sharedFloat32, sharedUint8 } from '../../sharedArrays.ts';
import { GROUND, widthOf, type LayerChannel } from '../channels.ts';
import type { ComposedBlock } from './composeBlock.ts';
import type { LayeredTile } from '../surface/layeredSurface.ts';
import { TEXELS, type TexelBlock } from '../surface/texelBlock.ts';

/** A tile as it is composed: a plane for each channel, interleaved, shared by threads. */
export interface LayerPlanes {
  channels: Partial<Record<LayerChannel, Float32Array>>;
  /** Heights that layers have added, in millimetres; see `ComposedBlock`. */
  relief: Float32Array | null;
  /** A TexelState for each texel. */
  states: Uint8Array;
}

/** Bare ground everywhere. */
export function barePlanes({ size }: Pick<LayeredTile, 'size'>, channels: readonly LayerChannel[]): LayerPlanes {
  const texels = size.width * size.height;
  const planes: LayerPlanes = {
    channels: {},
    relief: channels.includes('height') ? sharedFloat32(texels) : null,
    states: sharedUint8(texels),
  };
  for (const channel of channels) {
    const width = widthOf(channel);
    const plane = sharedFloat32(texels * width);
    GROUND[channel].forEach((value, k) => {
      if (value !== 0) for (let at = k; at < plane.length; at += width) plane[at] = value;
    });
    planes.channels[channel] = plane;
  }
  return planes;
}

/** A copy, to be mixed with what it becomes. */
export function copyPlanes({ channels, relief, states }: LayerPlanes): LayerPlanes {
  const copy = (plane: Float32Array): Float32Array => {
    const kept = sharedFloat32(plane.length);
    kept.set(plane);
    return kept;
  };
  const kept: LayerPlanes = { channels: {}, relief: relief && copy(relief), states };
  for (const [channel, plane] of Object.entries(channels)) kept.channels[channel as LayerChannel] = copy(plane);
  return kept;
}

/** A copy of a part of planes, as large as that. */
export function planesWithin(
  { channels, relief, states }: LayerPlanes,
  mapWidth: number,
  { x, y, width, height }: { x: number; y: number; width: number; height: number },
): LayerPlanes {
  const cut = <Plane extends Float32Array | Uint8Array>(plane: Plane, values: number): Plane => {
    const part = new (plane.constructor as new (length: number) => Plane)(width * height * values);
    for (let row = 0; row < height; row++) {
      const from = ((y + row) * mapWidth + x) * values;
      part.set(plane.subarray(from, from + width * values), row * width * values);
    }
    return part;
  };
  const part: LayerPlanes = { channels: {}, relief: relief && cut(relief, 1), states: cut(states, 1) };
  for (const [channel, plane] of Object.entries(channels)) {
    part.channels[channel as LayerChannel] = cut(plane, widthOf(channel as LayerChannel));
  }
  return part;
}

/** Takes the texels of a block out of planes: of those channels that the block has. */
export function gather({ channels, relief }: LayerPlanes, { at, count }: TexelBlock, into: ComposedBlock): void {
  for (const [name, to] of Object.entries(into.channels)) {
    const width = widthOf(name as LayerChannel);
    const plane = channels[name as LayerChannel]!;
    for (let k = 0; k < width; k++) {
      for (let i = 0; i < count; i++) to[k * TEXELS + i] = plane[at[i]! * width + k]!;
    }
  }
  if (relief && into.relief) for (let i = 0; i < count; i++) into.relief[i] = relief[at[i]!]!;
}

/** Puts the texels of a block back. */
export function scatter(planes: LayerPlanes, block: TexelBlock, from: ComposedBlock): void {
  const { channels, relief } = planes;
  const { at, count } = block;
  for (const [name, values] of Object.entries(from.channels)) {
    const width = widthOf(name as LayerChannel);
    const plane = channels[name as LayerChannel]!;
    for (let k = 0; k < width; k++) {
      for (let i = 0; i < count; i++) plane[at[i]! * width + k] = values[k * TEXELS + i]!;
    }
  }
  if (relief && from.relief) for (let i = 0; i < count; i++) relief[at[i]!] = from.relief[i]!;
  cover(planes, block);
}

/** Marks the texels of a block as covered by the layout. */
export function cover({ states }: LayerPlanes, { at, count }: TexelBlock): void {
  for (let i = 0; i < count; i++) states[at[i]!] = TexelState.covered;
}
