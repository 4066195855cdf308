import sharp from 'sharp';
import { describe, expect, it } from 'vitest';
import { ENDPOINTS, isLayersTicket, type LayersTicket } from '@zographos/contracts';
import { everyLayer, strokesOf, type Layer } from '@zographos/core/layers';
import { barriers } from './barriers.ts';
import { Demo } from './demo.ts';

const SIZE = { width: 256, height: 256 };
/** A colour that nothing in the demo has. */
const PAINT = '#ff00ff';

/** Plain ground on the bell, and nothing on the bollard: what is tested is what is painted. */
const demo = new Demo(async (all) => {
  const ground = { id: 'ground', name: 'Ground', content: 'plain', values: { basecolor: '#3c6e3c', roughness: 0.6 } };
  for (const ticket of (await all.project()).tickets) {
    if (!isLayersTicket(ticket)) continue;
    const { id, version, settings } = ticket;
    const layers = [ground as unknown as Layer];
    await all.call(ENDPOINTS.changeTicket, { id }, { version, settings: { ...settings, size: SIZE, layers } });
  }
});

const stackOf = async (name: string): Promise<LayersTicket> =>
  (await demo.project()).tickets.filter(isLayersTicket).find((ticket) => ticket.name.startsWith(name))!;
const strokes = async (): Promise<number> => strokesOf((await stackOf('Bell')).settings.layers).length;
const previewed = () => demo.page.getByText(/Preview made in \d+ ms/).waitFor({ timeout: 60_000 });
const model = () => demo.page.locator('.views .view').first();

async function openLayers(): Promise<void> {
  await demo.page.getByRole('link', { name: 'Layers', exact: true }).click();
  await previewed();
}

/** Which pixels of a picture are painted. */
async function painted(png: Uint8Array): Promise<{ width: number; on: Uint8Array }> {
  const { data, info } = await sharp(png).removeAlpha().raw().toBuffer({ resolveWithObject: true });
  const on = Uint8Array.from({ length: info.width * info.height }, (_, i) => {
    const [r, g, b] = [data[i * 3]!, data[i * 3 + 1]!, data[i * 3 + 2]!];
    return r > g + 40 && b > g + 40 ? 1 : 0;
  });
  return { width: info.width, on };
}
const count = (on: Uint8Array): number => on.reduce((sum, value) => sum + value, 0);

/** How many pieces painted pixels lie in; specks are not counted. */
function pieces({ width, on }: { width: number; on: Uint8Array }): number {
  const left = on.slice();
  let found = 0;
  for (let start = 0; start < left.length; start++) {
    if (!left[start]) continue;
    const next = [start];
    left[start] = 0;
    let size = 0;
    for (let at = next.pop(); at !== undefined; at = next.pop()) {
      size++;
      for (const to of [at - 1, at + 1, at - width, at + width]) {
        if (!left[to]) continue;
        left[to] = 0;
        next.push(to);
      }
    }
    if (size > 12) found++;
  }
  return found;
}

const modelPicture = async (): Promise<Uint8Array> => model().screenshot();
const mapPicture = async (): Promise<Uint8Array> => demo.page.locator('.beside canvas').screenshot();

describe('painting', () => {
  it('goes over a seam, and is seen on both islands while the pen is down', async () => {
    const { page } = demo;
    await openLayers();
    await page.getByRole('button', { name: 'Paint', exact: true }).click();
    await page.getByRole('button', { name: 'Stop painting' }).waitFor();
    await page.getByRole('button', { name: /^#e7e1d2/ }).click();
    await page.getByRole('textbox', { name: 'Base colour as #rrggbb' }).fill(PAINT);
    await page.keyboard.press('Enter');
    await page.getByRole('button', { name: /^#ff00ff/ }).waitFor();
    expect(await barriers(page)).toEqual([]);
    // From the bell down onto the deck, which is an island of its own.
    const { x, y, width, height } = (await model().boundingBox())!;
    const place = (share: number): [number, number] => [
      x + width * (0.42 + share * 0.08),
      y + height * (0.42 + share * 0.13),
    ];
    await page.mouse.move(...place(0));
    await page.mouse.down();
    for (let i = 1; i <= 20; i++) await page.mouse.move(...place(i / 20));
    await expect.poll(async () => pieces(await painted(await mapPicture()))).toBeGreaterThan(1);
    expect(await strokes()).toBe(0);
    await page.mouse.up();
    await expect.poll(strokes).toBe(1);
    await previewed();
    // One piece on the model, though several on the layout.
    await expect.poll(async () => count((await painted(await modelPicture())).on)).toBeGreaterThan(300);
    const onMap = await painted(await mapPicture());
    expect(pieces(onMap)).toBeGreaterThan(1);
  });

  it('is taken back and done again by strokes, also after the page was loaded again', async () => {
    const { page } = demo;
    await openLayers();
    const before = await strokes();
    await page.getByRole('button', { name: 'Paint', exact: true }).click();
    const { x, y, width, height } = (await model().boundingBox())!;
    for (const share of [0.62, 0.7]) {
      await page.mouse.move(x + width * 0.45, y + height * share);
      await page.mouse.down();
      await page.mouse.move(x + width * 0.55, y + height * share, { steps: 8 });
      await page.mouse.up();
      await page.waitForTimeout(300);
    }
    await expect.poll(strokes).toBe(before + 2);
    await page.reload();
    await previewed();
    await page.keyboard.press('Control+z');
    await expect.poll(strokes).toBe(before + 1);
    await page.keyboard.press('Control+z');
    await expect.poll(strokes).toBe(before);
    await page.keyboard.press('Control+Shift+z');
    await expect.poll(strokes).toBe(before + 1);
    await page.keyboard.press('Control+z');
    await expect.poll(strokes).toBe(before);
  });

  it('lies where it was after the layout has changed', async () => {
    const { page } = demo;
    await openLayers();
    await expect.poll(async () => count((await painted(await modelPicture())).on)).toBeGreaterThan(300);
    const before = await painted(await modelPicture());
    const onMap = await painted(await mapPicture());
    const { assets } = await demo.project();
    const mesh = assets.find(({ name }) => name === 'Bell light')!;
    // Everything turned by a quarter about the middle of the tile.
    const islands = Array.from({ length: 6 }, (_, i) => i);
    await demo.call(
      ENDPOINTS.changeMesh,
      { id: mesh.id },
      {
        from: mesh.contentHash,
        change: { what: 'move-islands', uvSet: 0, moves: [{ islands, matrix: [0, 1, -1, 0, 1, 0] }] },
      },
    );
    await page.reload();
    await previewed();
    await expect.poll(async () => count((await painted(await modelPicture())).on)).toBeGreaterThan(300);
    const after = await painted(await modelPicture());
    const both = after.on.reduce((sum, value, i) => sum + (value && before.on[i] ? 1 : 0), 0);
    expect(both / Math.max(count(before.on), count(after.on))).toBeGreaterThan(0.8);
    const moved = await painted(await mapPicture());
    const same = moved.on.reduce((sum, value, i) => sum + (value && onMap.on[i] ? 1 : 0), 0);
    expect(same / count(onMap.on)).toBeLessThan(0.5);
  });
});

describe('a coating', () => {
  it('is kept with what it is made of, and laid on another receiver', async () => {
    const { page } = demo;
    await openLayers();
    await page.getByRole('button', { name: 'Keep as coating' }).click();
    await page.getByText(/is kept in the library of coatings/).waitFor();
    const { imageSets } = await demo.project();
    const bollard = await stackOf('Bollard');
    await demo.go(`layers/${imageSets.find(({ id }) => id === bollard.imageSetId)!.id}`);
    await previewed();
    await page.getByRole('button', { name: 'Add a layer' }).click();
    // What may be added is shown on the bollard itself.
    await page.locator('.offers canvas').first().waitFor({ timeout: 30_000 });
    expect(await barriers(page)).toEqual([]);
    await page.locator('.kept').getByRole('button', { name: 'Painted', exact: true }).click();
    await expect
      .poll(async () => [...everyLayer((await stackOf('Bollard')).settings.layers)].map(({ name }) => name))
      .toEqual(['Ground', 'Painted']);
    await previewed();
    expect(strokesOf((await stackOf('Bollard')).settings.layers)).toHaveLength(1);
  });
});
