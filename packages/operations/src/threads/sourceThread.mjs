// Starts a thread written in TypeScript: used where the project runs from source, as in tests.
import { workerData } from 'node:worker_threads';
import { register } from 'tsx/esm/api';

register();
await import(workerData.module);
