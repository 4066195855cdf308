import { smoothNormals, type Mesh } from '@zographos/core/mesh';
import { rayBatch, type RayBatch } from '@zographos/core/trace';
import { bunny, randomNumbers, sphere, stanfordDragon } from '@zographos/core/testing';

/** The meshes that rays are cast at: two scans, and a sphere of a million triangles with waves on it. */
export async function* rayMeshes(): AsyncGenerator<Mesh> {
  yield await bunny();
  yield await stanfordDragon(1);
  yield wavySphere(707);
}

/** A sphere with waves on it, of about 2 · rings² triangles. */
export function wavySphere(rings: number): Mesh {
  const mesh = sphere('displaced sphere', 1, rings, rings);
  const { positions } = mesh;
  for (let i = 0; i < positions.length; i += 3) {
    const [x, y, z] = [positions[i]!, positions[i + 1]!, positions[i + 2]!];
    const stretch = 1 + 0.03 * Math.sin(23 * x) * Math.sin(19 * y) * Math.sin(21 * z);
    for (let k = 0; k < 3; k++) positions[i + k]! *= stretch;
  }
  return { ...mesh, normals: smoothNormals(positions, mesh.indices) };
}

const REACH = 0.01;
/** Samples of a map of 1024 × 1024 texels, of which some blocks are traced. */
const SAMPLES = 1024 * 1024;
const BLOCK = 1024;
const OCCLUSION_RAYS = 64;

/** Rays as a bake casts them: block after block, from a little above the surface straight back to it. */
export function projectionRays(mesh: Mesh, count: number): RayBatch {
  const { positions, normals, extent } = blocksOn(mesh, count);
  const rays = rayBatch(count);
  rays.count = count;
  for (let i = 0; i < count * 3; i++) {
    rays.origins[i] = positions[i]! + normals[i]! * REACH * extent;
    rays.directions[i] = -normals[i]!;
  }
  rays.lengths.fill(2 * REACH * extent);
  return rays;
}

/** Rays as an occlusion bake casts them: from each place on the surface into its hemisphere, without end. */
export function occlusionRays(mesh: Mesh, count: number): RayBatch {
  const places = count / OCCLUSION_RAYS;
  const { positions, normals, extent } = blocksOn(mesh, places);
  const random = randomNumbers(2);
  const rays = rayBatch(count);
  rays.count = count;
  for (let place = 0; place < places; place++) {
    const n = normals.subarray(place * 3, place * 3 + 3);
    for (let i = 0; i < OCCLUSION_RAYS; i++) {
      const r = place * OCCLUSION_RAYS + i;
      // A point on the sphere around the tip of the normal: cosine-weighted directions.
      const z = 2 * random() - 1;
      const turn = 2 * Math.PI * random();
      const s = Math.sqrt(1 - z * z);
      const d = [n[0]! + s * Math.cos(turn), n[1]! + s * Math.sin(turn), n[2]! + z];
      const length = Math.hypot(d[0]!, d[1]!, d[2]!) || 1;
      for (let k = 0; k < 3; k++) {
        rays.origins[r * 3 + k] = positions[place * 3 + k]! + n[k]! * 1e-4 * extent;
        rays.directions[r * 3 + k] = d[k]! / length;
      }
    }
  }
  rays.lengths.fill(10 * extent);
  return rays;
}

/** Some blocks of a map's samples, spread evenly over the whole. */
function blocksOn(mesh: Mesh, count: number): Places {
  const all = placesOn(mesh, SAMPLES);
  const blocks = count / BLOCK;
  const some: Places = {
    positions: new Float32Array(count * 3),
    normals: new Float32Array(count * 3),
    extent: all.extent,
  };
  for (let block = 0; block < blocks; block++) {
    const from = Math.floor((block / blocks) * (SAMPLES - BLOCK)) * 3;
    some.positions.set(all.positions.subarray(from, from + BLOCK * 3), block * BLOCK * 3);
    some.normals.set(all.normals.subarray(from, from + BLOCK * 3), block * BLOCK * 3);
  }
  return some;
}

interface Places {
  positions: Float32Array;
  normals: Float32Array;
  extent: number;
}

/** Places spread over a mesh with their normals, in the order of a space-filling curve. */
function placesOn(mesh: Mesh, count: number): Places {
  const random = randomNumbers(1);
  const triangles = mesh.indices.length / 3;
  const low = [Infinity, Infinity, Infinity];
  const high = [-Infinity, -Infinity, -Infinity];
  for (let i = 0; i < mesh.positions.length; i++) {
    low[i % 3] = Math.min(low[i % 3]!, mesh.positions[i]!);
    high[i % 3] = Math.max(high[i % 3]!, mesh.positions[i]!);
  }
  const extent = Math.max(...high.map((value, k) => value - low[k]!));
  const positions = new Float32Array(count * 3);
  const normals = new Float32Array(count * 3);
  const codes = new Float64Array(count);
  for (let i = 0; i < count; i++) {
    const t = Math.floor(random() * triangles) * 3;
    let [wb, wc] = [random(), random()];
    if (wb + wc > 1) [wb, wc] = [1 - wb, 1 - wc];
    const corner = [mesh.indices[t]! * 3, mesh.indices[t + 1]! * 3, mesh.indices[t + 2]! * 3];
    const mix = (from: Float32Array, k: number): number =>
      from[corner[0]! + k]! * (1 - wb - wc) + from[corner[1]! + k]! * wb + from[corner[2]! + k]! * wc;
    const n = [mix(mesh.normals, 0), mix(mesh.normals, 1), mix(mesh.normals, 2)];
    const length = Math.hypot(n[0]!, n[1]!, n[2]!) || 1;
    let code = 0;
    for (let k = 0; k < 3; k++) {
      positions[i * 3 + k] = mix(mesh.positions, k);
      normals[i * 3 + k] = n[k]! / length;
      code += spread(Math.floor(((positions[i * 3 + k]! - low[k]!) / extent) * 1023)) * 2 ** k;
    }
    codes[i] = code;
  }
  const order = Uint32Array.from({ length: count }, (_, i) => i).sort((a, b) => codes[a]! - codes[b]!);
  const sorted = (values: Float32Array): Float32Array =>
    Float32Array.from(values, (_, i) => values[order[Math.floor(i / 3)]! * 3 + (i % 3)]!);
  return { positions: sorted(positions), normals: sorted(normals), extent };
}

/** Ten bits with two gaps after each. */
function spread(bits: number): number {
  let code = 0;
  for (let b = 0; b < 10; b++) if (bits & (1 << b)) code += 8 ** b;
  return code;
}
