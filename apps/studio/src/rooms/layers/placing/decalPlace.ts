import type { Layer, PicturePlace } from '@zographos/core/layers';

/** A place of the surface, in millimetres. */
export interface SurfacePlace {
  triangle: number;
  place: readonly [number, number, number];
  normal: readonly [number, number, number];
}

/** A decal of some width; at the origin where nothing was met. @param aspect its height over its width */
export function decalAt(
  where: SurfacePlace | null,
  width: number,
  aspect: number,
): Extract<PicturePlace, { on: 'surface' }> {
  const { place = [0, 0, 0], normal = [0, 0, 1] } = where ?? {};
  return {
    ...{ on: 'surface', center: place, normal, up: [0, 1, 0], width, height: width * aspect },
    ...{ depth: width / 2, angle: 80, falloff: 20 },
  };
}

/** A place moved to where was clicked. */
export function placedAt(place: PicturePlace, where: SurfacePlace): PicturePlace {
  if (place.on === 'island') return { ...place, triangle: where.triangle };
  return place.on === 'surface' ? { ...place, center: where.place, normal: where.normal } : place;
}

/** A layer whose pictures, those of its mask too, are moved to a place. */
export function layerPlacedAt(layer: Layer, where: SurfacePlace): Layer {
  const steps = layer.mask.steps.map((step) =>
    step.measure === 'picture' && step.place ? { ...step, place: placedAt(step.place, where) } : step,
  );
  const placed = { ...layer, mask: { ...layer.mask, steps } };
  return placed.content === 'picture' ? { ...placed, place: placedAt(placed.place, where) } : placed;
}
