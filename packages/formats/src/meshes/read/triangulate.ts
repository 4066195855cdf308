import earcut from 'earcut';

/**
 * Splits a polygon in space into triangles: convex quads along their first diagonal, everything else by ear
 * cutting in the plane of its Newell normal.
 * @param points x, y, z for each corner
 * @returns corner numbers, three for each triangle
 */
export function triangulatePolygon(points: readonly number[]): number[] {
  const corners = points.length / 3;
  if (corners === 3) return [0, 1, 2];
  if (corners === 4 && foldsNowhere(points)) return [0, 1, 2, 0, 2, 3];
  const normal = newellNormal(points);
  const [ax, ay, az] = normal.map(Math.abs) as [number, number, number];
  const drop = ax > ay ? (ax > az ? 0 : 2) : ay > az ? 1 : 2;
  const [first, second] = normal[drop] >= 0 ? [(drop + 1) % 3, (drop + 2) % 3] : [(drop + 2) % 3, (drop + 1) % 3];
  const flat: number[] = [];
  for (let c = 0; c < corners; c++) flat.push(points[c * 3 + first]!, points[c * 3 + second]!);
  const triangles = earcut(flat);
  if (triangles.length === 0) {
    // A polygon without area still keeps its corners; the findings will report the empty triangles.
    for (let c = 1; c + 1 < corners; c++) triangles.push(0, c, c + 1);
    return triangles;
  }
  for (let t = 0; t < triangles.length; t += 3) {
    const [a, b, c] = [triangles[t]! * 2, triangles[t + 1]! * 2, triangles[t + 2]! * 2];
    const area =
      (flat[b]! - flat[a]!) * (flat[c + 1]! - flat[a + 1]!) - (flat[b + 1]! - flat[a + 1]!) * (flat[c]! - flat[a]!);
    if (area < 0) triangles.splice(t, 3, triangles[t]!, triangles[t + 2]!, triangles[t + 1]!);
  }
  return triangles;
}

function newellNormal(points: readonly number[]): [number, number, number] {
  const normal: [number, number, number] = [0, 0, 0];
  for (let i = 0; i < points.length; i += 3) {
    const j = (i + 3) % points.length;
    normal[0] += (points[i + 1]! - points[j + 1]!) * (points[i + 2]! + points[j + 2]!);
    normal[1] += (points[i + 2]! - points[j + 2]!) * (points[i]! + points[j]!);
    normal[2] += (points[i]! - points[j]!) * (points[i + 1]! + points[j + 1]!);
  }
  return normal;
}

/** Whether a quad turns the same way at every corner, seen along its normal. */
function foldsNowhere(p: readonly number[]): boolean {
  // The normal of a quad, by its diagonals.
  const [ax, ay, az] = [p[6]! - p[0]!, p[7]! - p[1]!, p[8]! - p[2]!];
  const [bx, by, bz] = [p[9]! - p[3]!, p[10]! - p[4]!, p[11]! - p[5]!];
  const nx = ay * bz - az * by;
  const ny = az * bx - ax * bz;
  const nz = ax * by - ay * bx;
  for (let c = 0; c < 12; c += 3) {
    const next = c === 9 ? 0 : c + 3;
    const previous = c === 0 ? 9 : c - 3;
    const [ux, uy, uz] = [p[next]! - p[c]!, p[next + 1]! - p[c + 1]!, p[next + 2]! - p[c + 2]!];
    const [vx, vy, vz] = [p[previous]! - p[c]!, p[previous + 1]! - p[c + 1]!, p[previous + 2]! - p[c + 2]!];
    const turn = (uy * vz - uz * vy) * nx + (uz * vx - ux * vz) * ny + (ux * vy - uy * vx) * nz;
    if (turn < 0) return false;
  }
  return true;
}
