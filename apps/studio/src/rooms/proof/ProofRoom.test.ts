// @vitest-environment happy-dom
import { afterEach, describe, expect, it, vi } from 'vitest';
import { fullProject, IDS } from '../../testing/fullProject.ts';
import { click, openRoom } from '../../testing/room.ts';
import ProofRoom from './ProofRoom.vue';

afterEach(() => vi.unstubAllGlobals());

const props = { projectId: IDS.project };
const proof = {
  seams: {
    ao: {
      mean: 0.03,
      worst: 0.1,
      points: 9,
      places: [{ difference: 0.1, position: [1, 2, 3], tile: 1001, texel: 7 }],
      heat: [],
    },
  },
  hasLikeness: true,
};

describe('the proof', () => {
  it('is of the newest bake that is done, with what was found and measured', async () => {
    const { text, calls } = await openRoom(ProofRoom, props, { answers: { readProof: proof } });
    expect(calls[0]).toMatchObject({ name: 'readProof', params: { id: IDS.bakeRun } });
    expect(text()).toContain('No ray hit the source at 40 texels.');
    expect(text()).toContain('0.910');
    expect(text()).toContain('0.02 %');
  });

  it('has the seams of each map in a table, the worst mean first, that can be sorted', async () => {
    const { room, part } = await openRoom(ProofRoom, props, { answers: { readProof: proof } });
    const rows = (): string[] => room.findAll('tbody tr').map((row) => row.text().replace(/\s+/g, ' '));
    expect(rows()).toEqual([
      expect.stringMatching(/^Ambient occlusion ?3\.00/),
      expect.stringMatching(/^Normal ?1\.00.*–$/),
    ]);
    await click(part(/^Worst/, 'th'));
    expect(rows()[0]).toMatch(/^Ambient/);
    await click(part(/^Worst/, 'th'));
    expect(rows()[0]).toMatch(/^Normal/);
  });

  it('shows the seams of a chosen map on the model, and its worst places', async () => {
    const { room, part, text } = await openRoom(ProofRoom, props, { answers: { readProof: proof } });
    await click(part('Ambient occlusion'));
    expect(room.findComponent({ name: 'ModelView' }).exists()).toBe(true);
    expect(text()).toContain('Worst place');
    expect(part('Seams on the model').getAttribute('aria-pressed')).toBe('true');
  });

  it('takes remedies, and has seams mended at the next run', async () => {
    const { part, calls } = await openRoom(ProofRoom, props, {
      answers: { readProof: proof, changeTicket: fullProject().tickets[0] },
    });
    await click(part('Mend seams at the next run'));
    expect(calls.at(-1)).toMatchObject({ name: 'changeTicket', body: { settings: { mend: true } } });
    await click(part('Double the reach'));
    expect(calls.at(-1)).toMatchObject({ name: 'changeTicket', body: { settings: { reach: { out: 4, in: 2 } } } });
  });

  it('goes to a place of a finding in the bake room', async () => {
    const { part, router } = await openRoom(ProofRoom, props, { answers: { readProof: proof } });
    await click(part('Show 1'));
    expect(router.currentRoute.value).toMatchObject({
      ...{ name: 'bake', params: { ticketId: IDS.bake } },
      query: { tile: '1001', x: '12', y: '34', at: '1,2,3' },
    });
  });

  it('of nothing says so', async () => {
    const { text } = await openRoom(ProofRoom, props, { project: fullProject({ runs: [] }) });
    expect(text()).toContain('No bake to check yet');
  });
});
