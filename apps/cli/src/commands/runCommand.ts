import path from 'node:path';
import { readFile } from 'node:fs/promises';
import { parseArgs } from 'node:util';
import { ZographosError } from '@zographos/core/errors';
import { eachInput, parseTicketFile, type TicketInput } from '@zographos/operations';
import { namesTiles, required, WRITING_FLAGS, writingHelp, writingOf } from '../flags.ts';
import { writeReport } from '../files/mapFolder.ts';
import { bakeToFolder, flatToFolder, runToFolder } from '../files/runToFolder.ts';
import { loadInputs } from '../files/meshFiles.ts';
import { meantPicture, pictureFile } from '../files/pictureFiles.ts';

export const RUN_HELP = `cli run TICKET.json: run a ticket saved from the studio

  --out DIR            folder for the maps and report.json; made if it is not there
${writingHelp('png16')}  --help               this text

The files that the ticket names are looked for beside it.
`;

/** @throws ZographosError when the ticket, a file it names, or the bake itself is not usable */
export async function runCommand(args: string[]): Promise<void> {
  const { values, positionals } = parseArgs({
    args,
    allowPositionals: true,
    options: { out: { type: 'string' }, ...WRITING_FLAGS },
  });
  const [file] = positionals;
  if (!file) throw new ZographosError('input/bad-settings', 'Name the ticket to run: cli run TICKET.json --out DIR.');
  const text = await readFile(file, 'utf8').catch(() => {
    throw new ZographosError('missing/not-found', `There is no ticket “${file}”. Check the path.`);
  });
  const ticket = parseTicketFile(path.basename(file), text);
  const beside = ({ file: mesh, object }: TicketInput) => ({ file: path.resolve(path.dirname(file), mesh), object });
  const writing = { out: required(values.out, 'out'), ...writingOf(values, 'png16') };
  const meant = (named: readonly TicketInput[]) =>
    Promise.all(named.map((picture) => meantPicture(beside(picture).file)));
  if (ticket.operation === 'layers') {
    const { settings } = ticket;
    const inputs = await loadInputs({ receivers: ticket.inputs.receivers.map(beside), sources: [] });
    const pictures = await meant(ticket.inputs.pictures);
    const options = { ...writing, namesTiles: namesTiles(settings.tiles) };
    const { report, maps } = await runToFolder('layers', { settings, inputs, pictures }, options);
    await writeReport(writing.out, maps, report);
    return;
  }
  if (ticket.operation === 'light') {
    const { settings } = ticket;
    const { receivers, sources } = ticket.inputs;
    const inputs = await loadInputs({ receivers: receivers.map(beside), sources: sources.map(beside) });
    const pictures = await meant(ticket.inputs.pictures);
    const options = { ...writing, namesTiles: namesTiles(settings.tiles) };
    const { report, maps } = await runToFolder('light', { settings, inputs, pictures }, options);
    await writeReport(writing.out, maps, report);
    for (const { sentence } of report.findings) process.stderr.write(`${sentence}\n`);
    return;
  }
  const pictures = await Promise.all(
    (ticket.inputs.pictures ?? []).map((picture) => pictureFile(beside(picture).file)),
  );
  if (ticket.operation !== 'bake') {
    await flatToFolder(ticket, pictures, writing);
    return;
  }
  const { settings, inputs: named } = ticket;
  const started = performance.now();
  const inputs = await loadInputs(await eachInput(named, beside));
  const mask = named.mask ? await pictureFile(beside(named.mask).file) : null;
  const options = { started, ...writing, namesTiles: namesTiles(settings.tiles) };
  await bakeToFolder({ settings, inputs, mask, pictures }, options);
}
