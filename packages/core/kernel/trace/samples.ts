// What a bake does with the samples of a block before and after its rays are cast.

/**
 * Aims one ray for each sample: from above its place on the receiver, against the direction there.
 * @param count samples
 * @param triangles the receiver's triangle of each
 * @param weights the weights of its second and third corner, in double precision
 * @param vertices for each vertex of the receiver its place and how far rays start above it, its direction and how far
 *   they end below it: eight floats
 * @param indices three vertex numbers for each triangle of the receiver
 * @param origins, directions told x, y, z for each ray, with four bytes to spare behind the last
 * @param lengths told how far each ray reaches, and `starts` how far along it the sample's place lies
 */
export function aim(
  count: u32,
  triangles: usize,
  weights: usize,
  vertices: usize,
  indices: usize,
  origins: usize,
  directions: usize,
  lengths: usize,
  starts: usize,
): void {
  let last: u32 = 0xffffffff;
  let pa = f32x4.splat(0);
  let pb = pa;
  let pc = pa;
  let da = pa;
  let db = pa;
  let dc = pa;
  for (let s: usize = 0; s < <usize>count; s++) {
    const triangle = load<u32>(triangles + (s << 2));
    if (triangle !== last) {
      last = triangle;
      const corner = indices + <usize>triangle * 12;
      const a = vertices + ((<usize>load<u32>(corner)) << 5);
      const b = vertices + ((<usize>load<u32>(corner, 4)) << 5);
      const c = vertices + ((<usize>load<u32>(corner, 8)) << 5);
      pa = v128.load(a);
      pb = v128.load(b);
      pc = v128.load(c);
      da = v128.load(a, 16);
      db = v128.load(b, 16);
      dc = v128.load(c, 16);
    }
    const b64 = load<f64>(weights + (s << 4));
    const c64 = load<f64>(weights + (s << 4), 8);
    const wa = f32x4.splat(<f32>(1.0 - b64 - c64));
    const wb = f32x4.splat(<f32>b64);
    const wc = f32x4.splat(<f32>c64);
    const place = f32x4.add(f32x4.mul(pa, wa), f32x4.add(f32x4.mul(pb, wb), f32x4.mul(pc, wc)));
    const way = f32x4.add(f32x4.mul(da, wa), f32x4.add(f32x4.mul(db, wb), f32x4.mul(dc, wc)));
    const out = f32x4.extract_lane(place, 3);
    const inside = f32x4.extract_lane(way, 3);
    const unit = f32x4.mul(way, f32x4.splat(inverseLength(way)));
    v128.store(origins + s * 12, f32x4.add(place, f32x4.mul(unit, f32x4.splat(out))));
    v128.store(directions + s * 12, f32x4.neg(unit));
    store<f32>(lengths + (s << 2), out + inside);
    store<f32>(starts + (s << 2), out);
  }
}

/**
 * The source's normal, interpolated, where each sample has met it; and counts of hits by their height.
 * @param triangles what each sample has met, or −1, and `weights` where: in single precision
 * @param indices, normals those of the source; four bytes to spare behind the last normal
 * @param out told a unit vector for each sample that has met something, with four bytes to spare behind the last
 * @param distances, starts how far along its ray each hit and each sample's own place lie
 * @param low the height where the first bin begins
 * @param scale bins for each unit of height
 * @param bins counts to add to
 * @param binCount how many
 * @returns samples that have met nothing
 */
export function shade(
  count: u32,
  triangles: usize,
  weights: usize,
  indices: usize,
  normals: usize,
  out: usize,
  distances: usize,
  starts: usize,
  low: f32,
  scale: f32,
  bins: usize,
  binCount: i32,
): u32 {
  let missed: u32 = 0;
  for (let s: usize = 0; s < <usize>count; s++) {
    const triangle = load<i32>(triangles + (s << 2));
    if (triangle < 0) {
      missed++;
      continue;
    }
    const corner = indices + <usize>triangle * 12;
    const na = v128.load(normals + <usize>load<u32>(corner) * 12);
    const nb = v128.load(normals + <usize>load<u32>(corner, 4) * 12);
    const nc = v128.load(normals + <usize>load<u32>(corner, 8) * 12);
    const b = load<f32>(weights + (s << 3));
    const c = load<f32>(weights + (s << 3), 4);
    const normal = f32x4.add(
      f32x4.mul(na, f32x4.splat(1 - b - c)),
      f32x4.add(f32x4.mul(nb, f32x4.splat(b)), f32x4.mul(nc, f32x4.splat(c))),
    );
    v128.store(out + s * 12, f32x4.mul(normal, f32x4.splat(inverseLength(normal))));
    const height = load<f32>(starts + (s << 2)) - load<f32>(distances + (s << 2));
    const bin = min(binCount - 1, max(0, <i32>floor((height - low) * scale)));
    const at = bins + ((<usize>bin) << 2);
    store<u32>(at, load<u32>(at) + 1);
  }
  return missed;
}

/** 1 over the length of x, y, z; 1 where there is none. */
function inverseLength(vector: v128): f32 {
  const squares = f32x4.mul(vector, vector);
  const sum = f32x4.extract_lane(squares, 0) + f32x4.extract_lane(squares, 1) + f32x4.extract_lane(squares, 2);
  return sum > 0 ? <f32>1 / sqrt<f32>(sum) : 1;
}

/**
 * The mean normal of each texel in the receiver's tangent space: samples on one triangle are turned together, in the
 * frame at their middle, by the exact inverse of what a renderer does with it (Mikkelsen 2008).
 * @param count samples
 * @param texels the texel of each within the block, never falling: 16 bits
 * @param triangles, weights as for `aim`
 * @param met what each sample has met, or −1
 * @param normals the source's normal where it has
 * @param indices, vertices the receiver's triangles, and the normal of each vertex as four floats
 * @param tangents the tangent and its sign at each corner
 * @param out told x, y, z for each texel, of any length but 0, with four bytes to spare behind the last; 0 where nothing
 *   was met or normals cancel out
 */
export function encode(
  count: u32,
  texels: usize,
  triangles: usize,
  weights: usize,
  met: usize,
  normals: usize,
  indices: usize,
  vertices: usize,
  tangents: usize,
  out: usize,
): void {
  let last: u32 = 0xffffffff;
  let na = f32x4.splat(0);
  let nb = na;
  let nc = na;
  let ta = na;
  let tb = na;
  let tc = na;
  let sign: f32 = 1;
  let s: u32 = 0;
  while (s < count) {
    const texel = load<u16>(texels + ((<usize>s) << 1));
    let sum = f32x4.splat(0);
    while (s < count && load<u16>(texels + ((<usize>s) << 1)) === texel) {
      const triangle = load<u32>(triangles + ((<usize>s) << 2));
      let direction = f32x4.splat(0);
      let wb: f64 = 0;
      let wc: f64 = 0;
      let some: f64 = 0;
      do {
        if (load<i32>(met + ((<usize>s) << 2)) >= 0) {
          direction = f32x4.add(direction, v128.load(normals + <usize>s * 12));
          wb += load<f64>(weights + ((<usize>s) << 4));
          wc += load<f64>(weights + ((<usize>s) << 4), 8);
          some += 1;
        }
        s++;
      } while (
        s < count &&
        load<u16>(texels + ((<usize>s) << 1)) === texel &&
        load<u32>(triangles + ((<usize>s) << 2)) === triangle
      );
      if (some === 0) continue;
      if (triangle !== last) {
        last = triangle;
        const corner = indices + <usize>triangle * 12;
        na = v128.load(vertices + ((<usize>load<u32>(corner)) << 4));
        nb = v128.load(vertices + ((<usize>load<u32>(corner, 4)) << 4));
        nc = v128.load(vertices + ((<usize>load<u32>(corner, 8)) << 4));
        const tangent = tangents + <usize>triangle * 48;
        ta = v128.load(tangent);
        tb = v128.load(tangent, 16);
        tc = v128.load(tangent, 32);
        sign = f32x4.extract_lane(ta, 3);
      }
      const b = <f32>(wb / some);
      const c = <f32>(wc / some);
      const n = mixed(na, nb, nc, b, c);
      const t = mixed(ta, tb, tc, b, c);
      sum = f32x4.add(sum, inFrame(direction, n, t, sign));
    }
    v128.store(out + <usize>texel * 12, sum);
  }
}

@inline
function mixed(a: v128, b: v128, c: v128, wb: f32, wc: f32): v128 {
  return f32x4.add(
    f32x4.mul(a, f32x4.splat(1 - wb - wc)),
    f32x4.add(f32x4.mul(b, f32x4.splat(wb)), f32x4.mul(c, f32x4.splat(wc))),
  );
}

/** A direction as the frame sees it, as long as it is; (0, 0, 1) where the frame has collapsed. */
@inline
function inFrame(direction: v128, n: v128, t: v128, sign: f32): v128 {
  const bitangent = f32x4.mul(cross(n, t), f32x4.splat(sign));
  const across = cross(bitangent, n);
  const x = dot(direction, across);
  const y = dot(direction, cross(n, t));
  const z = dot(direction, cross(t, bitangent));
  const determinant = dot(t, across);
  const length = sqrt<f32>(x * x + y * y + z * z);
  const weight = sqrt<f32>(dot(direction, direction));
  if (!(length > 0) || determinant === 0) return f32x4(0, 0, weight, 0);
  const scale = determinant > 0 ? weight / length : -weight / length;
  return f32x4(x * scale, y * scale, z * scale, 0);
}

@inline
function cross(a: v128, b: v128): v128 {
  const a1 = v128.shuffle<f32>(a, a, 1, 2, 0, 3);
  const b1 = v128.shuffle<f32>(b, b, 1, 2, 0, 3);
  const c = f32x4.sub(f32x4.mul(a, b1), f32x4.mul(a1, b));
  return v128.shuffle<f32>(c, c, 1, 2, 0, 3);
}

@inline
function dot(a: v128, b: v128): f32 {
  const p = f32x4.mul(a, b);
  return f32x4.extract_lane(p, 0) + f32x4.extract_lane(p, 1) + f32x4.extract_lane(p, 2);
}
