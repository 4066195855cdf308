import type { Page } from 'playwright-core';
import { afterAll, afterEach, beforeAll, beforeEach, expect, inject } from 'vitest';
import { ENDPOINTS, pathTo, type Endpoint, type Project, type Ticket } from '@zographos/contracts';
import type { z } from 'zod';
import { Cluster } from '../../tools/postgres.mjs';
import { Rig } from './rig.ts';

/** What Chromium notes of an answer that refuses a request; tests look for what the page says of it. */
const REFUSED = /the server responded with a status of 4\d\d/;

/**
 * The demo project for the tests of a file. Each test gets a window of its own on the contact sheet, so that one that
 * fails leaves nothing behind on the page of the next; it fails as well when the browser tells of a fault. What a test
 * needs to be made before, it asks for with `make`.
 */
export class Demo {
  rig!: Rig;
  page!: Page;
  projectId!: string;

  /** @param prepare what is changed before the first test */
  constructor(prepare?: (demo: Demo) => Promise<void>) {
    const faults: string[] = [];
    beforeAll(async () => {
      this.rig = await Rig.start({}, new Cluster(inject('demo')));
      const { page, projectId } = await this.rig.openDemo();
      this.page = page;
      this.projectId = projectId;
      await prepare?.(this);
      await page.context().close();
    });
    beforeEach(async () => {
      faults.length = 0;
      this.page = await this.rig.page(`/projects/${this.projectId}`);
      this.page.on('pageerror', (error) => faults.push(error.message));
      this.page.on('console', (message) => {
        if (message.type() === 'error' && !REFUSED.test(message.text())) faults.push(message.text());
      });
      await this.cell().waitFor();
    });
    afterEach(async () => {
      await this.page.context().close();
      expect(faults).toEqual([]);
    });
    afterAll(() => this.rig.stop());
  }

  /** A cell of the contact sheet, that of the bell's baked normals by default. */
  cell(name = /^Bell light, normal,/) {
    return this.page.getByRole('gridcell', { name });
  }

  /** A word of the sentence of a ticket that can be changed. */
  slot(text: string) {
    return this.page.getByRole('region', { name: 'Ticket' }).getByRole('button', { name: text });
  }

  button(name: string) {
    return this.page.getByRole('button', { name, exact: true });
  }

  /** Opens a page of the project by its address. */
  async go(route: string): Promise<void> {
    await this.page.goto(`${this.rig.address}/projects/${this.projectId}/${route}`);
  }

  /** Opens a ticket in the bake room, as an artist does. */
  async openTicket(name: string): Promise<void> {
    await this.page.getByRole('link', { name: 'Bake', exact: true }).click();
    await this.page.getByRole('link', { name }).click();
    await this.page.getByRole('region', { name: 'Ticket' }).waitFor();
  }

  project(): Promise<Project> {
    return this.call(ENDPOINTS.readProject, { id: this.projectId });
  }

  async ticket(name: string): Promise<Ticket> {
    return (await this.project()).tickets.find((ticket) => ticket.name === name)!;
  }

  /** The ids of assets, separated by commas as in addresses. */
  async ids(...names: string[]): Promise<string> {
    const { assets } = await this.project();
    return names.map((name) => assets.find((asset) => asset.name === name)!.id).join();
  }

  /** What is known of a mesh changes with its content. */
  async contentOf(name: string): Promise<string> {
    return (await this.project()).assets.find((asset) => asset.name === name)!.contentHash;
  }

  /** Makes what tickets stand for, unless it is there. */
  async make(...names: string[]): Promise<void> {
    for (const name of names) {
      const { id } = await this.ticket(name);
      const run = await this.call(ENDPOINTS.runTicket, { id });
      const state = async () => (await this.project()).runs.find((each) => each.id === run.id)?.state;
      await expect.poll(state, { timeout: 300_000 }).toBe('done');
    }
  }

  /** Makes a call of the contract. */
  async call<E extends Endpoint>(
    endpoint: E,
    params: Record<string, string>,
    body?: z.input<E['body']>,
  ): Promise<z.infer<E['response']>> {
    const response = await this.page.request.fetch(this.rig.address + pathTo(endpoint, params), {
      method: endpoint.method.toUpperCase(),
      ...(body === undefined ? {} : { data: body }),
    });
    if (!response.ok()) throw new Error(await response.text());
    return endpoint.response.parse(await response.json()) as z.infer<E['response']>;
  }
}
