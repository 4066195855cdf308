import { chromium } from 'playwright-core';
const browser = await chromium.launch({ executablePath: '/usr/bin/chromium', args: ['--no-sandbox','--use-angle=swiftshader','--enable-unsafe-swiftshader','--disable-background-networking','--disable-component-update','--disable-sync'] });
const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
page.on('console', m => { if (['error','warning'].includes(m.type())) console.log('console', m.type(), m.text()); });
page.on('pageerror', e => console.log('pageerror', e.message));
page.on('requestfailed', r => console.log('failed', r.url(), r.failure()?.errorText));
const base = process.argv[2] ?? 'http://127.0.0.1:4280';
const projects = await (await fetch(base + '/api/projects')).json();
const id = projects[0].id;
const p = await (await fetch(base + '/api/projects/' + id)).json();
for (const [name, fn] of Object.entries({
  projects: async () => page.goto(base + '/'),
  sheet: async () => page.goto(`${base}/projects/${id}`),
  intake: async () => page.goto(`${base}/projects/${id}/intake`),
  bake: async () => page.goto(`${base}/projects/${id}/bake/${p.tickets[0].id}`),
  map: async () => p.imageSets[0].maps[0].revisions.length && page.goto(`${base}/projects/${id}/maps/${p.imageSets[0].maps[0].id}`),
})) {
  if (process.argv[3] && !process.argv[3].split(',').includes(name)) continue;
  await fn();
  await page.waitForTimeout(name === 'bake' || name === 'intake' ? 3500 : 1500);
  await page.screenshot({ path: `/tmp/shots/${name}.png` });
}
await browser.close();
