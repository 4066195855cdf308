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
function foldsNowhere(points: readonly number[]): boolean {
  const normal = newellNormal(points);
  for (let c = 0; c < 4; c++) {
    const at = c * 3;
    const next = ((c + 1) % 4) * 3;
    const previous = ((c + 3) % 4) * 3;
    const u = [0, 1, 2].map((k) => points[next + k]! - points[at + k]!) as [number, number, number];
    const v = [0, 1, 2].map((k) => points[previous + k]! - points[at + k]!) as [number, number, number];
    const turn =
      (u[1] * v[2] - u[2] * v[1]) * normal[0] +
      (u[2] * v[0] - u[0] * v[2]) * normal[1] +
      (u[0] * v[1] - u[1] * v[0]) * normal[2];
    if (turn < 0) return false;
  }
  return true;
}
