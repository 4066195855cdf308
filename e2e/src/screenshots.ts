import { mkdirSync } from 'node:fs';
import path from 'node:path';
import { ROOT } from '../../tools/paths.mjs';
import { ENDPOINTS } from '@zographos/contracts';
import { Rig } from './rig.ts';

/** Takes a picture of each main view, from the demo data, for the README. */
const FOLDER = path.join(ROOT, 'docs/screenshots');
mkdirSync(FOLDER, { recursive: true });

const rig = await Rig.start();
const page = await rig.page();
page.setDefaultTimeout(180_000);

async function take(name: string): Promise<void> {
  await page.mouse.move(2, 790);
  await page.getByText(/^(Preparing|Loading) the .* …$/).waitFor({ state: 'detached' });
  // Time for tiles and the three-dimensional view to be drawn.
  await page.waitForTimeout(1500);
  await page.screenshot({ path: path.join(FOLDER, `${name}.png`) });
  process.stdout.write(`${name}.png\n`);
}

await page.getByRole('link', { name: 'Saltmarsh Quay' }).click();
await page.getByRole('button', { name: /^Update 93 maps/ }).click();
await page.locator('[data-state="fresh"]').nth(92).waitFor({ timeout: 900_000 });
await take('contact-sheet');

await page.getByRole('link', { name: 'Intake' }).click();
await page.getByRole('button', { name: /Bell dense/ }).click();
await take('intake');

await page.getByRole('link', { name: 'Bake', exact: true }).click();
await page.getByRole('link', { name: 'Bell buoy normal' }).click();
await page.getByRole('img', { name: /normal, 2048 px/i }).waitFor();
await take('bake');

await page.getByRole('link', { name: 'Open map' }).click();
await page.getByRole('img', { name: /normal, 2048 px/i }).waitFor();
await take('map');

await page.getByRole('link', { name: 'Bake', exact: true }).click();
await page.getByRole('link', { name: 'Quay kit' }).click();
await page.getByRole('button', { name: 'Show reach', exact: true }).click();
await page.getByRole('button', { name: 'Increase reach' }).click();
await page.getByRole('button', { name: 'matched by name' }).click();
await page.getByRole('cell', { name: 'Ring_high' }).waitFor();
await take('parts');
await page.keyboard.press('Escape');

await page.getByRole('link', { name: 'Bake', exact: true }).click();
await page.getByRole('link', { name: 'Bollard, two tiles' }).click();
await page.getByRole('group', { name: 'Tile on the bench' }).getByRole('button', { name: '1002' }).click();
await page.getByRole('button', { name: 'More settings' }).click();
await take('tiles');

await page.getByRole('link', { name: 'Layers', exact: true }).click();
await page.getByRole('combobox', { name: 'Size of the preview' }).click();
await page.getByRole('option', { name: '1024 px' }).click();
await page.getByText(/Base colour, 1024 px/).waitFor();
await page.getByRole('button', { name: /^Worn edges/ }).click();
await page.getByText(/Base colour, 1024 px/).waitFor();
await take('layers');
await page.getByRole('button', { name: 'Add a layer' }).click();
await page.locator('.offers canvas').nth(12).waitFor({ timeout: 60_000 });
await page.waitForTimeout(3000);
await take('coatings');
await page.keyboard.press('Escape');
await page.locator('.pick').first().click();
await page.getByRole('button', { name: 'Paint', exact: true }).click();
await page.getByRole('button', { name: 'Stop painting' }).waitFor();
const bell = (await page.locator('.views .view').first().boundingBox())!;
const stroke = async (points: [number, number][]): Promise<void> => {
  const places = points.map(([x, y]): [number, number] => [bell.x + bell.width * x, bell.y + bell.height * y]);
  await page.mouse.move(...places[0]!);
  await page.mouse.down();
  for (const place of places.slice(1)) await page.mouse.move(...place, { steps: 8 });
  await page.mouse.up();
  await page.waitForTimeout(1500);
};
// A tally mark for each year that it was out.
for (let i = 0; i < 4; i++) {
  await stroke([
    [0.38 + i * 0.07, 0.47],
    [0.375 + i * 0.075, 0.55],
  ]);
}
await stroke([
  [0.34, 0.55],
  [0.66, 0.48],
]);
await take('painting');
await page.keyboard.press('Control+z');

await page.getByRole('link', { name: 'Light', exact: true }).click();
await page.getByRole('link', { name: 'Bell buoy at evening' }).click();
await page.getByText('Bell light in its light', { exact: true }).waitFor();
await page.waitForTimeout(10_000);
await take('light');
await page.getByRole('link', { name: 'All light tickets' }).click();
await page.getByRole('link', { name: 'Bollard at noon' }).click();
await page.getByText('Bollard light in its light', { exact: true }).waitFor();
await page.getByRole('button', { name: 'Side by side' }).click();
await page.getByRole('button', { name: 'More settings' }).click();
await page.waitForTimeout(10_000);
await take('light-passes');

await page.getByRole('link', { name: 'Proof', exact: true }).click();
await page.getByRole('img', { name: /View 6/ }).waitFor();
await take('proof');

const projectId = /projects\/([^/]+)/.exec(page.url())![1]!;
const { assets } = ENDPOINTS.readProject.response.parse(
  await (await page.request.get(`${rig.address}/api/projects/${projectId}`)).json(),
);
const uvRoom = (query: string, ...names: string[]): string => {
  const ids = names.map((name) => assets.find((asset) => asset.name === name)!.id);
  return `${rig.address}/projects/${projectId}/uv/${ids.join()}?${query}`;
};
await page.goto(uvRoom('set=1', 'Net float'));
await page.getByText('Figures').waitFor();
await page.getByRole('button', { name: 'Density', exact: true }).click();
await take('uv');

await page.goto(uvRoom('job=merge', 'Cleat_low', 'Shackle_low', 'Ring_low'));
await page.getByRole('button', { name: 'Merge', exact: true }).click();
await page.getByRole('row', { name: /Draw calls/ }).waitFor();
await page.getByText('Nothing is running.').waitFor();
await take('merge');

await page.goto(`${rig.address}/projects/${projectId}/atlas`);
await page.getByRole('checkbox', { name: /Merged/ }).uncheck();
await page.getByRole('button', { name: 'Make atlas' }).click();
await page.getByRole('link', { name: 'Open atlas' }).waitFor();
await take('atlas');

const flatSets = page.getByRole('navigation', { name: 'Tiling materials' });
await page.goto(`${rig.address}/projects/${projectId}/flat`);
await flatSets.getByRole('link', { name: 'Harbour stone', exact: true }).click();
await page.getByText(/made in \d+ ms/).waitFor();
await page.getByRole('slider', { name: 'Divider between before and after' }).press('ArrowRight');
for (let i = 0; i < 6; i++)
  await page.getByRole('slider', { name: 'Divider between before and after' }).press('ArrowRight');
await take('flat');
await page.getByRole('link', { name: /2 Maps/ }).click();
await page.getByText('Likely: Light is high').waitFor();
await page.getByRole('button', { name: 'On a shape' }).click();
await page.waitForTimeout(3000);
await take('derive');
await page.getByRole('navigation', { name: 'Tiling materials' }).getByRole('link', { name: 'Deliver' }).click();
await page.getByRole('button', { name: 'Deliver now' }).click();
await page.getByRole('link', { name: 'Check as recipient' }).waitFor();
await take('deliver');
await page.getByRole('link', { name: 'Check as recipient' }).click();
await page.getByText('all match the manifest').waitFor();
await take('receive');
await rig.stop();
process.exit(0);
