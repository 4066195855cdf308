import { Plane, Raycaster, Sphere, Vector2, Vector3, type PerspectiveCamera } from 'three';
import { placeInSky, skyDirection, type LightSettings, type PlacedLight } from '@zographos/operations';
import type { Dome } from '../../../ticket/light/newLight.ts';

type Vector = [number, number, number];

/** What can be dragged in the view: the place of a light, what it is turned to, or the eye. */
export interface Handle {
  of: number | 'eye';
  end: 'place' | 'target';
  at: Vector;
}

/** A sun is shown so many times as far from the middle as the receivers reach. */
const SUN_DISTANCE = 1.6;
/** How near the pointer must be to take hold, in pixels. */
const GRASP = 16;

/** Where a light is shown. */
export function placeOf(light: PlacedLight, dome: Dome, up: LightSettings['up']): Vector {
  if (light.kind !== 'sun') return light.position;
  const direction = skyDirection(up, light.elevation, light.azimuth);
  return dome.centre.map((value, k) => value + direction[k]! * dome.radius * SUN_DISTANCE) as Vector;
}

/** All that can be dragged; the target of a light only while that light is chosen. */
export function handlesOf(
  { lights, up, seenFrom }: Pick<LightSettings, 'lights' | 'up' | 'seenFrom'>,
  chosen: number,
  dome: Dome,
): Handle[] {
  const places = lights.map((light, of): Handle => ({ of, end: 'place', at: placeOf(light, dome, up) }));
  const light = lights[chosen];
  const target: Handle[] = light && 'target' in light ? [{ of: chosen, end: 'target', at: light.target }] : [];
  const eye: Handle[] = seenFrom === 'normal' ? [] : [{ of: 'eye', end: 'place', at: seenFrom }];
  return [...target, ...places, ...eye];
}

/** A pointer over a view of some size, in pixels from its upper left corner. */
export interface Pointer {
  x: number;
  y: number;
  width: number;
  height: number;
}

/** The handle under a pointer; of several the nearest. */
export function handleUnder(handles: readonly Handle[], pointer: Pointer, camera: PerspectiveCamera): Handle | null {
  let best: { handle: Handle; distance: number } | null = null;
  for (const handle of handles) {
    const { x, y, z } = new Vector3(...handle.at).project(camera);
    if (z > 1) continue;
    const [px, py] = [((x + 1) / 2) * pointer.width, ((1 - y) / 2) * pointer.height];
    const distance = Math.hypot(px - pointer.x, py - pointer.y);
    if (distance <= GRASP && (!best || distance < best.distance)) best = { handle, distance };
  }
  return best?.handle ?? null;
}

/**
 * Where a handle goes that is dragged to a pointer: over the sky for a sun, else in the plane that faces the viewer.
 * @returns null where the pointer meets nothing
 */
export function draggedTo(
  handle: Handle,
  { x, y, width, height }: Pointer,
  camera: PerspectiveCamera,
  sky: Dome | null,
): Vector | null {
  const caster = new Raycaster();
  caster.setFromCamera(new Vector2((x / width) * 2 - 1, 1 - (y / height) * 2), camera);
  const { ray } = caster;
  if (sky) {
    const centre = new Vector3(...sky.centre);
    const dome = new Sphere(centre, sky.radius * SUN_DISTANCE);
    const hit = ray.intersectSphere(dome, new Vector3());
    // Beside the dome the sun goes along its outline.
    return (hit ?? ray.closestPointToPoint(centre, new Vector3())).toArray();
  }
  const facing = new Plane().setFromNormalAndCoplanarPoint(
    camera.getWorldDirection(new Vector3()),
    new Vector3(...handle.at),
  );
  return ray.intersectPlane(facing, new Vector3())?.toArray() ?? null;
}

/** The settings with a handle at another place. */
export function moved<Settings extends Pick<LightSettings, 'lights' | 'up' | 'seenFrom'>>(
  settings: Settings,
  { of, end }: Handle,
  to: Vector,
  dome: Dome,
): Settings {
  if (of === 'eye') return { ...settings, seenFrom: to };
  const lights = settings.lights.map((light, i): PlacedLight => {
    if (i !== of) return light;
    if (end === 'target' && 'target' in light) return { ...light, target: to };
    if (light.kind !== 'sun') return { ...light, position: to };
    const direction = to.map((value, k) => value - dome.centre[k]!) as Vector;
    return { ...light, ...placeInSky(settings.up, direction) };
  });
  return { ...settings, lights };
}
