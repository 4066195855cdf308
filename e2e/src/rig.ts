import { fork, type ChildProcess } from 'node:child_process';
import { mkdtempSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { chromium, type Browser, type Page } from 'playwright-core';
import { buildNode, buildStudio, nodeProgram } from '../../tools/build.mjs';
import { Cluster } from '../../tools/postgres.mjs';
import { endProcess, serverEnvironment, startServer } from './serverProcess.ts';

const CHROMIUM = '/usr/bin/chromium';
const CHROMIUM_FLAGS = [
  '--no-sandbox',
  '--use-angle=swiftshader',
  '--enable-unsafe-swiftshader',
  '--disable-background-networking',
  '--disable-component-update',
  '--disable-sync',
];

/** The real thing on data of its own: PostgreSQL, the built server and worker, and a browser in front of them. */
export class Rig {
  readonly cluster: Cluster;
  readonly address: string;
  readonly browser: Browser;
  private readonly environment: NodeJS.ProcessEnv;
  private readonly children = new Set<ChildProcess>();

  private constructor(cluster: Cluster, environment: NodeJS.ProcessEnv, browser: Browser, address: string) {
    this.cluster = cluster;
    this.environment = environment;
    this.browser = browser;
    this.address = address;
  }

  /**
   * @param settings variables of the environment besides the usual ones
   * @param prepared a stopped cluster to go on from; the server makes the demo in an empty one by default
   */
  static async start(settings: NodeJS.ProcessEnv = {}, prepared?: Cluster): Promise<Rig> {
    await buildNode();
    await buildStudio();
    const folder = mkdtempSync(path.join(os.tmpdir(), 'zographos-e2e-'));
    const cluster = prepared ? prepared.copyTo(folder) : new Cluster(folder);
    const environment = { ...serverEnvironment(await cluster.start()), ...settings };
    const { server, address } = await startServer(environment);
    const browser = await chromium.launch({ executablePath: CHROMIUM, args: CHROMIUM_FLAGS });
    const rig = new Rig(cluster, environment, browser, address);
    rig.children.add(server);
    await rig.startWorker();
    return rig;
  }

  async startWorker(): Promise<ChildProcess> {
    const worker = fork(nodeProgram('worker'), { env: this.environment });
    this.children.add(worker);
    await new Promise((resolve) => worker.once('message', resolve));
    return worker;
  }

  /** A window of its own, 1280 × 800. */
  async page(route = '/'): Promise<Page> {
    const context = await this.browser.newContext({ viewport: { width: 1280, height: 800 }, acceptDownloads: true });
    const page = await context.newPage();
    await page.goto(this.address + route);
    return page;
  }

  /** A window on the contact sheet of the demo. */
  async openDemo(): Promise<{ page: Page; projectId: string }> {
    const page = await this.page();
    await page.getByRole('link', { name: 'Saltmarsh Quay' }).click();
    await page.getByRole('gridcell').first().waitFor();
    const projectId = /projects\/([^/]+)/.exec(page.url())![1]!;
    return { page, projectId };
  }

  async stop(): Promise<void> {
    await this.browser.close();
    for (const child of this.children) await endProcess(child);
    this.cluster.remove();
  }
}
