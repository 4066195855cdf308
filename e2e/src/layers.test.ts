import { describe, expect, it } from 'vitest';
import { ENDPOINTS, isLayersTicket, type LayersTicket } from '@zographos/contracts';
import { barriers } from './barriers.ts';
import { Demo } from './demo.ts';

const SIZE = { width: 256, height: 256 };

/** Small maps: what is tested is how they come together. */
const demo = new Demo(async (all) => {
  for (const { id, version, settings } of (await all.project()).tickets) {
    if (!('size' in settings)) continue;
    const tileSizes = 'tileSizes' in settings ? { tileSizes: {} } : {};
    const change = { version, settings: { ...settings, size: SIZE, ...tileSizes } as LayersTicket['settings'] };
    await all.call(ENDPOINTS.changeTicket, { id }, change);
  }
});

const previewed = () => demo.page.getByText(/Preview made in \d+ ms/).waitFor({ timeout: 60_000 });
const stack = async (): Promise<LayersTicket> =>
  (await demo.project()).tickets.filter(isLayersTicket).find(({ name }) => name.startsWith('Bell'))!;
const names = async (): Promise<string[]> => (await stack()).settings.layers.map(({ name }) => name);
const layerList = () => demo.page.getByRole('list', { name: /^Layers, the uppermost first/ });

async function openLayers(): Promise<void> {
  await demo.page.getByRole('link', { name: 'Layers', exact: true }).click();
  await previewed();
}

describe('layers', () => {
  it('say what they lack, have it baked, and are finished maps beside the baked ones', async () => {
    const { page } = demo;
    await openLayers();
    expect(await barriers(page)).toEqual([]);
    await page.getByText(/“Worn edges” needs the .*curvature.* map, which is not made yet/).waitFor();
    await page.getByRole('button', { name: 'Bake missing maps and run' }).click();
    await expect
      .poll(
        async () => {
          const { imageSets } = await demo.project();
          const own = imageSets.find(({ name }) => name === 'Bell light')!.maps;
          return own
            .filter(({ layered, revisions }) => layered && revisions[0])
            .map(({ kind }) => kind)
            .sort();
        },
        { timeout: 120_000, interval: 500 },
      )
      .toEqual(['basecolor', 'height', 'metallic', 'normal', 'roughness']);
    await page.getByText(/“Worn edges” needs/).waitFor({ state: 'detached' });
    await page.getByRole('link', { name: 'Contact sheet', exact: true }).click();
    await demo.cell(/^Bell light finished, base colour, 256 px, up to date/).waitFor();
    await demo.cell(/^Bell light, normal, 256 px, up to date/).waitFor();
  });

  it('are added, moved, changed and taken back', async () => {
    const { page } = demo;
    await openLayers();
    const before = await names();
    await page.getByRole('button', { name: 'Add a layer' }).click();
    await page.getByRole('button', { name: /^Mottled noise/ }).click();
    await expect.poll(names).toEqual([...before, 'Mottled noise']);
    await page.getByRole('button', { name: 'Move down' }).click();
    await expect.poll(names).toEqual([...before.slice(0, -1), 'Mottled noise', before.at(-1)]);
    await page.getByRole('button', { name: 'everywhere', exact: true }).click();
    await page.getByRole('button', { name: 'Settled dust', exact: true }).click();
    await page.getByRole('button', { name: /^dust settles up to 55°/ }).waitFor();
    expect(await barriers(page)).toEqual([]);
    await page.keyboard.press('Control+z');
    await page.getByRole('button', { name: 'everywhere', exact: true }).waitFor();
    await layerList().getByRole('checkbox', { name: 'Show White band' }).click();
    await expect
      .poll(async () => (await stack()).settings.layers.find(({ name }) => name === 'White band')!.visible)
      .toBe(false);
    await page.getByRole('button', { name: 'Remove', exact: true }).click();
    await expect.poll(names).toEqual(before);
    await page.reload();
    await previewed();
    expect(await layerList().getByRole('listitem').count()).toBe(before.length);
  });

  it('show one channel or the mask of the chosen layer, on the model and in the map', async () => {
    const { page } = demo;
    await openLayers();
    await layerList()
      .getByRole('button', { name: /^White band/ })
      .click();
    await page.getByRole('button', { name: 'Mask', exact: true }).click();
    await page.getByRole('img', { name: /^Bell light, Mask/ }).waitFor();
    await page.getByRole('button', { name: 'Roughness', exact: true }).click();
    await page.getByRole('img', { name: /^Bell light, Roughness/ }).waitFor();
    await page.getByRole('button', { name: 'Across the model' }).click();
    await previewed();
  });

  it('begin on any image set', async () => {
    const { page } = demo;
    await demo.go('layers/new');
    await page.getByRole('button', { name: 'Lay layers on Roof plane' }).click();
    await page
      .getByText('Lay 0 layers on Roof plane')
      .or(page.getByText(/No layer yet|Baked maps/))
      .first()
      .waitFor();
    await page.getByRole('button', { name: 'Add a layer' }).click();
    await page.getByRole('button', { name: /^Plain colour/ }).click();
    await previewed();
    expect(await barriers(page)).toEqual([]);
  });
});
