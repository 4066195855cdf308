// @vitest-environment happy-dom
import { afterEach, describe, expect, it, vi } from 'vitest';
import { fullProject, IDS } from '../testing/fullProject.ts';
import { click, openRoom } from '../testing/room.ts';
import JobLane from './JobLane.vue';

afterEach(() => vi.unstubAllGlobals());

const props = { projectId: IDS.project };
const runs = fullProject().runs;

describe('the lane of runs', () => {
  it('lists all runs with what came of them, each in the words of its operation', async () => {
    const { part, room } = await openRoom(JobLane, props);
    await click(part('history'));
    const outcomes = room.findAll('.outcome').map((outcome) => outcome.text());
    expect(outcomes).toEqual([
      'queued',
      'done in 2.2 s',
      'done in 1.5 s',
      '2 maps of 1 image set, in 0.5 s',
      '3 files, 2.0 MB, in 0.7 s',
      '9 islands, coverage 61\u2009%, in 3.0 s',
      'draw calls 3 → 1, in 0.2 s',
      '“Float light” has no UVs.',
    ]);
  });

  it('names the run that works by its ticket, its meshes or its title', async () => {
    const running = (id: string) =>
      fullProject({ runs: [{ ...runs.find((run) => run.id === id)!, state: 'running', report: null, share: 0.5 }] });
    const names: [string, string][] = [
      [IDS.bakeRun, 'Float normal'],
      [IDS.layoutRun, 'Layout of Float light'],
      [IDS.mergeRun, 'Merge into Merged'],
      [IDS.atlasRun, 'Atlas Quay atlas'],
      [IDS.deliverRun, 'Delivery as glTF 2.0'],
    ];
    for (const [id, name] of names) {
      const { room } = await openRoom(JobLane, props, { project: running(id) });
      expect(room.find('strong').text()).toBe(name);
      const bar = room.find('[role="progressbar"]');
      expect([bar.attributes('aria-valuenow'), bar.attributes('aria-label')]).toEqual(['50', `Progress of ${name}`]);
    }
  });

  it('says how long it takes, what is done and how many wait', async () => {
    const [queued, done] = runs;
    const project = fullProject({
      runs: [
        {
          ...done!,
          id: IDS.failedRun,
          state: 'running',
          report: null,
          stage: 'trace',
          share: 0.3,
          secondsLeft: 90,
          note: '2 of 3',
        },
        queued,
      ],
    });
    const { text, part, calls } = await openRoom(JobLane, props, { project });
    expect(text()).toMatch(/30 %, 2 of 3, about 90 s left, 1 more waiting/);
    await click(part('cancel'));
    expect(calls).toEqual([{ name: 'cancelRun', params: { id: IDS.failedRun }, body: undefined }]);
  });

  it('tells the last failure as long as nothing else was run', async () => {
    const failed = runs.find(({ id }) => id === IDS.failedRun)!;
    const { text } = await openRoom(JobLane, props, { project: fullProject({ runs: [failed] }) });
    expect(text()).toContain('Float wear: “Float light” has no UVs.');
    const quiet = await openRoom(JobLane, props, { project: fullProject({ runs: [] }) });
    expect(quiet.text()).toContain('Nothing is running.');
  });
});
