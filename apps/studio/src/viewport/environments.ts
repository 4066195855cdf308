import {
  BackSide,
  BoxGeometry,
  Color,
  Mesh,
  MeshBasicMaterial,
  PMREMGenerator,
  Scene,
  SphereGeometry,
  type Texture,
  type WebGLRenderer,
} from 'three';

/** Light about a material, made by code: plain rooms and skies of a few surfaces that shine. */
export const ENVIRONMENTS = ['studio', 'overcast', 'low-sun', 'uniform'] as const;
export type Environment = (typeof ENVIRONMENTS)[number];

export const ENVIRONMENT_LABELS: Record<Environment, string> = {
  studio: 'Studio',
  overcast: 'Overcast',
  'low-sun': 'Low sun',
  uniform: 'Uniform',
};

interface Panel {
  at: [x: number, y: number, z: number];
  size: [x: number, y: number, z: number];
  /** Radiance; the sky about it is 1 at most. */
  light: number;
  color?: string;
}

const SKIES: Record<Environment, { above: string; below: string; panels: Panel[] }> = {
  studio: {
    above: '#8c8c8c',
    below: '#303030',
    panels: [
      { at: [0, 9, 0], size: [7, 0.1, 7], light: 9 },
      { at: [-9, 3, 3], size: [0.1, 5, 6], light: 5 },
      { at: [8, 2, -5], size: [0.1, 6, 2], light: 3 },
    ],
  },
  overcast: { above: '#cfd6da', below: '#4b4a44', panels: [{ at: [0, 9, -2], size: [14, 0.1, 10], light: 2 }] },
  'low-sun': {
    above: '#6f87a8',
    below: '#3a342c',
    panels: [{ at: [-8, 2.2, 5], size: [1.2, 1.2, 1.2], light: 60, color: '#ffd9a0' }],
  },
  uniform: { above: '#b8b8b8', below: '#b8b8b8', panels: [] },
};

/** Filtered for every roughness; whoever asks disposes of it. */
export function environmentLight(renderer: WebGLRenderer, which: Environment): Texture {
  const { above, below, panels } = SKIES[which];
  const scene = new Scene();
  const sphere = new SphereGeometry(20, 48, 24);
  const sky = new MeshBasicMaterial({ side: BackSide, vertexColors: true });
  const [top, bottom] = [new Color(above), new Color(below)];
  const place = sphere.getAttribute('position');
  const colors = new Float32Array(place.count * 3);
  for (let i = 0; i < place.count; i++) {
    const share = Math.max(0, Math.min(1, 0.5 + place.getY(i) / 8));
    bottom
      .clone()
      .lerp(top, share)
      .toArray(colors, i * 3);
  }
  sphere.setAttribute(
    'color',
    new (place.constructor as new (data: Float32Array, size: number) => typeof place)(colors, 3),
  );
  scene.add(new Mesh(sphere, sky));
  for (const { at, size, light, color = '#ffffff' } of panels) {
    const panel = new Mesh(
      new BoxGeometry(...size),
      new MeshBasicMaterial({ color: new Color(color).multiplyScalar(light) }),
    );
    panel.position.set(...at);
    scene.add(panel);
  }
  const generator = new PMREMGenerator(renderer);
  const { texture } = generator.fromScene(scene, 0.02);
  generator.dispose();
  scene.traverse((part) => {
    if (!(part instanceof Mesh)) return;
    (part.geometry as BoxGeometry).dispose();
    (part.material as MeshBasicMaterial).dispose();
  });
  return texture;
}
