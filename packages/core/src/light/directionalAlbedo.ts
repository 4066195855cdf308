import { LEAST_ALPHA, smithLambda, schlickWeight, sampleVisibleNormal } from './microfacet.ts';

/** Entries along the cosine and along the roughness. */
const SIDE = 32;
/** Microfacet normals for each entry, by tilt and azimuth. */
const TILTS = 48;
const AZIMUTHS = 12;

/**
 * Directional albedo of single scattering, as (scale, bias) of F0 for each cosine and roughness, by Schlick's split (common
 * practice, no source), integrated over stratified visible normals.
 * @returns two numbers for each roughness and cosine, roughness by roughness
 */
function measured(): Float32Array {
  const table = new Float32Array(SIDE * SIDE * 2);
  const normal = new Float64Array(3);
  for (let r = 0; r < SIDE; r++) {
    const alpha = Math.max(LEAST_ALPHA, (r / (SIDE - 1)) ** 2);
    for (let c = 0; c < SIDE; c++) {
      const z = Math.max(1e-3, (c / (SIDE - 1)) ** 2);
      const x = Math.sqrt(1 - z * z);
      const own = smithLambda(z, alpha);
      let scale = 0;
      let bias = 0;
      for (let i = 0; i < TILTS; i++) {
        // Denser towards the largest tilts, which are rare and lose most.
        const s = (i + 0.5) / TILTS;
        const weight = (2 * s) / TILTS / AZIMUTHS;
        for (let j = 0; j < AZIMUTHS; j++) {
          sampleVisibleNormal(x, 0, z, alpha, 1 - s * s, (j + 0.5) / AZIMUTHS, normal);
          const facing = x * normal[0]! + z * normal[2]!;
          const out = 2 * facing * normal[2]! - z;
          if (out <= 0) continue;
          const seen = (1 + own) / (1 + own + smithLambda(out, alpha));
          const white = schlickWeight(facing);
          scale += seen * (1 - white) * weight;
          bias += seen * white * weight;
        }
      }
      table[(r * SIDE + c) * 2] = scale;
      table[(r * SIDE + c) * 2 + 1] = bias;
    }
  }
  return table;
}

let known: Float32Array | null = null;

/** Directional albedo of single scattering: `scale` × F0 + `bias`. @param out told scale and bias */
export function directionalAlbedo(cosine: number, roughness: number, out: Float64Array): void {
  known ??= measured();
  // Entries lie closer where the light grazes.
  const c = Math.sqrt(Math.max(0, Math.min(1, cosine))) * (SIDE - 1);
  const r = Math.max(0, Math.min(1, roughness)) * (SIDE - 1);
  const left = Math.min(SIDE - 2, Math.floor(c));
  const top = Math.min(SIDE - 2, Math.floor(r));
  const dx = c - left;
  const dy = r - top;
  const at = (top * SIDE + left) * 2;
  for (let k = 0; k < 2; k++) {
    const upper = known[at + k]! * (1 - dx) + known[at + 2 + k]! * dx;
    const lower = known[at + SIDE * 2 + k]! * (1 - dx) + known[at + SIDE * 2 + 2 + k]! * dx;
    out[k] = upper * (1 - dy) + lower * dy;
  }
}
