import { srgbToLinear } from '@zographos/core/color';
import type { Image } from '@zographos/core/image';
import { addUvSet, PLAIN_MATERIAL, smoothNormals, UNMOVED, type Mesh, type PictureUse } from '@zographos/core/mesh';
import { DEFAULT_PACK, layoutOf, packIslands, unwrapDense } from '@zographos/core/uv';
import { encodeImage } from '@zographos/formats/images';
import { bump } from './sweep.ts';

/** A glass float for nets, in metres. */
const RADIUS = 0.13;
const [ROWS, COLUMNS] = [28, 48];
const PICTURE_SIDE = 1024;

/**
 * A net float as it came from elsewhere: painted on an old layout, the whole globe on one rectangle, which is narrow at
 * its poles; and a new layout beside it, to which its pictures are to be carried.
 */
export async function netFloat(): Promise<Mesh> {
  const globe = withNewLayout(onOldLayout());
  const pictures = [
    { name: 'net_float_basecolor.png', bytes: new Uint8Array(await encodeImage(painted('basecolor'), 'png8')) },
    { name: 'net_float_roughness.png', bytes: new Uint8Array(await encodeImage(painted('roughness'), 'png8')) },
  ];
  const laid = (picture: number): PictureUse => ({
    ...{ picture, uvSet: 0, transform: UNMOVED, channel: 1 },
    wrap: ['repeat', 'clamp'],
  });
  return {
    ...globe,
    materials: [
      {
        ...PLAIN_MATERIAL,
        baseColor: [1, 1, 1],
        roughness: 1,
        pictures: { basecolor: laid(0), roughness: laid(1) },
      },
    ],
    pictures,
  };
}

function onOldLayout(): Mesh {
  const [positions, uvs, indices]: [number[], number[], number[]] = [[], [], []];
  for (let i = 0; i <= ROWS; i++) {
    for (let j = 0; j <= COLUMNS; j++) {
      const [latitude, longitude] = [(i / ROWS - 0.5) * Math.PI, ((j % COLUMNS) / COLUMNS) * 2 * Math.PI];
      const ring = i === 0 || i === ROWS ? 0 : RADIUS * Math.cos(latitude);
      // A lip where the glass was sealed.
      const lip = 0.012 * bump((latitude - 1.42) / 0.2);
      positions.push(ring * Math.cos(longitude), RADIUS * Math.sin(latitude) + lip, -ring * Math.sin(longitude));
      uvs.push(j / COLUMNS, i / ROWS);
    }
  }
  for (let i = 0; i < ROWS; i++) {
    for (let j = 0; j < COLUMNS; j++) {
      const a = i * (COLUMNS + 1) + j;
      const c = a + COLUMNS + 1;
      if (i > 0) indices.push(a, a + 1, c + 1);
      if (i < ROWS - 1) indices.push(a, c + 1, c);
    }
  }
  const corners = Uint32Array.from(indices);
  const points = Float32Array.from(positions);
  return {
    name: 'Net float',
    positions: points,
    normals: smoothNormals(points, corners),
    uvSets: [{ name: 'Old', coords: Float32Array.from(uvs) }],
    colors: null,
    indices: corners,
    slots: ['glass and rope'],
    triangleSlots: new Uint16Array(corners.length / 3),
  };
}

function withNewLayout(globe: Mesh): Mesh {
  const { mesh, flat, islands } = unwrapDense(globe, 48);
  const layout = { ...layoutOf(mesh, 0), uvs: flat };
  const passes = packIslands(layout, islands, { ...DEFAULT_PACK, gap: 12, edge: 12, passes: 1 });
  let step = passes.next();
  while (!step.done) step = passes.next();
  return addUvSet(mesh, { name: 'New', coords: step.value.uvs }, 'last');
}

/** How far a place of the old layout lies within a cord of the net, 0 to 1; the net narrows with the globe. */
function cord(u: number, v: number): number {
  const across = 18;
  const up = 9;
  const [a, b] = [u * across + v * up, u * across - v * up];
  const near = (value: number): number => Math.abs(value - Math.round(value));
  const width = 0.075;
  const knot = 1 - Math.hypot(near(a), near(b)) / 0.17;
  return Math.max(0, 1 - near(a) / width, 1 - near(b) / width, knot);
}

function painted(what: 'basecolor' | 'roughness'): Image {
  const side = PICTURE_SIDE;
  const channels = what === 'basecolor' ? 3 : 1;
  const data = new Float32Array(side * side * channels);
  for (let y = 0; y < side; y++) {
    for (let x = 0; x < side; x++) {
      const [u, v] = [(x + 0.5) / side, 1 - (y + 0.5) / side];
      const rope = Math.min(1, cord(u, v) * 3);
      const lay = 0.5 + 0.5 * Math.sin((u * 18 + v * 9) * 60 + Math.sin((u * 18 - v * 9) * 60));
      const haze = 0.5 + 0.5 * Math.sin(u * 12.56 + 3 * Math.sin(v * 9)) * Math.sin(v * 14 + u * 6.28);
      const at = (y * side + x) * channels;
      if (what === 'roughness') {
        data[at] = 0.12 + 0.14 * haze + rope * (0.66 - 0.14 * haze);
        continue;
      }
      const glass = [0.13 + 0.06 * haze, 0.36 + 0.1 * haze, 0.31 + 0.07 * haze];
      const hemp = [0.55 + 0.14 * lay, 0.46 + 0.12 * lay, 0.31 + 0.08 * lay];
      for (let c = 0; c < 3; c++) data[at + c] = srgbToLinear(glass[c]! + (hemp[c]! - glass[c]!) * rope);
    }
  }
  return { width: side, height: side, channels, data, colorSpace: what === 'basecolor' ? 'srgb' : 'linear' };
}
