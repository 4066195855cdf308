import path from 'node:path';
import { mkdir } from 'node:fs/promises';
import { parseArgs } from 'node:util';
import { demoFiles } from '@zographos/demo';
import { required } from '../flags.ts';
import { writeWhole } from '../files/writeWhole.ts';

export const DEMO_HELP = `cli demo: write the meshes of the demo project Saltmarsh Quay

  --out DIR    folder for the files; made if it is not there
  --help       this text
`;

export async function demoCommand(args: string[]): Promise<void> {
  const { values } = parseArgs({ args, options: { out: { type: 'string' } } });
  const out = required(values.out, 'out');
  await mkdir(out, { recursive: true });
  for await (const { name, bytes } of demoFiles()) {
    await writeWhole(path.join(out, name), bytes);
    process.stdout.write(`${name}\n`);
  }
}
