// npm run kills -- [kills of each process] [seed]: kills the worker, the server and the database at random moments of
// runs, and looks whether each run is finished with the bytes that an undisturbed one gives. Exit code 1 if any is not.
import { killAtRandom } from '../../apps/server/src/testing/killing.ts';

const [kills = 30, seed = 1] = process.argv.slice(2).map(Number);
const rounds = await killAtRandom(kills, 512, seed, (sentence) => process.stdout.write(`  ${sentence}\n`), report);
const bad = rounds.filter(({ state, sameBytes }) => state !== 'done' || !sameBytes);
process.stdout.write(`${rounds.length} kills, ${bad.length} runs that were not finished as if undisturbed\n`);
process.exit(bad.length === 0 ? 0 : 1);

function report({ victim, after, during, state, sameBytes, seconds }: (typeof rounds)[number]): void {
  process.stdout.write(
    `${victim} after ${(after / 1000).toFixed(1)} s, during ${during}: ${state}, ${sameBytes ? 'same bytes' : 'OTHER BYTES'}, ${seconds.toFixed(1)} s\n`,
  );
}
