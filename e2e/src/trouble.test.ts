import type { Page } from 'playwright-core';
import { afterAll, beforeAll, describe, expect, inject, it } from 'vitest';
import { Cluster } from '../../tools/postgres.mjs';
import { Rig } from './rig.ts';

let rig: Rig;
beforeAll(async () => {
  rig = await Rig.start({ ZOGRAPHOS_LEASE_SECONDS: '2' }, new Cluster(inject('demo')));
});
afterAll(() => rig.stop());

const TILE_OBJ = 'o Slate\nv 0 0 0\nv 1 0 0\nv 0 1 0\nvt 0 0\nvt 1 0\nvt 0 1\nf 1/1 2/2 3/3\n';

const openDemo = async (): Promise<Page> => (await rig.openDemo()).page;

async function openTicket(): Promise<Page> {
  const page = await openDemo();
  await page.getByRole('link', { name: 'Bake', exact: true }).click();
  await page.getByRole('link', { name: 'Bell buoy normal' }).click();
  await page.getByRole('region', { name: 'Ticket' }).waitFor();
  return page;
}

const slot = (page: Page, text: string) =>
  page.getByRole('region', { name: 'Ticket' }).getByRole('button', { name: text });

async function setSize(page: Page, from: number, to: number): Promise<void> {
  await slot(page, `${from} px`).click();
  await page
    .getByRole('group', { name: 'Square size' })
    .getByRole('button', { name: String(to), exact: true })
    .click();
}

describe('files', () => {
  it('come in by the picker and by dropping them; bad ones are named with the reason and the way out', async () => {
    const page = await rig.page();
    await page.getByLabel('Name of the new project').fill('Slip');
    await page.getByRole('button', { name: 'New project' }).click();
    await page.getByRole('link', { name: 'Intake' }).click();
    await page.getByLabel('Files to import').setInputFiles([
      { name: 'slate.obj', mimeType: 'text/plain', buffer: Buffer.from(TILE_OBJ) },
      { name: 'torn.glb', mimeType: 'model/gltf-binary', buffer: Buffer.from('glTF\x02\0\0\0') },
    ]);
    await page.getByRole('button', { name: /Slate/ }).waitFor();
    await page
      .getByRole('alert')
      .getByText(/torn\.glb.*(Export|again)/)
      .waitFor();

    const files = await page.evaluateHandle(() => {
      const transfer = new DataTransfer();
      transfer.items.add(new File(['o Rope\nv 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n'], 'rope.obj'));
      return transfer;
    });
    const target = page.locator('.drop');
    await target.dispatchEvent('dragover', { dataTransfer: files });
    await page.getByText('Drop meshes, images or folders of them to import them').waitFor();
    await target.dispatchEvent('drop', { dataTransfer: files });
    await page.getByRole('button', { name: /Rope/ }).waitFor();
    const details = page.getByRole('region', { name: 'Properties' });
    await details.getByText('rope.obj').waitFor();
    expect(await details.innerText()).toMatch(/UV sets\s+none[\s\S]*Needs UVs to be a receiver/);
    await page.context().close();
  });
});

describe('two windows on one ticket', () => {
  it('cannot overwrite each other: the later change is refused, and the window shows what is there', async () => {
    const [first, second] = [await openTicket(), await openTicket()];
    // The second window does not get to read what the first has done, as on a slow line.
    await second.route('**/api/projects/*', (route) => route.abort());
    await setSize(first, 2048, 1024);
    await slot(first, '1024 px').waitFor();
    await setSize(second, 2048, 4096);
    await second
      .getByRole('alert')
      .getByText(/another window/)
      .waitFor();
    await second.unroute('**/api/projects/*');
    await second.reload();
    await slot(second, '1024 px').waitFor();
    await setSize(second, 1024, 512);
    await slot(first, '512 px').waitFor();
    await Promise.all([first.context().close(), second.context().close()]);
  });
});

describe('hands that are faster than the server', () => {
  it('lose no pick in a list of meshes', async () => {
    const page = await openTicket();
    const ticketId = /bake\/([^/?]+)/.exec(page.url())![1]!;
    await slot(page, 'Bell dense').click();
    const picks = async (list: string): Promise<number> =>
      page.getByRole('listbox', { name: list }).evaluate(async (box) => {
        const options = [
          ...box.querySelectorAll<HTMLElement>('[role=option][aria-selected=false]:not([aria-disabled=true])'),
        ];
        for (const option of options) {
          option.click();
          await new Promise((resolve) => setTimeout(resolve, 0));
        }
        return options.length;
      });
    const picked = await picks('Sources');
    expect(picked).toBeGreaterThan(8);
    const projectId = /projects\/([^/]+)/.exec(page.url())![1]!;
    await expect
      .poll(
        async () => {
          const project = (await (await fetch(`${rig.address}/api/projects/${projectId}`)).json()) as {
            tickets: { id: string; inputs: { sources: string[] } }[];
          };
          return project.tickets.find(({ id }) => id === ticketId)!.inputs.sources.length;
        },
        { timeout: 30_000 },
      )
      .toBe(picked + 1);
    for (let i = 0; i < picked; i++) await page.keyboard.press('Control+z');
    await slot(page, 'Bell dense').waitFor();
    await page.context().close();
  });
});

describe('a run', () => {
  it('goes on when the browser is closed, and its map is there on coming back', async () => {
    const page = await openTicket();
    await page.getByRole('button', { name: 'Bake now' }).click();
    await page.getByRole('button', { name: /Baking/ }).waitFor();
    await page.context().close();
    const again = await openTicket();
    await again.locator('.mark-fresh').first().waitFor({ timeout: 100_000 });
    await again.getByRole('img', { name: /normal, 512 px/i }).waitFor();
    await again.context().close();
  });

  it('can be cancelled', async () => {
    const page = await openTicket();
    await setSize(page, 512, 4096);
    await slot(page, '4096 px').waitFor();
    await page.keyboard.press('Escape');
    await page.getByRole('button', { name: 'Bake now' }).click();
    await page.getByRole('region', { name: 'Ticket' }).getByRole('button', { name: 'Cancel' }).click();
    await page.getByRole('button', { name: 'Bake now' }).waitFor();
    await page.getByRole('button', { name: 'history' }).click();
    await page.getByText('cancelled').waitFor();
    await page.context().close();
  });

  it('that fails says why, in its ticket and in the job lane', async () => {
    const page = await rig.page();
    await page.getByLabel('Name of the new project').fill('Far shore');
    await page.getByRole('button', { name: 'New project' }).click();
    await page.getByRole('link', { name: 'Intake' }).click();
    const far = 'o Rope\nv 0 0 50\nv 1 0 50\nv 0 1 50\nv 1 1 50\nf 1 2 3\nf 2 4 3\n';
    await page.getByLabel('Files to import').setInputFiles([
      { name: 'slate.obj', mimeType: 'text/plain', buffer: Buffer.from(TILE_OBJ) },
      { name: 'rope.obj', mimeType: 'text/plain', buffer: Buffer.from(far) },
    ]);
    await page.getByRole('button', { name: /Rope/ }).waitFor();
    await page.getByRole('link', { name: 'Bake', exact: true }).click();
    await page.getByRole('button', { name: 'New ticket' }).click();
    await page.getByRole('button', { name: 'Bake now' }).click();
    await page
      .getByRole('alert')
      .getByText(/“Rope”.*“Slate”/)
      .waitFor();
    await page
      .getByRole('contentinfo')
      .getByText(/Slate normal: /)
      .waitFor();
    await page.context().close();
  });
});

describe('the database going away', () => {
  it('is said, and the studio goes on by itself when it is back', async () => {
    const page = await openDemo();
    rig.cluster.stop();
    await page.getByRole('alert').getByText('The database does not answer').waitFor();
    await rig.cluster.startAgain();
    await page.getByRole('alert').waitFor({ state: 'detached' });
    await page.getByRole('link', { name: 'Bake', exact: true }).click();
    await page.getByRole('link', { name: 'Bell buoy normal' }).click();
    await page.getByRole('region', { name: 'Ticket' }).waitFor();
    await page.context().close();
  });
});
