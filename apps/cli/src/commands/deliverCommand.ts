import path from 'node:path';
import { createWriteStream } from 'node:fs';
import { mkdir, rename, rm, writeFile } from 'node:fs/promises';
import { parseArgs } from 'node:util';
import { ZographosError } from '@zographos/core/errors';
import { FIRST_TILE } from '@zographos/core/uv';
import { ArchiveWriter } from '@zographos/formats/archive';
import { deliveryProfile, parseWith, READY_PROFILES, type DeliveryProfile } from '@zographos/operations';
import { asMeantBy, deliver, type DeliveryResult, type SetOnTheWay } from '@zographos/operations/run';
import { jsonOf } from './deriveCommand.ts';
import { required } from '../flags.ts';
import { readSet } from '../files/imageSetFolder.ts';
import { runContext } from '../runContext.ts';

export const DELIVER_HELP = `cli deliver PROFILE.json: pack and name the maps of sets as somebody wants them

  PROFILE.json         a delivery profile saved from the studio, or the name of a ready one:
                       ${READY_PROFILES.map(({ name }) => `“${name}”`).join(', ')}
  --set DIR            folder with the maps of a set, each named by its kind; may be given again
  --project NAME       stands for {project}                          (delivery)
  --out FILE.zip | DIR where it goes, with manifest.json
  --help               this text
`;

export async function deliverCommand(args: string[]): Promise<void> {
  const { values, positionals } = parseArgs({
    args,
    allowPositionals: true,
    options: {
      set: { type: 'string', multiple: true },
      project: { type: 'string', default: 'delivery' },
      out: { type: 'string' },
    },
  });
  const out = required(values.out, 'out');
  const profile = await profileOf(required(positionals[0], 'PROFILE.json'));
  const sets = await Promise.all((values.set ?? [required(undefined, 'set')]).map(setOf));
  const result = out.toLowerCase().endsWith('.zip')
    ? await intoArchive(profile, values.project, sets, out)
    : await intoFolder(profile, values.project, sets, out);
  for (const note of result.notes) process.stderr.write(`${note}\n`);
  process.stdout.write(`${result.manifest.files.length} files and manifest.json in ${out}\n`);
}

async function profileOf(named: string): Promise<DeliveryProfile> {
  const ready = READY_PROFILES.find(({ name }) => name === named);
  return ready ?? parseWith(deliveryProfile, await jsonOf(named), 'profile');
}

async function setOf(folder: string): Promise<SetOnTheWay> {
  const { name, maps } = await readSet(folder);
  const held = new Map([...maps].map(([kind, { image, colorSpace }]) => [kind, asMeantBy({ colorSpace }, image)]));
  return {
    name,
    tileWidth: null,
    hasMesh: false,
    maps: [...held].map(([kind, { width, height, channels, colorSpace = 'linear', range = [0, 1] as const }]) => ({
      ...{ kind, tile: FIRST_TILE, revision: 1, width, height, channels, colorSpace, range },
    })),
    madeBy: () => null,
    load: (kind) => Promise.resolve(held.get(kind)!),
    mesh: () => Promise.resolve(new Uint8Array(0)),
  };
}

async function intoFolder(
  profile: DeliveryProfile,
  project: string,
  sets: readonly SetOnTheWay[],
  out: string,
): Promise<DeliveryResult> {
  return deliver(profile, project, sets, {
    ...runContext(),
    write: async (name, bytes) => {
      const file = path.join(out, name);
      await mkdir(path.dirname(file), { recursive: true });
      await writeFile(file, bytes);
    },
  });
}

/** Half an archive looks like a whole one: it bears another name until it is done, and what was there before stays. */
async function intoArchive(
  profile: DeliveryProfile,
  project: string,
  sets: readonly SetOnTheWay[],
  out: string,
): Promise<DeliveryResult> {
  await mkdir(path.dirname(path.resolve(out)), { recursive: true });
  const growing = `${out}.part`;
  const stream = createWriteStream(growing);
  const failed = new Promise<never>((_, reject) => stream.once('error', reject));
  failed.catch(() => {});
  const write = (bytes: Uint8Array): Promise<void> =>
    Promise.race([
      failed,
      new Promise<void>((resolve, reject) => stream.write(bytes, (error) => (error ? reject(error) : resolve()))),
    ]);
  try {
    const archive = new ArchiveWriter(write);
    const result = await deliver(profile, project, sets, {
      ...runContext(),
      write: (name, bytes) => archive.add(name, bytes),
    });
    await archive.finish();
    await Promise.race([failed, new Promise<void>((resolve) => stream.end(resolve))]);
    await rename(growing, out);
    return result;
  } catch (error) {
    stream.destroy();
    await rm(growing, { force: true });
    if (error instanceof ZographosError) throw error;
    throw new ZographosError(
      'run/failed',
      `“${out}” could not be written: ${error instanceof Error ? error.message : String(error)}. Make room or choose another place; nothing was left behind.`,
      { cause: error },
    );
  }
}
