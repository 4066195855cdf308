import path from 'node:path';
import { randomUUID } from 'node:crypto';
import { createWriteStream } from 'node:fs';
import { mkdir, rename, rm } from 'node:fs/promises';
import { parseArgs } from 'node:util';
import { ZographosError } from '@zographos/core/errors';
import { ArchiveWriter } from '@zographos/formats/archive';
import {
  count,
  deliveryProfile,
  parseWith,
  READY_PROFILES,
  type DeliveryProfile,
  type DeliveryReport,
} from '@zographos/operations';
import { jsonOf } from './deriveCommand.ts';
import { required } from '../flags.ts';
import { readSet, runSetOf } from '../files/mapFolder.ts';
import { runToFolder } from '../files/runToFolder.ts';

export const DELIVER_HELP = `cli deliver PROFILE.json: pack and name the maps of sets by a delivery profile

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
  const folders = await Promise.all((values.set ?? [required(undefined, 'set')]).map((folder) => readSet(folder)));
  const given = {
    settings: { profile, sets: folders.map(() => randomUUID()) },
    inputs: { receivers: [], sources: [] },
    sets: folders.map((set) => runSetOf(set)),
    project: values.project,
  };
  const deliver: Deliver = async (writing) =>
    (await runToFolder('deliver', given, { ...writing, format: 'png8' })).report;
  const { notes, files } = await (out.toLowerCase().endsWith('.zip') ? intoArchive(deliver, out) : deliver({ out }));
  for (const note of notes) process.stderr.write(`${note}\n`);
  process.stdout.write(`${count(files, 'file')} and manifest.json in ${out}\n`);
}

async function profileOf(named: string): Promise<DeliveryProfile> {
  const ready = READY_PROFILES.find(({ name }) => name === named);
  return ready ?? parseWith(deliveryProfile, await jsonOf(named), 'profile');
}

type Deliver = (writing: {
  out: string;
  putFile?: (name: string, bytes: Uint8Array) => Promise<void>;
}) => Promise<DeliveryReport>;

/** Half an archive looks like a whole one: it bears another name until it is done, and what was there before stays. */
async function intoArchive(deliver: Deliver, out: string): Promise<DeliveryReport> {
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
    const report = await deliver({ out, putFile: (name, bytes) => archive.add(name, bytes) });
    await archive.finish();
    await Promise.race([failed, new Promise<void>((resolve) => stream.end(resolve))]);
    await rename(growing, out);
    return report;
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
