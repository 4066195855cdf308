import { encodeImage } from '@zographos/formats/images';
import { blur, halve, resample, type Image } from '@zographos/core/image';
import { occlusionFromHeight } from '@zographos/core/derive';
import { randomNumbers, type Size } from '@zographos/core/math';

/** What lies before the camera: a relief with its colours, row by row. */
export interface Motif {
  /** In texels. */
  heights: Float32Array;
  /** Diffuse albedo, linear sRGB. */
  albedo: Float32Array;
}

export interface Shot {
  /** Where the sun is: degrees clockwise from the top of the picture, and above the horizon. */
  sun: { azimuth: number; elevation: number };
  /** How much of the light comes from the sky. */
  sky: number;
  /** How much the light falls off towards a corner: 0 for even light, and which side is dark in degrees. */
  fallOff: { amount: number; towards: number };
  /** Noise of the sensor, as a share of full white at middle grey. */
  noise: number;
  seed: number;
}

const SUNLIGHT = [1.0, 0.93, 0.82];
const SKYLIGHT = [0.78, 0.9, 1.12];

/**
 * Takes a photograph of a relief: sun with cast shadows, sky by openness, a lens that is soft and darkens the corners, and
 * the noise of a sensor.
 * @returns a JPEG
 */
export function photograph(size: Size, { heights, albedo }: Motif, shot: Shot): Promise<Uint8Array> {
  const { width, height: rows } = size;
  const relief: Image = { ...size, channels: 1, data: heights };
  const openness = skyOver(relief);
  const shade = sunOver(relief, shot);
  const image: Image = { ...size, channels: 3, data: new Float32Array(width * rows * 3), colorSpace: 'srgb' };
  const towards = (shot.fallOff.towards * Math.PI) / 180;
  for (let y = 0, at = 0; y < rows; y++) {
    for (let x = 0; x < width; x++, at++) {
      const [u, v] = [x / width - 0.5, y / rows - 0.5];
      const fall = 1 - shot.fallOff.amount * (0.5 + u * Math.sin(towards) - v * Math.cos(towards));
      const vignette = 1 - 0.35 * (u * u + v * v) * 2;
      for (let c = 0; c < 3; c++) {
        const light = SUNLIGHT[c]! * (1 - shot.sky) * shade[at]! * 1.5 + SKYLIGHT[c]! * shot.sky * openness[at]!;
        image.data[at * 3 + c] = albedo[at * 3 + c]! * light * fall * vignette;
      }
    }
  }
  return encodeImage(developed(blur(image, 0.7, 'clamp'), shot), 'jpeg');
}

/** Shoulders bright light, and adds the noise of a sensor, which grows with the root of the light. */
function developed(image: Image, { noise, seed }: Shot): Image {
  const random = randomNumbers(seed);
  for (let i = 0; i < image.data.length; i++) {
    const light = Math.max(0, image.data[i]!);
    const grain = (random() + random() + random() - 1.5) * noise * Math.sqrt(light + 0.002);
    image.data[i] = Math.max(0, 1 - Math.exp(-2.1 * (light + grain)));
  }
  return image;
}

/** How much of the sky each place sees. */
function skyOver(height: Image): Float32Array {
  const most = height.data.reduce((high, value) => Math.max(high, value), -Infinity);
  const least = height.data.reduce((low, value) => Math.min(low, value), Infinity);
  const range = Math.max(1e-6, most - least);
  const unit = { ...height, data: height.data.map((value) => (value - least) / range) };
  // Light of the sky is soft: half the size tells it.
  const options = { depth: range / height.width, reach: 0.04, slices: 4 };
  return resample(occlusionFromHeight(halve(unit), options, 'clamp'), height, 'linear').data;
}

/** Texels along the way to the sun that may cast a shadow. */
const FARTHEST = 40;

/** Cosine to the sun where it shines, with soft borders of shadows. */
function sunOver({ width, height: rows, data }: Image, { sun }: Shot): Float32Array {
  const [azimuth, elevation] = [(sun.azimuth * Math.PI) / 180, (sun.elevation * Math.PI) / 180];
  const [dx, dy] = [Math.sin(azimuth), -Math.cos(azimuth)];
  const [flat, up] = [Math.cos(elevation), Math.sin(elevation)];
  const rise = up / flat;
  const at = (x: number, y: number): number =>
    data[Math.max(0, Math.min(rows - 1, y)) * width + Math.max(0, Math.min(width - 1, x))]!;
  const shade = new Float32Array(width * rows);
  for (let y = 0, i = 0; y < rows; y++) {
    for (let x = 0; x < width; x++, i++) {
      const own = data[i]!;
      const [sx, sy] = [(at(x + 1, y) - at(x - 1, y)) / 2, (at(x, y + 1) - at(x, y - 1)) / 2];
      const facing = (up - flat * (sx * dx + sy * dy)) / Math.hypot(1, sx, sy);
      if (facing <= 0) continue;
      let covered = 0;
      for (let far = 2; far < FARTHEST; far += far < 12 ? 1 : 3) {
        const over = at(Math.round(x + dx * far), Math.round(y + dy * far)) - own - far * rise;
        // The sun is half a degree wide.
        covered = Math.max(covered, Math.min(1, Math.max(0, over / (0.6 + far * 0.03))));
        if (covered === 1) break;
      }
      shade[i] = facing * (1 - covered);
    }
  }
  return shade;
}
