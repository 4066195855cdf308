import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { ENDPOINTS, isBakeTicket } from '@zographos/contracts';
import { barriers } from './barriers.ts';
import { Demo } from './demo.ts';

const size = { width: 512, height: 512 };

/** All bakes are made small, so that there is time for each of the 27 maps. */
const demo = new Demo(async (demo) => {
  for (const { id, version, settings } of (await demo.project()).tickets.filter(isBakeTicket)) {
    const tileSizes = Object.fromEntries(Object.keys(settings.tileSizes).map((tile) => [tile, SMALLER_TILE]));
    const occlusion = { ...settings.occlusion, rays: 16 };
    const small = { ...settings, size, tileSizes, occlusion, samples: 2 };
    await demo.call(ENDPOINTS.changeTicket, { id }, { version, settings: small });
  }
});
const SMALLER_TILE = { width: 256, height: 256 };

/** Begins to note main-thread tasks of more than 50 ms. */
const watchTasks = () =>
  demo.page.evaluate(() => {
    const seen: number[] = [];
    (window as unknown as { tasks: number[] }).tasks = seen;
    new PerformanceObserver((list) => seen.push(...list.getEntries().map(({ duration }) => duration))).observe({
      type: 'longtask',
    });
  });
const longTasks = () => demo.page.evaluate(() => (window as unknown as { tasks: number[] }).tasks);

describe('the demo, from the first page to a file on disk', () => {
  it('opens on its contact sheet with its maps to be made', async () => {
    const { page } = demo;
    await page.goto(demo.rig.address);
    await page.getByRole('link', { name: 'Saltmarsh Quay' }).waitFor();
    expect(await barriers(page)).toEqual([]);
    await page.getByRole('link', { name: 'Saltmarsh Quay' }).click();
    await demo.cell().waitFor();
    expect(await demo.cell().getAttribute('aria-label')).toBe('Bell light, normal, 512 px, not made yet');
    expect(await page.getByText('13 image sets, 93 maps').isVisible()).toBe(true);
    expect(await barriers(page)).toEqual([]);
    // Rooms that are not built yet are not there.
    expect(await page.getByRole('navigation').getByRole('link').allTextContents()).toEqual(
      expect.arrayContaining(
        ['Contact sheet', 'Intake', 'UV', 'Bake', 'Light', 'Proof'].map(
          (name) => expect.stringContaining(name) as string,
        ),
      ),
    );
  });

  it('shows what the meshes are', async () => {
    const { page } = demo;
    await page.getByRole('link', { name: 'Intake' }).click();
    await page.getByRole('button', { name: /Bell dense/ }).click();
    const details = page.getByRole('region', { name: 'Properties' });
    await details.getByText('Bell dense.ply').waitFor();
    const triangles = Number((await details.locator('dd').first().innerText()).replace(/\D/g, ''));
    expect(triangles).toBeGreaterThan(400_000);
    expect(await barriers(page)).toEqual([]);
  });

  it('reads the ticket as a sentence whose words can be changed, and changed back', async () => {
    const { page } = demo;
    await demo.openTicket('Bell buoy normal');
    await demo.slot('512 px').click();
    await page.getByRole('button', { name: '1024', exact: true }).click();
    await demo.slot('1024 px').waitFor();
    await page.keyboard.press('Escape');
    await demo.slot('2 × 2').click();
    await page.getByRole('button', { name: '4 × 4' }).click();
    await demo.slot('4 × 4').waitFor();
    await page.keyboard.press('Escape');
    await page.keyboard.press('Control+z');
    await demo.slot('2 × 2').waitFor();
    await page.keyboard.press('Control+Shift+z');
    await demo.slot('4 × 4').waitFor();
    expect(await barriers(page)).toEqual([]);
    await page.keyboard.press('Control+z');
    await page.keyboard.press('Control+z');
    await demo.slot('512 px').waitFor();
  });

  it('measures how far rays must reach', async () => {
    const { page } = demo;
    await demo.openTicket('Bell buoy normal');
    await demo.slot('14 mm').click();
    const measured = page.getByText(/Measured: .* mm out and .* mm in/);
    await measured.waitFor();
    const [out, inwards] = [...(await measured.innerText()).matchAll(/([\d.]+) mm/g)].map(([, value]) => Number(value));
    // Rivets and letters stand out by less than 14 mm, grooves are less than 8 mm deep.
    expect(out).toBeLessThan(20);
    expect(inwards).toBeLessThan(20);
  });

  it('bakes while the cell fills, without a frozen page', { timeout: 600_000 }, async () => {
    const { page } = demo;
    await watchTasks();
    await page.getByRole('button', { name: 'Update 93 maps' }).click();
    await page.getByRole('progressbar').waitFor();
    await page.locator('[data-state="running"] img').first().waitFor();
    await expect.poll(() => page.locator('[data-state="fresh"]').count(), { timeout: 540_000 }).toBe(27);
    expect(await demo.cell().getAttribute('aria-label')).toBe('Bell light, normal, 512 px, up to date');
    // What computes on the page takes seconds; a page answers within one (RAIL). The software renderer here keeps it from the aim, 50 ms.
    expect(Math.max(0, ...(await longTasks()))).toBeLessThan(1000);
    expect(await barriers(page)).toEqual([]);
  });

  it('shows the map down to single texels, channel by channel', async () => {
    const { page } = demo;
    await demo.make('Bell buoy normal');
    await demo.cell(/Bell light, normal, 512 px, up to date/).focus();
    await page.keyboard.press('Enter');
    const map = page.getByRole('img', { name: /normal, 512 px/i });
    await map.waitFor();
    await map.hover({ position: { x: 300, y: 300 } });
    const readout = page.locator('.readout');
    await expect.poll(() => readout.innerText()).toMatch(/Value\s+[\d.]+\s+[\d.]+\s+[\d.]+/);
    await page.keyboard.press('1');
    await expect.poll(() => map.getAttribute('aria-label')).toMatch(/ 100\s%/);
    for (let i = 0; i < 5; i++) await page.keyboard.press('+');
    await expect.poll(() => map.getAttribute('aria-label')).toMatch(/ 3200\s%/);
    await page.keyboard.press('F3');
    expect(await page.getByRole('button', { name: 'G', exact: true }).getAttribute('aria-pressed')).toBe('true');
    await page.keyboard.press('m');
    expect(
      await page.getByRole('button', { name: 'Show missed texels', exact: true }).getAttribute('aria-pressed'),
    ).toBe('true');
    expect(await page.getByText('Rays', { exact: true }).isVisible()).toBe(true);
    expect(await barriers(page)).toEqual([]);
  });

  it('puts it on the receiver in 3D, with the source one key away', async () => {
    const { page } = demo;
    await demo.make('Bell buoy normal');
    await demo.openTicket('Bell buoy normal');
    const model = page.locator('.model');
    await model.getByText('Bell light').waitFor();
    await page.keyboard.down('s');
    await model.getByText('Bell dense').waitFor();
    expect(await page.getByRole('button', { name: 'Source' }).getAttribute('aria-pressed')).toBe('true');
    await page.keyboard.up('s');
    await model.getByText('Bell light').waitFor();
    const lit = await picture();
    await page.keyboard.press('.');
    await page.keyboard.press('.');
    await page.keyboard.press('.');
    expect(Buffer.compare(await picture(), lit)).not.toBe(0);
    await page.keyboard.press('e');
    expect(await page.getByRole('button', { name: 'Wireframe' }).getAttribute('aria-pressed')).toBe('true');
    expect(await barriers(page)).toEqual([]);
  });

  it('bakes further maps from the same ticket and tells their values in mesh units', async () => {
    const { page } = demo;
    await demo.make('Bell buoy wear');
    await demo.cell(/Bell light, height/).click();
    const map = page.getByRole('img', { name: /height, 512 px/i });
    await map.waitFor();
    await map.hover({ position: { x: 300, y: 300 } });
    await expect.poll(() => page.locator('.readout').innerText()).toMatch(/Value\s+-?[\d.e-]+\s+8-bit value\s+\d+/);
    // A single channel is shown as it is: there is nothing to take apart.
    expect(await page.getByRole('button', { name: 'RGB' }).count()).toBe(0);
    const row = page.getByRole('row', { name: /^value/ });
    const most = Number((await row.getByRole('cell').last().innerText()).trim());
    // Ribs stand out by 9 mm.
    expect(most).toBeGreaterThan(7);
    expect(most).toBeLessThan(14);
    await page.getByRole('link', { name: 'Open ticket' }).click();
    await page.getByRole('button', { name: 'Ambient occlusion', exact: true }).click();
    await page.getByRole('img', { name: /ambient occlusion, 512 px/i }).waitFor();
    await demo.slot('height, ambient occlusion, sky visibility, curvature').click();
    await page.getByRole('option', { name: /Bent normal/ }).click();
    await demo.slot('height, ambient occlusion, bent normal, sky visibility, curvature').waitFor();
    await page.keyboard.press('Escape');
    await page.getByRole('option', { name: /Bent normal/ }).waitFor({ state: 'detached' });
    await demo.slot('16 occlusion rays per sample').click();
    await page.getByRole('group', { name: 'Rays per sample' }).getByRole('button', { name: '64' }).click();
    await demo.slot('64 occlusion rays per sample').waitFor();
    expect(await barriers(page)).toEqual([]);
  });

  it('shows each UDIM tile in a row of its own, and both on the model', async () => {
    const { page } = demo;
    await demo.make('Bollard, two tiles');
    await page.getByRole('link', { name: 'Bollard light, 1002' }).first().waitFor();
    await demo.cell(/Bollard light, normal, 256 px/).click();
    await page.getByRole('heading', { name: 'Bollard light, normal, 1002' }).waitFor();
    await page.getByRole('link', { name: 'Open ticket' }).click();
    await page.getByRole('group', { name: 'Tile on the bench' }).getByRole('button', { name: '1002' }).click();
    await page.getByRole('img', { name: /normal, 256 px/i }).waitFor();
    await demo.slot('all UDIM tiles, 1 tile of another size').click();
    await page.getByRole('combobox', { name: 'Size of tile 1002' }).waitFor();
    expect(await barriers(page)).toEqual([]);
  });

  it('tells who sees whom, and shows how far rays reach, to be changed by brushing', async () => {
    const { page } = demo;
    await demo.openTicket('Quay kit');
    await demo.slot('matched by name').click();
    await page.getByRole('cell', { name: 'Ring_high' }).waitFor();
    expect(await barriers(page)).toEqual([]);
    await page.keyboard.press('Escape');
    await page.getByRole('button', { name: 'Show reach', exact: true }).click();
    await page.getByRole('button', { name: 'Increase reach' }).click({ timeout: 60_000 });
    const canvas = page.locator('.model canvas');
    const box = (await canvas.boundingBox())!;
    // Across the whole view, so that the stroke meets the model wherever it stands.
    await page.mouse.move(box.x + box.width * 0.1, box.y + box.height * 0.3);
    await page.mouse.down();
    await page.mouse.move(box.x + box.width * 0.9, box.y + box.height * 0.7, { steps: 60 });
    await page.mouse.up();
    const sentence = page.getByRole('region', { name: 'Ticket' });
    await sentence.getByText('adjusted by hand').waitFor();
    await page.keyboard.press('Control+z');
    await sentence.getByText('adjusted by hand').waitFor({ state: 'detached' });
  });

  it('proves a bake: what is wrong, where, and what to change', async () => {
    const { page } = demo;
    await demo.make('Quay kit');
    await page.getByRole('link', { name: 'Proof', exact: true }).click();
    await page.getByRole('button', { name: 'Quay kit' }).click();
    await page.getByRole('img', { name: /View 6: Source/ }).waitFor();
    const measured = page.getByRole('complementary', { name: 'Figures' });
    const likeness = Number(/Similarity \(SSIM\)\s+([\d.]+)/.exec(await measured.innerText())![1]);
    expect(likeness).toBeGreaterThan(0.8);
    expect(await barriers(page)).toEqual([]);
    await page.getByRole('button', { name: 'Seams on the model' }).click();
    await page.getByRole('button', { name: 'Worst place' }).click();
    expect(await barriers(page)).toEqual([]);
    const cast = measured.getByRole('button', { name: /^Cast \d+ rays/ });
    const [rays] = /\d+/.exec(await cast.innerText())!;
    await cast.click();
    await measured.getByRole('button', { name: 'Show 1', exact: true }).first().click();
    // On the bench now, at the place, with the remedy taken.
    await demo.slot(`${rays} occlusion rays per sample`).waitFor();
    await expect
      .poll(() => page.getByRole('img', { name: /normal, 512 px/i }).getAttribute('aria-label'))
      .toMatch(/ 400\s%/);
    await page.keyboard.press('Control+z');
    await demo.slot(`${rays} occlusion rays per sample`).waitFor({ state: 'detached' });
  });

  it('takes the map away', async () => {
    const { page } = demo;
    await demo.make('Bell buoy normal');
    await demo.cell(/Bell light, normal, 512 px, up to date/).click();
    await page.getByRole('button', { name: 'Download' }).click();
    const [download] = await Promise.all([
      page.waitForEvent('download'),
      page.getByRole('link', { name: 'PNG, 16 bit' }).click(),
    ]);
    expect(download.suggestedFilename()).toBe('Bell_light_normal.png');
    const file = readFileSync(await download.path());
    expect(file.subarray(1, 4).toString()).toBe('PNG');
    expect([file.readUInt32BE(16), file.readUInt32BE(20), file[24]]).toEqual([512, 512, 16]);
  });

  it('marks the map as out of date once its ticket has changed', async () => {
    const { page } = demo;
    await demo.make('Bell buoy normal');
    await demo.openTicket('Bell buoy normal');
    await demo.slot('16 px padding').or(demo.slot('16 px')).first().click();
    await page.getByRole('button', { name: 'Fill the whole map' }).click();
    await demo.slot('padding over the whole map').waitFor();
    await page.keyboard.press('Escape');
    await page.getByRole('link', { name: 'Contact sheet' }).click();
    await expect.poll(() => demo.cell().getAttribute('data-state')).toBe('stale');
    await page.getByRole('button', { name: /^Update \d+ maps?$/ }).waitFor();
  });

  it('lists its keys', async () => {
    const { page } = demo;
    await page.keyboard.press('?');
    await page.getByRole('dialog', { name: 'Keyboard shortcuts' }).waitFor();
    expect(await barriers(page)).toEqual([]);
    await page.keyboard.press('Escape');
  });
});

const picture = async (): Promise<Buffer> => {
  // Two frames: what was asked for is drawn in the next one.
  const { page } = demo;
  await page.evaluate(() => new Promise((done) => requestAnimationFrame(() => requestAnimationFrame(done))));
  return page.locator('.model canvas').screenshot();
};
