import { ZographosError } from '@zographos/core/errors';
import { answerJobs } from '../threads/teamThread.ts';

/** A thread for tests: squares numbers, refuses negative ones, and dies of 13. */
answerJobs((number: number): { square: number } => {
  if (number < 0) throw new ZographosError('input/bad-settings', `${number} is less than 0. Give a number above it.`);
  if (number === 13) process.exit(1);
  return { square: number * number };
});
