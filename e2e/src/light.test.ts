import sharp from 'sharp';
import { describe, expect, it } from 'vitest';
import { ENDPOINTS, isLightTicket, type LightTicket } from '@zographos/contracts';
import { parseSettings } from '@zographos/operations';
import { barriers } from './barriers.ts';
import { Demo } from './demo.ts';

const NAME = 'Bell buoy at evening';

/** A light that is quick to bake: small, without what layers would have to make first. */
const demo = new Demo(async (prepared) => {
  const { id, version, settings } = await prepared.ticket(NAME);
  const quick = { size: { width: 128, height: 128 }, samples: 8, materials: 'mesh', denoise: 0 };
  await prepared.call(
    ENDPOINTS.changeTicket,
    { id },
    { version, settings: parseSettings('light', { ...settings, ...quick }) },
  );
});

async function openLight(): Promise<void> {
  const { page } = demo;
  await page.getByRole('link', { name: 'Light', exact: true }).click();
  await page.getByRole('link', { name: NAME }).click();
  await page.getByRole('region', { name: 'Ticket' }).waitFor();
}

/** Where the mark of the chosen light is seen on the page, once the view holds still: its blue is nowhere else in it. */
async function markOfLight(): Promise<[x: number, y: number]> {
  const view = demo.page.getByRole('img', { name: /in three dimensions/ });
  let last = '';
  let found: [number, number] = [0, 0];
  await expect
    .poll(async () => {
      const { data, info } = await sharp(await view.screenshot())
        .removeAlpha()
        .raw()
        .toBuffer({ resolveWithObject: true });
      let [x, y, count] = [0, 0, 0];
      for (let i = 0; i < info.width * info.height; i++) {
        const [r, g, b] = [data[i * 3]!, data[i * 3 + 1]!, data[i * 3 + 2]!];
        if (b < r + 80 || b < g + 50) continue;
        x += i % info.width;
        y += Math.floor(i / info.width);
        count++;
      }
      found = [x / count, y / count];
      const before = last;
      last = found.map(Math.round).join();
      return count > 20 && last === before;
    })
    .toBe(true);
  const box = (await view.boundingBox())!;
  return [box.x + found[0], box.y + found[1]];
}

const lantern = async () => {
  const ticket = await demo.ticket(NAME);
  if (!isLightTicket(ticket)) throw new Error('This is no light ticket.');
  const [light] = (ticket satisfies LightTicket).settings.lights;
  return light!;
};

describe('the harbour at evening', () => {
  it('is lit at the press of a button, and shown in passes whose groups are switched off without a run', async () => {
    const { page } = demo;
    await openLight();
    expect(await barriers(page)).toEqual([]);
    await demo.button('Light now').click();
    await page.getByText('up to date').waitFor({ timeout: 100_000 });
    const map = page.getByRole('img', { name: /Combined light, 128 px/ });
    await map.waitFor();
    const picture = async (): Promise<string> => (await map.screenshot()).toString('base64');
    await page.waitForTimeout(1000);
    const whole = await picture();
    await page.getByRole('checkbox', { name: 'lantern' }).uncheck();
    await expect.poll(picture).not.toBe(whole);
    const without = await picture();
    await page.getByRole('checkbox', { name: 'lantern' }).check();
    await expect.poll(picture).not.toBe(without);
    await demo.button('Side by side').click();
    expect(await page.getByRole('list', { name: 'Passes side by side' }).getByRole('listitem').count()).toBe(8);
    expect(await barriers(page)).toEqual([]);
    expect((await demo.project()).runs.filter(({ operation }) => operation === 'light')).toHaveLength(1);
  });

  it('has a lantern that can be dragged, and set by numbers, and put back', async () => {
    const { page } = demo;
    await openLight();
    await page.getByText('Bell light in its light', { exact: true }).waitFor();
    const before = await lantern();
    const now = async (): Promise<string> => JSON.stringify(await lantern());
    const [x, y] = await markOfLight();
    await page.mouse.move(x, y);
    await page.mouse.down();
    await page.mouse.move(x - 60, y + 40, { steps: 5 });
    await page.mouse.up();
    await expect.poll(now).not.toBe(JSON.stringify(before));
    const dragged = await lantern();
    if (!('position' in dragged && 'position' in before)) throw new Error('A lantern has a place.');
    // Down on the screen is down on the quay.
    expect(dragged.position[1]).toBeLessThan(before.position[1]);
    expect({ ...dragged, position: before.position }).toEqual(before);
    await page.keyboard.press('Control+z');
    await expect.poll(now).toBe(JSON.stringify(before));
    const place = page.getByRole('group', { name: 'Place' }).getByRole('spinbutton', { name: 'Place, X' });
    await place.fill('X 700');
    await place.press('Tab');
    await expect.poll(now).toContain('[700,');
    // Within a field the keys would undo what was typed.
    await page.getByRole('button', { name: /^Undo/ }).click();
    await expect.poll(now).toBe(JSON.stringify(before));
  });
});
