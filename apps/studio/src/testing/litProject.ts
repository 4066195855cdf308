import type { Project } from '@zographos/contracts';
import { parseSettings, type LightReport, type LightSettings } from '@zographos/operations';
import { fullProject, hashOf, idOf, IDS } from './fullProject.ts';

export const LIT = { set: idOf(71), ticket: idOf(72), run: idOf(73) };
const TIME = '2026-05-04T10:20:30.000Z';

export const LIGHT_REPORT: LightReport = {
  ...{ layout: 'abc', samples: 64, paths: 6400, rays: 19_000, texels: 100, overlapping: 0, moved: 0, noise: 0.08 },
  ...{ mean: [0.5, 0.5, 0.5], denoised: 0.04, groups: ['environment', 'surfaces', 'lantern'] },
  ...{ seconds: { load: 0.1, build: 0.1, trace: 2, total: 2.2 }, peakMemoryBytes: 3e8 },
  findings: [
    {
      ...{ kind: 'noise', severity: 'note', sentence: 'The noise of a texel is 8 %.' },
      places: [{ tile: 1001, x: 3, y: 4, texels: 1, position: null, part: null }],
      remedy: { label: 'Denoise', change: { denoise: 0.5 }, exchange: false, room: null },
    },
  ],
};

/** A project with a receiver that was lit, in passes and light groups, by a lantern under an overcast sky. */
export function litProject(settings: Partial<LightSettings> = {}, change: Partial<Project> = {}): Project {
  const base = fullProject();
  const passes = ['combined', 'direct', 'shadow', 'groups'] as const;
  const lantern = { kind: 'sphere', group: 'lantern', position: [0, 30, 0], radius: 2, strength: [4, 2, 1] };
  const kinds = ['combined', 'direct', 'shadow', 'lightgroupa', 'lightgroupb', 'lightgroupc'] as const;
  const revision = (i: number, channels: number) => ({
    ...{ id: idOf(80 + i), number: 1, runId: LIT.run, key: 'k1', width: 512, height: 512, channels },
    ...{ range: [0, 1] as [number, number], colorSpace: 'linear' as const, convention: null, thumbnailHash: hashOf(6) },
    ...{ levels: [{ width: 512, height: 512, columns: 2, rows: 2 }], createdAt: TIME },
    histograms: Array.from({ length: channels }, () => ({ min: 0, max: 2, mean: 0.5, bins: [] })),
  });
  return {
    ...base,
    imageSets: [
      ...base.imageSets,
      {
        ...{ id: LIT.set, name: 'Float at evening', version: 1, receiverId: IDS.light, uvSet: 0, lit: true, tiles: [] },
        ...{ namePattern: '{set}_{map}.{tile}', tileWidth: null, references: [] },
        maps: kinds.map((kind, i) => ({
          ...{ id: idOf(90 + i), kind, tile: 1001, ticketId: LIT.ticket, layered: false, isOutdated: false },
          revisions: [revision(i, kind === 'shadow' ? 1 : 3)],
        })),
      },
    ],
    tickets: [
      ...base.tickets,
      {
        ...{ id: LIT.ticket, name: 'Float at evening', version: 1, operation: 'light', imageSetId: LIT.set },
        ...{ key: 'k1', createdAt: TIME, inputs: { receivers: [IDS.light], sources: [IDS.dense] } },
        settings: parseSettings('light', {
          ...{ size: { width: 512, height: 512 }, passes, lights: [lantern], environment: { kind: 'overcast' } },
          ...settings,
        }),
      },
    ],
    runs: [
      {
        ...base.runs.find(({ id }) => id === IDS.bakeRun)!,
        ...{ id: LIT.run, operation: 'light', ticketId: LIT.ticket, report: LIGHT_REPORT },
      },
      ...base.runs,
    ],
    ...change,
  };
}
