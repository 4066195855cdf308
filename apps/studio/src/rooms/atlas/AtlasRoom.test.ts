// @vitest-environment happy-dom
import { afterEach, describe, expect, it, vi } from 'vitest';
import { atlasSettings } from '@zographos/operations';
import { fullProject, IDS, idOf } from '../../testing/fullProject.ts';
import { click, openRoom, settle, type } from '../../testing/room.ts';
import AtlasRoom from './AtlasRoom.vue';

afterEach(() => vi.unstubAllGlobals());

const props = { projectId: IDS.project };

/** The project with a second set on a mesh, which has a base colour alone. */
function twoSets() {
  const project = fullProject();
  const [first, stone] = project.imageSets;
  const map = { ...stone!.maps[0]!, id: idOf(71) };
  return fullProject({
    imageSets: [
      ...project.imageSets,
      { ...first!, id: idOf(24), name: 'Rope coil', receiverId: IDS.dense, maps: [map] },
    ],
  });
}

describe('the atlas', () => {
  it('is made of sets that have maps, those on meshes first chosen', async () => {
    const { room } = await openRoom(AtlasRoom, props, { project: twoSets() });
    const lines = room.findAll('.sets li').map((line) => line.text().replace(/\s+/g, ' '));
    expect(lines).toHaveLength(3);
    expect(lines[1]).toMatch(/Harbour stone.*no mesh/);
    expect(lines[0]).toMatch(/Float light.*512 × 512 px.*normal, .*ambient occlusion/);
    expect(lines[2]).toMatch(/Rope coil.*base colour/);
  });

  it('says in words which map of which set is filled with its neutral value', async () => {
    const { text } = await openRoom(AtlasRoom, props, { project: twoSets() });
    expect(text()).toContain('Filled with the neutral value:');
    expect(text()).toContain('ambient occlusion of Rope coil');
    expect(text()).toContain('base colour of Float light');
  });

  it('asks for what it shows', async () => {
    const { part, calls } = await openRoom(AtlasRoom, props, { project: twoSets() });
    await click(part('Make atlas'));
    const made = atlasSettings.parse(calls.find(({ name }) => name === 'createAtlas')!.body);
    expect(made.sets.map(({ name }) => name)).toEqual(['Float light', 'Rope coil']);
    expect(made).toMatchObject({ name: 'Atlas', size: { width: 2048, height: 2048 }, arrangement: 'rows' });
  });

  it('leaves a set out by its box, and says nothing more is to be done without any', async () => {
    const { room, part } = await openRoom(AtlasRoom, props, { project: twoSets() });
    // The set without a mesh is not chosen by itself.
    for (const box of room.findAll('.sets input').filter(({ element }) => (element as HTMLInputElement).checked)) {
      await type(box.element, 'on');
      await settle();
    }
    expect(part('Make atlas').hasAttribute('disabled')).toBe(true);
  });

  it('takes the name that the address says', async () => {
    const { text } = await openRoom(AtlasRoom, props, { query: { atlas: 'Quay atlas' } });
    expect(text()).toContain('into one atlas Quay atlas');
  });
});
