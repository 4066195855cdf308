import { unzip, type UnzipFileInfo, type Unzipped } from 'fflate';
import { FloatType } from 'three';
import { EXRLoader } from 'three/addons/loaders/EXRLoader.js';
import { TGALoader } from 'three/addons/loaders/TGALoader.js';
import { z } from 'zod';
import { ZographosError } from '@zographos/core/errors';
import { describeKind, isMapKind } from '@zographos/core/image';
import { damagedArchive, sizeGuard } from '@zographos/formats/archive-guard';
import { readExrHeader } from '@zographos/formats/exr-header';
import { readTgaHeader } from '@zographos/formats/tga-header';

/**
 * The receiving end: it knows a ZIP, its manifest and the formats of pictures, and nothing of how they were made, so that
 * a delivery is proved and not believed.
 */

const manifest = z.looseObject({
  profile: z.string(),
  project: z.string(),
  sets: z.array(z.looseObject({ name: z.string(), tileWidth: z.number().nullable() })),
  files: z.array(
    z.looseObject({
      path: z.string(),
      set: z.string(),
      tile: z.number(),
      kind: z.string(),
      width: z.number(),
      height: z.number(),
      colorSpace: z.enum(['srgb', 'linear']),
      channels: z.array(
        z.object({
          map: z.string().nullable(),
          channel: z.number(),
          inverted: z.boolean(),
          constant: z.number().nullable(),
        }),
      ),
      /** Since version 2: how directions and heights are written, by map. */
      conventions: z
        .record(z.string(), z.looseObject({ of: z.string(), space: z.string().optional(), y: z.string().optional() }))
        .optional(),
      /** Of version 1: which way green of normals points. */
      normalY: z.enum(['up', 'down']).nullable().optional(),
      sha256: z.string(),
    }),
  ),
});

type ManifestFile = z.infer<typeof manifest>['files'][number];

/** A file that was looked into. */
export interface ReceivedFile {
  path: string;
  holds: string;
  /** What is wrong with it; null for nothing. */
  fault: string | null;
}

/** A map put together again from the channels that carried it, as on screen. */
export interface ReceivedMap {
  width: number;
  height: number;
  rgba: Uint8ClampedArray<ArrayBuffer>;
  values: Float32Array | null;
}

export interface Delivery {
  title: string;
  files: ReceivedFile[];
  /** By the name of the set, and what each map is. */
  sets: Map<string, Map<string, ReceivedMap>>;
}

/** What a browser can hold of one delivery. */
const MAX_BYTES = 2e9;

/** @throws input/unreadable-file, limit/archive, input/missing-part */
export async function openDelivery(archive: Uint8Array): Promise<Delivery> {
  const guard = sizeGuard('This ZIP', MAX_BYTES);
  const filter = (entry: UnzipFileInfo): boolean => {
    guard(entry);
    return true;
  };
  const files = await new Promise<Unzipped>((resolve, reject) =>
    unzip(archive, { filter }, (error, entries) =>
      error ? reject(damagedArchive('This ZIP', error)) : resolve(entries),
    ),
  );
  const described = files['manifest.json'];
  if (!described) {
    throw new ZographosError(
      'input/missing-part',
      'The archive has no manifest.json, so its files cannot be identified. Ask for the delivery as it was made.',
    );
  }
  const told = readManifest(described);
  const delivery: Delivery = { title: `${told.project}, ${told.profile}`, files: [], sets: new Map() };
  for (const file of told.files) {
    const bytes = files[file.path];
    delivery.files.push({ path: file.path, holds: holdsOf(file), fault: await faultOf(file, bytes) });
    if (!bytes || (file.kind !== 'map' && file.kind !== 'packed') || file.tile !== 1001) continue;
    const picture = await decode(file, bytes).catch(() => {
      delivery.files.at(-1)!.fault ??= 'It cannot be read: its content is damaged.';
      return null;
    });
    if (!picture) continue;
    const maps = delivery.sets.get(file.set) ?? new Map<string, ReceivedMap>();
    delivery.sets.set(file.set, maps);
    unpack(file, picture, maps);
  }
  const unnamed = Object.keys(files).filter(
    (path) => path !== 'manifest.json' && !told.files.some((file) => file.path === path),
  );
  for (const path of unnamed) delivery.files.push({ path, holds: 'unknown', fault: 'It is not in the manifest.' });
  return delivery;
}

/** @throws input/unreadable-file */
function readManifest(bytes: Uint8Array): z.infer<typeof manifest> {
  try {
    return manifest.parse(JSON.parse(new TextDecoder().decode(bytes)));
  } catch (error) {
    const issue = error instanceof z.ZodError ? error.issues[0] : undefined;
    const why = issue ? `“${issue.path.join('.') || 'manifest'}”: ${issue.message}` : 'it is not JSON';
    throw new ZographosError(
      'input/unreadable-file',
      `The manifest.json of this delivery cannot be read: ${why}. Ask for the delivery as it was made.`,
      { cause: error },
    );
  }
}

const NAMES = ['R', 'G', 'B', 'A'];

/** Whether green of a map points down in a file. */
const isYDown = ({ conventions, normalY }: ManifestFile, map: string): boolean => {
  const convention = conventions?.[map];
  if (convention) return convention.of === 'direction' && convention.space === 'tangent' && convention.y === 'down';
  return map === 'normal' && normalY === 'down';
};

/** A convention as words, where there is more to say than the kind. */
function wordsOf(file: ManifestFile, map: string): string {
  const convention = file.conventions?.[map];
  if (convention?.of === 'direction' && convention.space === 'object') return ', object space';
  const isDirected = convention ? convention.of === 'direction' : map === 'normal' && file.normalY;
  return isDirected ? `, Y ${isYDown(file, map) ? 'down' : 'up'}` : '';
}

const phraseOf = (map: string): string => (isMapKind(map) ? describeKind(map).phrase : map);

function holdsOf(file: ManifestFile): string {
  const { kind, channels } = file;
  if (kind === 'mesh') return 'the mesh';
  if (kind === 'layers') return 'all maps as layers';
  if (kind === 'map') return `${phraseOf(channels[0]?.map ?? '')}${wordsOf(file, channels[0]?.map ?? '')}`;
  const words = channels.map(
    ({ map, inverted, constant }, i) =>
      `${NAMES[i]} ${map === null ? constant : `${inverted ? '1 − ' : ''}${phraseOf(map)}${wordsOf(file, map)}`}`,
  );
  return words.join(', ');
}

async function faultOf({ sha256 }: ManifestFile, bytes: Uint8Array | undefined): Promise<string | null> {
  if (!bytes) return 'It is in the manifest, but not in the archive.';
  const digest = await crypto.subtle.digest('SHA-256', bytes as BufferSource);
  const hex = [...new Uint8Array(digest)].map((byte) => byte.toString(16).padStart(2, '0')).join('');
  return hex === sha256 ? null : 'Its content is not what the manifest says: it was changed on the way.';
}

interface Decoded {
  width: number;
  height: number;
  /** Four values a texel, 0 to 1 as they stand in the file, the top row first. */
  data: Float32Array;
}

/**
 * @returns null for formats that a browser does not read
 * @throws for a picture that is damaged, or of another size than the manifest says
 */
async function decode(told: ManifestFile, bytes: Uint8Array): Promise<Decoded | null> {
  const { path } = told;
  // Asked before memory is taken for it.
  const requireToldSize = ({ width, height }: { width: number; height: number }): void => {
    if (width !== told.width || height !== told.height) throw new RangeError('The size is not the one that is told.');
  };
  const ending = path.slice(path.lastIndexOf('.') + 1);
  const buffer = new Uint8Array(bytes).buffer;
  if (ending === 'exr') {
    // Of a file that is cut off the loader might never come back.
    requireToldSize(readExrHeader(bytes));
    const { width, height, data } = new EXRLoader().setDataType(FloatType).parse(buffer) as unknown as {
      width: number;
      height: number;
      data: Float32Array;
    };
    const channels = data.length / (width * height);
    const flipped = new Float32Array(width * height * 4).fill(1);
    for (let y = 0; y < height; y++) {
      for (let x = 0; x < width; x++) {
        const from = ((height - 1 - y) * width + x) * channels;
        for (let c = 0; c < Math.min(4, channels < 3 ? 3 : channels); c++) {
          flipped[(y * width + x) * 4 + c] = data[from + (channels < 3 ? 0 : c)]!;
        }
      }
    }
    return { width, height, data: flipped };
  }
  if (ending === 'tga') {
    requireToldSize(readTgaHeader(bytes));
    const { width, height, data } = new TGALoader().parse(buffer) as unknown as {
      width: number;
      height: number;
      data: Uint8Array;
    };
    return { width, height, data: Float32Array.from(data, (value) => value / 255) };
  }
  if (!['png', 'jpg', 'webp'].includes(ending)) return null;
  const bitmap = await createImageBitmap(new Blob([buffer]), {
    colorSpaceConversion: 'none',
    premultiplyAlpha: 'none',
  });
  requireToldSize(bitmap);
  return pixelsOf(bitmap);
}

/** Read back through WebGL: a canvas would mix colours with their alpha, which here is data. */
function pixelsOf(bitmap: ImageBitmap): Decoded {
  const { width, height } = bitmap;
  const gl = new OffscreenCanvas(1, 1).getContext('webgl2')!;
  const texture = gl.createTexture();
  gl.bindTexture(gl.TEXTURE_2D, texture);
  gl.texImage2D(gl.TEXTURE_2D, 0, gl.RGBA, gl.RGBA, gl.UNSIGNED_BYTE, bitmap);
  gl.bindFramebuffer(gl.FRAMEBUFFER, gl.createFramebuffer());
  gl.framebufferTexture2D(gl.FRAMEBUFFER, gl.COLOR_ATTACHMENT0, gl.TEXTURE_2D, texture, 0);
  const data = new Uint8Array(width * height * 4);
  gl.readPixels(0, 0, width, height, gl.RGBA, gl.UNSIGNED_BYTE, data);
  gl.getExtension('WEBGL_lose_context')?.loseContext();
  return { width, height, data: Float32Array.from(data, (value) => value / 255) };
}

/** Puts each channel of a file where the manifest says it belongs. */
function unpack(file: ManifestFile, { width, height, data }: Decoded, maps: Map<string, ReceivedMap>): void {
  const parts = new Map<string, { from: number; channel: number; inverted: boolean }[]>();
  file.channels.forEach(({ map, channel, inverted }, from) => {
    if (map !== null) parts.set(map, [...(parts.get(map) ?? []), { from, channel, inverted }]);
  });
  for (const [map, list] of parts) {
    const rgba = new Uint8ClampedArray(width * height * 4).fill(255);
    const values = map === 'height' ? new Float32Array(width * height) : null;
    const isGrey = list.length === 1;
    for (const { from, channel, inverted } of list) {
      const turned = channel === 1 && isYDown(file, map);
      for (let i = 0; i < width * height; i++) {
        const stored = data[i * 4 + from]!;
        const value = inverted !== turned ? 1 - stored : stored;
        if (values) values[i] = value;
        if (isGrey) rgba.fill(255 * value, i * 4, i * 4 + 3);
        else if (channel < 3) rgba[i * 4 + channel] = 255 * value;
      }
    }
    maps.set(map, { width, height, rgba, values });
  }
}
