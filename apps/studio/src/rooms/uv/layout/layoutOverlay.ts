import { tileOrigin, type UvMatrix } from '@zographos/core/uv';
import type { Box } from '../islandPicks.ts';
import type { LayoutEye } from './layoutPainter.ts';

/** What lies over a layout: frames of tiles, grips of what is chosen, and what is pointed out. */
export interface Overlay {
  tiles: readonly { number: number; note: string; inUse: boolean }[];
  /** The box of what is chosen, as it lies while it is dragged. */
  box: Box | null;
  pivot: readonly [number, number] | null;
  /** A box that is drawn to choose what lies in it. */
  lasso: Box | null;
  ringed: { u: number; v: number } | null;
}

export type Grip = 'pivot' | 'turn' | 'lower left' | 'lower right' | 'upper left' | 'upper right';

/** Between places of the layout and pixels of the view. */
export class Projection {
  private readonly eye: LayoutEye;
  private readonly width: number;
  private readonly height: number;
  private readonly aspect: number;

  constructor(eye: LayoutEye, width: number, height: number, aspect: number) {
    this.eye = eye;
    this.width = width;
    this.height = height;
    this.aspect = aspect;
  }

  toView(u: number, v: number): [number, number] {
    const { eye, width, height, aspect } = this;
    return [width / 2 + (u - eye.u) * eye.scale * aspect, height / 2 - (v - eye.v) * eye.scale];
  }

  toLayout(x: number, y: number): [number, number] {
    const { eye, width, height, aspect } = this;
    return [eye.u + (x - width / 2) / (eye.scale * aspect), eye.v - (y - height / 2) / eye.scale];
  }
}

/** How far above the box the grip for turning lies, in pixels. */
const TURN_AT = 26;
const REACH = 9;

function gripsOf(box: Box, pivot: readonly [number, number], view: Projection): [Grip, [number, number]][] {
  const [left, bottom] = view.toView(box[0], box[1]);
  const [right, top] = view.toView(box[2], box[3]);
  return [
    ['pivot', view.toView(...pivot)],
    ['turn', [(left + right) / 2, top - TURN_AT]],
    ['lower left', [left, bottom]],
    ['lower right', [right, bottom]],
    ['upper left', [left, top]],
    ['upper right', [right, top]],
  ];
}

/** The grip under a point of the view. */
export function gripAt(
  box: Box,
  pivot: readonly [number, number],
  view: Projection,
  x: number,
  y: number,
): Grip | null {
  const near = ([px, py]: [number, number]): boolean => Math.hypot(px - x, py - y) <= REACH;
  return gripsOf(box, pivot, view).find(([, at]) => near(at))?.[0] ?? null;
}

/** Where each grip of a box lies in the layout, for scaling. */
export const cornerOf = (box: Box, grip: Grip): [number, number] => [
  grip.endsWith('left') ? box[0] : box[2],
  grip.startsWith('lower') ? box[1] : box[3],
];

export function movedBox([u0, v0, u1, v1]: Box, [a, b, c, d, e, f]: UvMatrix): Box {
  const corners = [
    [u0, v0],
    [u1, v0],
    [u0, v1],
    [u1, v1],
  ].map(([u, v]) => [a * u! + c * v! + e, b * u! + d * v! + f] as const);
  const [us, vs] = [corners.map(([u]) => u), corners.map(([, v]) => v)];
  return [Math.min(...us), Math.min(...vs), Math.max(...us), Math.max(...vs)];
}

export function drawOverlay(context: CanvasRenderingContext2D, view: Projection, overlay: Overlay, ink: string): void {
  context.font = '11px "Commissioner Variable", sans-serif';
  context.lineWidth = 1;
  for (const { number, note, inUse } of overlay.tiles) {
    const [u, v] = tileOrigin(number);
    const [left, bottom] = view.toView(u, v);
    const [right, top] = view.toView(u + 1, v + 1);
    context.strokeStyle = ink;
    context.setLineDash(inUse ? [] : [3, 4]);
    context.strokeRect(
      Math.round(left) + 0.5,
      Math.round(top) + 0.5,
      Math.round(right - left),
      Math.round(bottom - top),
    );
    context.setLineDash([]);
    context.fillStyle = ink;
    if (right - left > 60) context.fillText(`${number}  ${note}`, left + 4, bottom + 13);
  }
  const { box, pivot, lasso, ringed } = overlay;
  if (lasso) outline(context, view, lasso, [4, 3]);
  if (box && pivot) drawGrips(context, view, box, pivot);
  if (ringed) {
    for (const [color, width] of [
      ['#fff', 4],
      ['#c8321e', 2],
    ] as const) {
      context.beginPath();
      context.arc(...view.toView(ringed.u, ringed.v), 16, 0, 2 * Math.PI);
      context.strokeStyle = color;
      context.lineWidth = width;
      context.stroke();
    }
  }
}

function outline(context: CanvasRenderingContext2D, view: Projection, box: Box, dash: number[]): void {
  const [left, bottom] = view.toView(box[0], box[1]);
  const [right, top] = view.toView(box[2], box[3]);
  for (const [color, pattern] of [
    ['#fff', []],
    ['#2d62b8', dash],
  ] as const) {
    context.strokeStyle = color;
    context.lineWidth = 1.5;
    context.setLineDash([...pattern]);
    context.strokeRect(left, top, right - left, bottom - top);
  }
  context.setLineDash([]);
}

function drawGrips(
  context: CanvasRenderingContext2D,
  view: Projection,
  box: Box,
  pivot: readonly [number, number],
): void {
  outline(context, view, box, [5, 4]);
  context.lineWidth = 1.5;
  for (const [grip, [x, y]] of gripsOf(box, pivot, view)) {
    context.fillStyle = '#fff';
    context.strokeStyle = '#2d62b8';
    context.beginPath();
    if (grip === 'turn') context.arc(x, y, 5, 0, 2 * Math.PI);
    else if (grip === 'pivot') {
      context.moveTo(x - 8, y);
      context.lineTo(x + 8, y);
      context.moveTo(x, y - 8);
      context.lineTo(x, y + 8);
      context.arc(x, y, 4, 0, 2 * Math.PI);
    } else context.rect(x - 4, y - 4, 8, 8);
    context.fill();
    context.stroke();
  }
}
