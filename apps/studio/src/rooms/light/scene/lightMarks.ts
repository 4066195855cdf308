import {
  BufferAttribute,
  BufferGeometry,
  CanvasTexture,
  Group,
  LineBasicMaterial,
  LineSegments,
  Points,
  PointsMaterial,
} from 'three';
import { lampFrame, skyDirection, unit, UP, type LightSettings, type PlacedLight } from '@zographos/operations';
import type { Dome } from '../../../ticket/light/newLight.ts';
import { handlesOf, placeOf, type Handle } from './lightHandles.ts';

type Vector = [number, number, number];
type Settings = Pick<LightSettings, 'lights' | 'up' | 'seenFrom'>;

const INK = 0x26282b;
const CHOSEN = 0x2d62b8;
const ROUND = 32;

/** Lights, and the eye, drawn as lines with a ball to take hold of at their places. */
export class LightMarks {
  readonly group = new Group();
  private readonly ball = ballTexture();

  set(settings: Settings, chosen: number, dome: Dome): void {
    this.clear();
    settings.lights.forEach((light, i) => {
      this.group.add(lines(outline(light, dome, settings.up), i === chosen ? CHOSEN : INK));
    });
    if (settings.seenFrom !== 'normal') this.group.add(lines(eyeOutline(settings.seenFrom, dome), INK));
    const handles = handlesOf(settings, chosen, dome);
    this.balls(
      handles.filter(({ of }) => of !== chosen),
      INK,
    );
    this.balls(
      handles.filter(({ of }) => of === chosen),
      CHOSEN,
    );
  }

  clear(): void {
    for (const child of [...this.group.children] as (LineSegments | Points)[]) {
      this.group.remove(child);
      child.geometry.dispose();
      (child.material as LineBasicMaterial).dispose();
    }
  }

  dispose(): void {
    this.clear();
    this.ball.dispose();
  }

  private balls(handles: readonly Handle[], color: number): void {
    if (handles.length === 0) return;
    const material = new PointsMaterial({
      ...{ size: 13, sizeAttenuation: false, color, map: this.ball },
      ...{ transparent: true, depthTest: false, alphaTest: 0.5, toneMapped: false },
    });
    this.group.add(shown(new Points(geometryOf(handles.map(({ at }) => at)), material)));
  }
}

const geometryOf = (points: readonly Vector[]): BufferGeometry =>
  new BufferGeometry().setAttribute('position', new BufferAttribute(Float32Array.from(points.flat()), 3));

function lines(points: readonly Vector[], color: number): LineSegments {
  const material = new LineBasicMaterial({
    color,
    transparent: true,
    opacity: 0.85,
    depthTest: false,
    toneMapped: false,
  });
  return shown(new LineSegments(geometryOf(points), material));
}

function shown<Kind extends LineSegments | Points>(object: Kind): Kind {
  object.frustumCulled = false;
  object.renderOrder = 9;
  return object;
}

function ballTexture(): CanvasTexture {
  const canvas = document.createElement('canvas');
  canvas.width = canvas.height = 32;
  const context = canvas.getContext('2d')!;
  context.fillStyle = '#fff';
  context.beginPath();
  context.arc(16, 16, 14, 0, 2 * Math.PI);
  context.fill();
  return new CanvasTexture(canvas);
}

const add = (a: Vector, b: Vector, times = 1): Vector => [
  a[0] + b[0] * times,
  a[1] + b[1] * times,
  a[2] + b[2] * times,
];
const minus = (a: Vector, b: Vector): Vector => add(a, b, -1);
const lengthOf = (a: Vector): number => Math.hypot(...a);

/** A ring of line segments about an axis. */
function ring(at: Vector, axis: Vector, radius: number): Vector[] {
  const { aside, up } = lampFrame(axis);
  const points = Array.from({ length: ROUND }, (_, i) => {
    const turn = (i / ROUND) * 2 * Math.PI;
    return add(add(at, aside, Math.cos(turn) * radius), up, Math.sin(turn) * radius);
  });
  return closed(points);
}

const closed = (points: readonly Vector[]): Vector[] =>
  points.flatMap((point, i) => [point, points[(i + 1) % points.length]!]);

/** Pairs of ends of lines that show a light. */
function outline(light: PlacedLight, dome: Dome, up: LightSettings['up']): Vector[] {
  const at = placeOf(light, dome, up);
  switch (light.kind) {
    case 'sun': {
      const away = skyDirection(up, light.elevation, light.azimuth);
      const { aside, up: above } = lampFrame(away);
      const size = dome.radius * 0.09;
      const beams = [
        [0, 0],
        [1, 0],
        [-1, 0],
        [0, 1],
        [0, -1],
      ].flatMap(([x, y]): Vector[] => {
        const from = add(add(at, aside, x! * size), above, y! * size);
        return [from, add(from, away, -dome.radius * 0.35)];
      });
      // Where it stands above the horizon.
      const foot = add(at, UP[up] as Vector, -minus(at, dome.centre)[['x', 'y', 'z'].indexOf(up)]!);
      return [...ring(at, away, size * 1.5), ...beams, at, foot, foot, dome.centre];
    }
    case 'point': {
      const size = dome.radius * 0.12;
      return [0, 1, 2].flatMap((k): Vector[] => {
        const along = [0, 0, 0] as Vector;
        along[k] = size;
        return [minus(at, along), add(at, along)];
      });
    }
    case 'sphere':
      return (
        [
          [1, 0, 0],
          [0, 1, 0],
          [0, 0, 1],
        ] as Vector[]
      ).flatMap((axis) => ring(at, axis, light.radius));
    case 'disk':
      return [...ring(at, axisOf(light), light.radius), at, light.target];
    case 'rectangle': {
      const { aside, up: above } = lampFrame(axisOf(light));
      const corners = [
        [-1, -1],
        [1, -1],
        [1, 1],
        [-1, 1],
      ].map(([x, y]) => add(add(at, aside, (x! * light.width) / 2), above, (y! * light.height) / 2));
      return [...closed(corners), at, light.target];
    }
    case 'spot': {
      const axis = axisOf(light);
      const reach = lengthOf(minus(light.target, at));
      const radius = Math.min(reach * 3, reach * Math.tan((light.angle * Math.PI) / 360));
      const rim = ring(light.target, axis, radius);
      return [...rim, ...[0, 16, 32, 48].flatMap((i): Vector[] => [at, rim[i]!])];
    }
  }
}

const axisOf = ({ position, target }: { position: Vector; target: Vector }): Vector => unit(minus(target, position));

/** The eye looks at the middle of the receivers. */
function eyeOutline(at: Vector, { centre, radius }: Dome): Vector[] {
  const axis = unit(minus(centre, at));
  const { aside, up: above } = lampFrame(axis);
  const size = radius * 0.12;
  const rim = [
    [-1, -0.7],
    [1, -0.7],
    [1, 0.7],
    [-1, 0.7],
  ].map(([x, y]) => add(add(add(at, axis, size * 2), aside, x! * size), above, y! * size));
  return [...closed(rim), ...rim.flatMap((corner): Vector[] => [at, corner]), at, centre];
}
