import { describe, expect, it } from 'vitest';
import { isBakeTicket } from '@zographos/contracts';
import { barriers } from './barriers.ts';
import { Demo } from './demo.ts';

const demo = new Demo();
const settled = (text: string) => demo.page.getByText(text).first().waitFor({ timeout: 60_000 });

describe('the UV room', () => {
  it('says what is wrong with a layout, where, and mends it', async () => {
    const { page } = demo;
    await demo.go(`uv/${await demo.ids('Cleat_low', 'Shackle_low', 'Ring_low')}`);
    await settled('are mirrored');
    expect(await barriers(page)).toEqual([]);
    const before = await demo.contentOf('Ring_low');
    await page.getByRole('button', { name: 'Mirror the islands' }).click();
    await expect.poll(() => demo.contentOf('Ring_low')).not.toBe(before);
    await settled('Figures');
    await page.getByText('are mirrored').waitFor({ state: 'detached' });
    await page.keyboard.press('Control+z');
    await settled('are mirrored');
    expect(await demo.contentOf('Ring_low')).toBe(before);
  });

  it('moves islands by keys, by dragging and by numbers, each to be taken back', async () => {
    const { page } = demo;
    await demo.go(`uv/${await demo.ids('Bell light')}?panel=islands`);
    await settled('7 islands');
    const first = await demo.contentOf('Bell light');
    const view = page.getByRole('img', { name: 'UV 1 of Bell light' });
    const box = (await view.boundingBox())!;
    await page.mouse.move(box.x + box.width * 0.3, box.y + box.height * 0.7);
    await page.mouse.down();
    await page.mouse.move(box.x + box.width * 0.32, box.y + box.height * 0.66, { steps: 4 });
    await page.mouse.up();
    await settled('1 island selected');
    await expect.poll(() => demo.contentOf('Bell light')).not.toBe(first);
    const dragged = await demo.contentOf('Bell light');
    await view.focus();
    await page.keyboard.press('Shift+ArrowRight');
    await expect.poll(() => demo.contentOf('Bell light')).not.toBe(dragged);
    const nudged = await demo.contentOf('Bell light');
    await page.getByRole('button', { name: 'Mirror horizontally' }).click();
    await expect.poll(() => demo.contentOf('Bell light')).not.toBe(nudged);
    for (const state of [nudged, dragged, first]) {
      await page.keyboard.press('Control+z');
      await expect.poll(() => demo.contentOf('Bell light')).toBe(state);
    }
    expect(await barriers(page)).toEqual([]);
  });

  it('lays a mesh out anew beside its old layout', async () => {
    const { page } = demo;
    await demo.go(`uv/${await demo.ids('Bollard light')}`);
    await settled('islands');
    await demo.button('Lay out').click();
    await page.getByRole('img', { name: 'Layout of Bollard light' }).waitFor({ timeout: 90_000 });
    const { assets, tickets } = await demo.project();
    const bollard = assets.find(({ name }) => name === 'Bollard light')!;
    expect(bollard.kind === 'mesh' && bollard.inspection.uvSets).toEqual(['UV 1', 'Layout']);
    expect(tickets.filter(isBakeTicket).find(({ name }) => name === 'Bollard, two tiles')!.settings.uvSet).toBe(0);
    await page.keyboard.press('Control+z');
    await page.getByRole('img', { name: 'UV 1 of Bollard light' }).waitFor();
  });

  it('keeps a tile with islands until that is confirmed', async () => {
    const { page } = demo;
    await demo.go(`uv/${await demo.ids('Bollard light')}?panel=tiles`);
    await demo.button('Remove tile 1002').click();
    await settled('UDIM tile 1002 still has islands');
    await page.getByRole('button', { name: 'Remove 1002 with its maps' }).waitFor();
    expect(await barriers(page)).toEqual([]);
  });

  it('saves the guide at the size of the map', async () => {
    const { page } = demo;
    await demo.go(`uv/${await demo.ids('Bollard light')}?panel=guide`);
    const [download] = await Promise.all([
      page.waitForEvent('download'),
      page.getByRole('link', { name: 'Save at 1024 × 1024 px' }).click(),
    ]);
    expect(download.suggestedFilename()).toBe('Bollard light_guide.1001.png');
  });
});

describe('merging and placing', () => {
  it('makes one mesh of three materials, and counts what that saves', async () => {
    const { page } = demo;
    await demo.go(`uv/${await demo.ids('Cleat_low', 'Shackle_low', 'Ring_low')}?job=merge`);
    await demo.button('Merge').click();
    const row = page.getByRole('row', { name: /Draw calls/ });
    await row.waitFor({ timeout: 90_000 });
    expect((await row.innerText()).replace(/\s+/g, ' ')).toBe('Draw calls 3 1');
    expect(await barriers(page)).toEqual([]);
    await page.getByRole('link', { name: 'Open ticket' }).click();
    await page.getByRole('img', { name: /base colour, 1024 px/i }).waitFor({ timeout: 90_000 });
  });

  it('places image sets into an atlas', async () => {
    const { page } = demo;
    await demo.make('Net float, new layout');
    await demo.go('atlas');
    await page.getByRole('checkbox').first().waitFor();
    expect(await barriers(page)).toEqual([]);
    await demo.button('Make atlas').click();
    await page.getByRole('link', { name: 'Open atlas' }).click({ timeout: 90_000 });
    await page.getByRole('img', { name: /, 2048 px/ }).waitFor({ timeout: 60_000 });
    const { imageSets } = await demo.project();
    const atlas = imageSets.find(({ name }) => name === 'Atlas')!;
    expect(atlas.maps.map(({ revisions }) => revisions[0]!.width)).toEqual(atlas.maps.map(() => 2048));
  });
});
