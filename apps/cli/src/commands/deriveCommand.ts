import { readFile } from 'node:fs/promises';
import { parseArgs } from 'node:util';
import { deriveSourceOf, DERIVED_KINDS } from '@zographos/core/derive';
import { ZographosError } from '@zographos/core/errors';
import { IMAGE_FORMAT_NAMES } from '@zographos/formats/images';
import { count, parseSettings } from '@zographos/operations';
import { oneOf, parseFormat, required } from '../flags.ts';
import { flatToFolder } from '../files/runToFolder.ts';
import { inspectPicture } from '../files/pictureFiles.ts';

export const DERIVE_HELP = `cli derive: make the maps of a material from one picture

  --in FILE            a colour, a height or a normal map
  --maps LIST          ${DERIVED_KINDS.join(', ')}
  --out DIR            where they go, each named by its kind
  --from NAME          color, height or normal                       (by what the picture is)
  --depth F            height scale, in tile widths                   (of a normal map, measured;
                                                                     else by the steepness)
  --steepness DEGREES  without a depth: what only one slope in fifty exceeds             (45)
  --no-wrap            the picture does not repeat
  --settings FILE      JSON with further settings of a ticket that derives: height, normal,
                       ao, edges, cavity, roughness, metallic, specular, opacity, adjust
  --format NAME        ${IMAGE_FORMAT_NAMES.join(', ')}
                                                                     (png16; displacement always exr)
  --help               this text
`;

/** Writes each map, and report.json with what their borders show. */
export async function deriveCommand(args: string[]): Promise<void> {
  const { values } = parseArgs({
    args,
    options: {
      in: { type: 'string' },
      maps: { type: 'string' },
      out: { type: 'string' },
      from: { type: 'string' },
      depth: { type: 'string' },
      steepness: { type: 'string' },
      'no-wrap': { type: 'boolean', default: false },
      settings: { type: 'string' },
      format: { type: 'string', default: 'png16' },
    },
  });
  const file = required(values.in, 'in');
  const out = required(values.out, 'out');
  const { image, meaning, picture } = await inspectPicture(file);
  const settings = parseSettings('derive', {
    ...(values.settings ? await jsonOf(values.settings) : {}),
    maps: required(values.maps, 'maps').split(','),
    picture: meaning,
    from: values.from ? oneOf('from', values.from, ['color', 'height', 'normal']) : deriveSourceOf(meaning.kind),
    repeats: !values['no-wrap'],
    ...(values.depth === undefined ? {} : { depth: Number(values.depth) }),
    ...(values.steepness === undefined ? {} : { steepness: Number(values.steepness) }),
  });
  const format = parseFormat(values.format);
  const { report, maps } = await flatToFolder({ operation: 'derive', settings }, [picture], { format, out });
  process.stdout.write(
    `${count(maps.length, 'map')} of ${image.width} × ${image.height} px in ${report.seconds.toFixed(1)} s\n`,
  );
}

/** @throws missing/not-found, input/unreadable-file */
export async function jsonOf(file: string): Promise<Record<string, unknown>> {
  const text = await readFile(file, 'utf8').catch(() => {
    throw new ZographosError('missing/not-found', `There is no file “${file}”. Check the path.`);
  });
  try {
    const json: unknown = JSON.parse(text);
    if (typeof json === 'object' && json !== null && !Array.isArray(json)) return json as Record<string, unknown>;
  } catch {
    // Told below, with all that is no object.
  }
  throw new ZographosError('input/unreadable-file', `“${file}” holds no JSON object. Check it in an editor.`);
}
