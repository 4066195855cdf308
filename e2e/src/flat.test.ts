import { readFileSync } from 'node:fs';
import { unzipSync } from 'fflate';
import sharp from 'sharp';
import { describe, expect, it } from 'vitest';
import { isFlatTicket } from '@zographos/contracts';
import { barriers } from './barriers.ts';
import { Demo } from './demo.ts';

const demo = new Demo();

/** The widths of all maps of the set that a ticket is of; undefined for those that were not made yet. */
const madeWidths = (name: string) => async () => {
  const { tickets, imageSets } = await demo.project();
  const own = tickets.find((ticket) => ticket.name === name);
  return imageSets.find(({ id }) => id === own?.imageSetId)?.maps.map(({ revisions }) => revisions[0]?.width);
};
const SIX = Array.from({ length: 6 }, () => 1024);

const previewed = () => demo.page.getByText(/made in \d+ ms/).waitFor();
/** The materials of the project, in the flat room. */
const materials = () => demo.page.getByRole('navigation', { name: 'Tiling materials' });

/** Opens the stone, as an artist does. */
async function openStone(): Promise<void> {
  await demo.page.getByRole('link', { name: 'Flat', exact: true }).click();
  await materials().getByRole('link', { name: 'Harbour stone', exact: true }).click();
  await previewed();
}

describe('flat material', () => {
  it('shows what a photograph becomes while settings move, and runs it at full size', async () => {
    const { page } = demo;
    await openStone();
    await page.getByRole('img', { name: 'Harbour stone base colour, 2 × 2' }).waitFor();
    expect(await barriers(page)).toEqual([]);
    await page.getByRole('button', { name: 'Compare methods' }).click();
    await page.getByRole('img', { name: 'Harbour stone, Synthesise from patches' }).waitFor({ timeout: 60_000 });
    expect(await barriers(page)).toEqual([]);
    await page.getByRole('button', { name: 'Horizontal', exact: true }).click();
    await page.getByRole('img', { name: 'Harbour stone, Mirror' }).waitFor({ timeout: 60_000 });
    await page.getByRole('button', { name: 'Use Mirror' }).click();
    // On one axis alone; the other stays cut.
    await page.getByRole('button', { name: 'mirrored', exact: true }).waitFor();
    await page.getByRole('button', { name: /^joined by minimum-error cut/ }).waitFor();
    await page.keyboard.press('Control+z');
    await page.getByRole('combobox', { name: 'Left and right: method' }).click();
    await page.getByRole('option', { name: 'Contrast-preserving blend' }).click();
    await page.getByRole('button', { name: /joined by contrast-preserving blend/ }).waitFor();
    await page.keyboard.press('Control+z');
    await page
      .getByRole('button', { name: /^joined by minimum-error cut/ })
      .nth(1)
      .waitFor();
    await page.getByRole('button', { name: 'Run now' }).click();
    await expect
      .poll(
        async () => {
          const { imageSets } = await demo.project();
          return imageSets.find(({ name }) => name === 'Harbour stone')!.maps.find(({ kind }) => kind === 'basecolor')!
            .revisions[0]?.width;
        },
        { timeout: 90_000 },
      )
      .toBe(1024);
  });

  it('frames a picture by its corners, with the keyboard too', async () => {
    const { page } = demo;
    await openStone();
    await page.getByRole('button', { name: 'whole', exact: true }).click();
    // The picture itself is there, and not an empty frame.
    const tones = await page.getByRole('img', { name: 'The picture, with its frame' }).evaluate((canvas) => {
      const { width, height } = canvas as HTMLCanvasElement;
      const { data } = (canvas as HTMLCanvasElement).getContext('2d')!.getImageData(0, 0, width, height);
      return new Set(data.filter((_, i) => i % 4 === 0)).size;
    });
    expect(tones).toBeGreaterThan(50);
    const corner = page.getByRole('button', { name: 'Corner, upper left' });
    await corner.focus();
    await corner.press('ArrowRight');
    await page.getByRole('button', { name: 'framed', exact: true }).waitFor();
    await expect
      .poll(async () => {
        const tile = (await demo.project()).tickets
          .filter(isFlatTicket)
          .find(({ name }) => name === 'Harbour stone, tile')!;
        return tile.operation === 'seamless' && tile.settings.corners[0];
      })
      .toEqual([0.005, 0]);
    await page.keyboard.press('Control+z');
    await page.getByRole('button', { name: 'whole', exact: true }).waitFor();
  });

  it('derives maps, picks a tone from the picture, and wears them on a shape', async () => {
    const { page } = demo;
    await demo.make('Harbour stone, tile');
    await openStone();
    await page.getByRole('link', { name: /2 Maps/ }).click();
    await page.getByText('Likely: Light is high').waitFor();
    await page.getByRole('group', { name: 'Further settings' }).getByRole('button', { name: 'Roughness' }).click();
    const view = page.getByRole('img', { name: 'Harbour stone roughness, 2 × 2' });
    await view.waitFor();
    await previewed();
    await page.getByRole('button', { name: 'Pick from the image' }).click();
    await page.getByText('Click a colour in the image.', { exact: true }).waitFor();
    const { width, height } = (await view.boundingBox())!;
    await view.click({ position: { x: width / 2 - 60, y: height / 2 - 60 } });
    await page.getByText('Click a colour in the image.', { exact: true }).waitFor({ state: 'detached' });
    await page.getByRole('button', { name: 'Show mask' }).first().click();
    await page.getByRole('button', { name: 'Show map' }).waitFor();
    await page.getByRole('button', { name: 'On a shape' }).click();
    await page.getByRole('img', { name: 'The material on a sphere' }).waitFor();
    await page.getByRole('combobox', { name: 'Shape' }).click();
    await page.getByRole('option', { name: 'Bollard light' }).click();
    await page.getByRole('img', { name: 'The material on Bollard light' }).waitFor();
    await page.getByText('Loading the mesh …').waitFor({ state: 'detached' });
    await page.getByRole('button', { name: 'Run now' }).click();
    await expect.poll(madeWidths('Harbour stone, maps'), { timeout: 100_000 }).toEqual(SIX);
  });
});

describe('a finish', () => {
  it('is kept, found, and brought in as a flat set that runs by itself', async () => {
    const { page } = demo;
    await demo.make('Harbour stone, tile', 'Harbour stone, maps');
    await openStone();
    await page.getByRole('button', { name: 'Save as finish' }).click();
    await page.getByRole('textbox', { name: 'Tags, separated by commas' }).fill('stone, harbour');
    await page.getByRole('button', { name: 'Save', exact: true }).click();
    await page.getByText('Saved.').waitFor();
    await page.keyboard.press('Escape');
    await page.getByRole('link', { name: 'New material' }).click();
    await page.getByRole('textbox', { name: 'Search finishes' }).fill('harb');
    await page.getByRole('button', { name: 'Add to project' }).click();
    await page.getByRole('button', { name: 'not joined' }).first().waitFor({ timeout: 60_000 });
    await expect.poll(madeWidths('Harbour stone, as kept'), { timeout: 100_000 }).toEqual(SIX);
    // As it was before, for what follows.
    await page.getByRole('button', { name: 'Delete material' }).click();
    await expect.poll(() => materials().getByRole('link', { name: 'Harbour stone' }).count()).toBe(1);
  });

  it('lays one photograph over another where it is higher, and repeats an SVG', async () => {
    const { page } = demo;
    await openStone();
    await materials().getByRole('link', { name: 'New material' }).click();
    await page
      .getByRole('button', { name: /^Harbour stone/ })
      .first()
      .click();
    await page
      .getByRole('button', { name: /^Cracked mud/ })
      .first()
      .click();
    await page.getByRole('button', { name: 'Combine into maps' }).click();
    await previewed();
    await page.getByRole('button', { name: 'Add a layer' }).click();
    await page.getByRole('combobox', { name: 'Image', exact: true }).click();
    await page.getByRole('option', { name: 'Cracked mud', exact: true }).click();
    await page.getByRole('button', { name: 'By height' }).click();
    await page.getByRole('combobox', { name: 'Height below' }).waitFor();
    expect(await barriers(page)).toEqual([]);
    await page.getByRole('button', { name: 'Run now' }).click();
    await expect.poll(madeWidths('Harbour stone, combined'), { timeout: 120_000 }).toEqual([1400]);

    await materials().getByRole('link', { name: 'New material' }).click();
    await page.getByRole('button', { name: 'New procedural texture' }).click();
    await previewed();
    await page.getByRole('combobox', { name: 'Pattern of the layer' }).click();
    await page.getByRole('option', { name: 'Image or SVG, repeated' }).click();
    await page.getByText('has no image to repeat').waitFor();
    await page
      .getByRole('complementary')
      .locator('input[type=file]')
      .setInputFiles({
        name: 'Ring.svg',
        mimeType: 'image/svg+xml',
        buffer: Buffer.from(
          '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 9 9"><circle cx="4.5" cy="4.5" r="3"/></svg>',
        ),
      });
    await page.getByText('has no image to repeat').waitFor({ state: 'detached' });
    await page.getByRole('button', { name: 'Run now' }).click();
    await expect.poll(madeWidths('Field'), { timeout: 120_000 }).toEqual([1024]);
  });
});

describe('a delivery', () => {
  it('says what will be in it, leaves as a ZIP, and is opened by a receiver that knows nothing else', async () => {
    const { page } = demo;
    await demo.make('Harbour stone, tile', 'Harbour stone, maps');
    await openStone();
    await materials().getByRole('link', { name: 'Deliver' }).click();
    await page.getByText('Harbour stone_occlusion-roughness-metallic.png').waitFor();
    await page.getByText(/has no metallic/).waitFor();
    expect(await barriers(page)).toEqual([]);
    const names = page.getByRole('textbox', { name: 'File names' });
    await names.fill('../{map}');
    await names.press('Tab');
    await page.getByText(/must stay in its folder/).waitFor();
    await page.getByRole('button', { name: 'Deliver now' }).click();
    const link = page.getByRole('link', { name: 'glTF 2.0.zip' });
    await link.waitFor({ timeout: 60_000 });
    const [download] = await Promise.all([page.waitForEvent('download'), link.click()]);
    const files = unzipSync(readFileSync(await download.path()));
    const packed = files['Harbour stone/Harbour stone_occlusion-roughness-metallic.png']!;
    expect(await sharp(packed).metadata()).toMatchObject({ width: 1024, channels: 3 });
    await page.getByRole('link', { name: 'Check as recipient' }).click();
    await page.getByText('3 files, all match the manifest').waitFor();
    await page.getByRole('button', { name: 'Roughness' }).click();
    expect(await barriers(page)).toEqual([]);
  });
});
