import os from 'node:os';
import { writeFileSync } from 'node:fs';
import { parseArgs } from 'node:util';
import { benchBakes } from './bakes.ts';
import type { Figures } from './figures.ts';
import { benchFiles } from './files.ts';
import { benchFlat } from './flat.ts';
import { benchLayers } from './layers.ts';
import { benchLayouts } from './layouts.ts';
import { benchLight } from './light.ts';
import { benchRays } from './rays.ts';

const PARTS: Record<string, (say: (line: string) => void) => Promise<Figures>> = {
  rays: benchRays,
  bake: benchBakes,
  layout: benchLayouts,
  flat: benchFlat,
  layers: benchLayers,
  light: benchLight,
  files: benchFiles,
};

const HELP = `npm run bench -- [--only ${Object.keys(PARTS).join('|')}] [--json FILE]

  --only PART   measure only this part; may be given more than once
  --json FILE   also write the figures as JSON
`;

const { values } = parseArgs({
  options: { only: { type: 'string', multiple: true }, json: { type: 'string' }, help: { type: 'boolean' } },
});
if (values.help) {
  process.stdout.write(HELP);
  process.exit(0);
}
const wanted = values.only ?? Object.keys(PARTS);
const unknown = wanted.find((part) => !(part in PARTS));
if (unknown) {
  process.stderr.write(`There is no part “${unknown}”.\n\n${HELP}`);
  process.exit(2);
}

const say = (line: string): void => void process.stdout.write(`${line}\n`);
const cpu = os.cpus()[0]?.model ?? 'unknown';
say(`${os.availableParallelism()} × ${cpu}, Node ${process.version}`);
const figures: Record<string, Figures> = {};
for (const part of wanted) {
  say(`\n── ${part}`);
  figures[part] = await PARTS[part]!(say);
}
if (values.json) {
  const machine = { cpu, cores: os.availableParallelism(), node: process.version };
  writeFileSync(values.json, `${JSON.stringify({ machine, ...figures }, null, 2)}\n`);
}
process.exit(0);
