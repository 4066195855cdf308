import { PLAIN_BRUSH, POINT, type Brush, type BrushPicture, type Paint, type Stroke } from '@zographos/core/layers';
import { MOST_RADIUS } from '@zographos/operations';

/** A picture as it usually lies on a brush. */
export const PLAIN_PICTURE: BrushPicture = {
  ...{ picture: 0, lies: 'dab', gives: 'shape', turn: 'fixed', angle: 0, width: 100 },
  view: [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 0, 1],
};

/** What the artist paints with. */
export interface Pen {
  brush: Brush;
  /** Radius in pixels of the screen: a stroke has whatever that is on the surface where it begins; null for its own. */
  screenRadius: number | null;
  paint: Paint;
}

/** The radius that a stroke has, in millimetres, where a pixel of the screen is so wide. */
export const radiusOfPen = ({ brush, screenRadius }: Pen, pixel: number): number =>
  screenRadius === null ? brush.radius : Math.max(1e-3, Math.min(MOST_RADIUS, screenRadius * pixel));

/** @param extent size of the receiver in millimetres @param intoMask whether greys are painted */
export const usualPen = (extent: number, intoMask: boolean): Pen => ({
  brush: { ...PLAIN_BRUSH, radius: Number((extent / 30).toPrecision(2)) },
  screenRadius: null,
  paint: intoMask ? { grey: 1 } : { basecolor: '#e7e1d2', roughness: 0.6 },
});

/** A place on the surface that the pen was told at. */
export interface PenPoint {
  /** In millimetres. */
  place: readonly [number, number, number];
  normal: readonly [number, number, number];
  /** 0 to 1; 0.5 and more of a mouse, which has none, counts as 1. */
  pressure: number;
}

/** What the view of the model can be asked for. */
export interface ModelView {
  layLine: (across: boolean) => void;
  /** How the stencil lies over the view; see `stencilRows`. */
  stencilView: () => number[] | null;
  /** The place of the surface in the middle of the view, in the unit of the mesh. */
  middle: () => PenPoint | null;
}

/** Collects the points of a stroke while it is painted. */
export class StrokeInHand {
  private pen: Pen;
  private readonly seed: number;
  private readonly numbers: number[] = [];

  /** @param pixel width of a pixel of the screen on the surface, in millimetres */
  constructor(pen: Pen, seed: number, pixel: number) {
    this.pen = { ...pen, brush: { ...pen.brush, radius: radiusOfPen(pen, pixel) } };
    this.seed = seed;
  }

  get count(): number {
    return this.numbers.length / POINT;
  }

  /** What is cloned lies where the source was chosen, as seen from the first place. */
  cloneFrom(source: PenPoint['place'], first: PenPoint['place']): void {
    const from = source.map((value, k) => value - first[k]!) as [number, number, number];
    this.pen = { ...this.pen, brush: { ...this.pen.brush, from } };
  }

  add({ place, normal, pressure }: PenPoint): void {
    this.numbers.push(...place, ...normal, pressure);
  }

  get stroke(): Stroke {
    const { brush, paint } = this.pen;
    return { brush, paint, points: Float32Array.from(this.numbers), seed: this.seed };
  }
}

/** A mouse tells 0.5 while a button is down; that is no pressure. */
export const pressureOf = ({ pointerType, pressure }: Pick<PointerEvent, 'pointerType' | 'pressure'>): number =>
  pointerType === 'mouse' || pressure === 0 ? 1 : pressure;
