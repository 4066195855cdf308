import { ZographosError } from '@zographos/core/errors';
import { bakeCommand, BAKE_HELP } from './commands/bakeCommand.ts';
import { combineCommand, COMBINE_HELP } from './commands/combineCommand.ts';
import { cutOutsCommand, CUT_OUTS_HELP } from './commands/cutOutsCommand.ts';
import { deliverCommand, DELIVER_HELP } from './commands/deliverCommand.ts';
import { demoCommand, DEMO_HELP } from './commands/demoCommand.ts';
import { deriveCommand, DERIVE_HELP } from './commands/deriveCommand.ts';
import { packCommand, PACK_HELP, unwrapCommand, UNWRAP_HELP } from './commands/layoutCommand.ts';
import { layersCommand, LAYERS_HELP } from './commands/layersCommand.ts';
import { lightCommand, LIGHT_HELP } from './commands/lightCommand.ts';
import { mergeCommand, MERGE_HELP } from './commands/mergeCommand.ts';
import { PACK_CHANNELS_HELP, packChannelsCommand, packsChannels } from './commands/packChannelsCommand.ts';
import { proceduralCommand, PROCEDURAL_HELP } from './commands/proceduralCommand.ts';
import { runCommand, RUN_HELP } from './commands/runCommand.ts';
import { seamlessCommand, SEAMLESS_HELP } from './commands/seamlessCommand.ts';
import { atlasCommand, ATLAS_HELP } from './commands/atlasCommand.ts';
import { transferCommand, TRANSFER_HELP } from './commands/transferCommand.ts';
import { uvCheckCommand, UV_CHECK_HELP } from './commands/uvCheckCommand.ts';
import { uvGuideCommand, UV_GUIDE_HELP } from './commands/uvGuideCommand.ts';

const HELP = `zographos: bake maps without server or database

  cli bake --receiver FILE --source FILE … --out DIR     bake maps from one mesh to another
  cli unwrap --in FILE --out FILE                        cut meshes into islands and lay them flat
  cli pack --in FILE --out FILE                          put islands into better places
  cli pack --r SOURCE … --out FILE                       put channels of pictures into one file
  cli uv-check --in FILE                                 measure a layout
  cli uv-guide --in FILE --out FILE                      draw a layout to paint over
  cli transfer --receiver FILE --source FILE --image KIND=FILE … --out DIR   transfer maps to another layout
  cli merge --in FILE --out DIR                          merge materials into one image set
  cli atlas --set DIR … --out DIR                        put image sets into one atlas
  cli seamless --in FILE --out FILE                      make a picture, or a set, repeat
  cli derive --in FILE --maps LIST --out DIR             make the maps of a material from one picture
  cli combine MAPS.json IMAGE … --out DIR                put maps together from images and channels
  cli cut-outs IMAGE … --out DIR                         pack what stands alone in images into an atlas
  cli procedural FIELD.json --out FILE                   draw a procedural texture
  cli layers STACK.json --receiver FILE --out DIR        lay layers on a receiver
  cli light --receiver FILE --source FILE … --out DIR    bake the light that a receiver sends
  cli deliver PROFILE.json --set DIR … --out FILE.zip    pack and name maps by a delivery profile
  cli run TICKET.json --out DIR                          run a ticket saved from the studio
  cli demo --out DIR                                     write the Saltmarsh Quay meshes

  cli COMMAND --help     every flag of a command
`;

const COMMANDS: Record<string, { run(args: string[]): Promise<void> | Promise<number>; help: string }> = {
  bake: { run: bakeCommand, help: BAKE_HELP },
  unwrap: { run: unwrapCommand, help: UNWRAP_HELP },
  pack: {
    run: (args) => (packsChannels(args) ? packChannelsCommand(args) : packCommand(args)),
    help: PACK_HELP + PACK_CHANNELS_HELP,
  },
  'uv-check': { run: uvCheckCommand, help: UV_CHECK_HELP },
  'uv-guide': { run: uvGuideCommand, help: UV_GUIDE_HELP },
  transfer: { run: transferCommand, help: TRANSFER_HELP },
  merge: { run: mergeCommand, help: MERGE_HELP },
  atlas: { run: atlasCommand, help: ATLAS_HELP },
  // What it was called before.
  sheet: { run: atlasCommand, help: ATLAS_HELP },
  seamless: { run: seamlessCommand, help: SEAMLESS_HELP },
  derive: { run: deriveCommand, help: DERIVE_HELP },
  combine: { run: combineCommand, help: COMBINE_HELP },
  'cut-outs': { run: cutOutsCommand, help: CUT_OUTS_HELP },
  procedural: { run: proceduralCommand, help: PROCEDURAL_HELP },
  layers: { run: layersCommand, help: LAYERS_HELP },
  light: { run: lightCommand, help: LIGHT_HELP },
  deliver: { run: deliverCommand, help: DELIVER_HELP },
  run: { run: runCommand, help: RUN_HELP },
  demo: { run: demoCommand, help: DEMO_HELP },
};

/**
 * Runs the command line. Exit code 0; 2 with one sentence on stderr for bad input; 3 where a result was written that is
 * not as it should be.
 */
export async function main(args: string[]): Promise<number> {
  const [name, ...rest] = args;
  if (name === undefined || name === '--help' || name === '-h') {
    process.stdout.write(HELP);
    return name === undefined ? 2 : 0;
  }
  const command = COMMANDS[name];
  if (!command) return fail(`There is no command “${name}”. Known: ${Object.keys(COMMANDS).join(', ')}.`);
  if (rest.includes('--help') || rest.includes('-h')) {
    process.stdout.write(command.help);
    return 0;
  }
  try {
    const code = await command.run(rest);
    return typeof code === 'number' ? code : 0;
  } catch (error) {
    if (error instanceof ZographosError) return fail(error.message);
    if (isArgumentError(error)) return fail(error.message);
    const sentence = fileTrouble(error);
    if (sentence !== null) return fail(sentence);
    throw error;
  }
}

/** node:util parseArgs reports unknown or incomplete flags with these codes. */
function isArgumentError(error: unknown): error is Error {
  return error instanceof Error && 'code' in error && String(error.code).startsWith('ERR_PARSE_ARGS');
}

/** What is wrong where the system could not read or write a file, and the way out. */
const FILE_TROUBLE: Record<string, string> = {
  ENOSPC: 'The disk is full. Make room on it, or write to another. Files that are there are whole.',
  EDQUOT: 'The quota of this disk is used up. Make room on it, or write to another.',
  EFBIG: 'The file would be larger than this disk allows. Write to another.',
  EACCES: 'This may not be read or written. Choose another place, or change its rights.',
  EPERM: 'This may not be read or written. Choose another place, or change its rights.',
  EROFS: 'The disk can only be read. Write to another.',
  ENOTDIR: 'A part of its path is a file, not a folder. Choose another place.',
  EISDIR: 'It is a folder where a file should be. Choose another name.',
  EMFILE: 'Too many files are open. Close other programs and try again.',
};

function fileTrouble(error: unknown): string | null {
  if (!(error instanceof Error && 'code' in error)) return null;
  const sentence = FILE_TROUBLE[String(error.code)];
  if (sentence === undefined) return null;
  const { path } = error as { path?: string };
  return `${path === undefined ? '' : `${path}: `}${sentence}`;
}

function fail(sentence: string): number {
  process.stderr.write(`${sentence.replaceAll('\n', ' ')}\n`);
  return 2;
}
