// npm run fuzz -- [minutes] [first seed]: reads faulty files of every kind, without end unless minutes are said, and writes
// down those that are neither read nor refused in words. Exit code 1 if there is any. One of them again:
// npm run fuzz -- one NAME SEED.
import { fuzz } from './fuzz/fuzz.ts';

/** Faulty files of each kind between two lines. */
const BATCH = 200;

const [first, second, third] = process.argv.slice(2);
if (first === 'one') {
  const { findings } = await fuzz(Number(third), 1, [second!]);
  process.stdout.write(findings.length > 0 ? `${findings[0]!.why}\n` : 'Read, or refused in words.\n');
  process.exit(findings.length);
}
const until = first === undefined ? Infinity : Date.now() + Number(first) * 60_000;
let found = 0;
for (let seed = Number(second ?? Date.now() % 1e9); Date.now() < until; seed += BATCH) {
  const { findings, read, refused } = await fuzz(seed, BATCH);
  for (const { name, seed: at, why } of findings) process.stdout.write(`${name} ${at}: ${why}\n`);
  found += findings.length;
  process.stdout.write(
    `seeds ${seed} to ${seed + BATCH - 1}: ${read} read, ${refused} refused, ${found} findings so far\n`,
  );
}
process.exit(found === 0 ? 0 : 1);
