import AxeBuilder from '@axe-core/playwright';
import type { Page } from 'playwright-core';

/** What breaks WCAG 2.2 A and AA on the page as it is now. */
export async function barriers(page: Page): Promise<string[]> {
  // What is just opening is not yet visible, and so not yet the dialog that it is: first everything comes to rest.
  await page.evaluate(async () => {
    for (let frame = 0; frame < 2; frame++) await new Promise(requestAnimationFrame);
    const passing = document.getAnimations().filter((each) => each.effect?.getComputedTiming().endTime !== Infinity);
    await Promise.allSettled(passing.map(({ finished }) => finished));
  });
  const { violations } = await new AxeBuilder({ page })
    .withTags(['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa'])
    .analyze();
  return violations.flatMap(({ id, nodes }) => nodes.map(({ target }) => `${id}: ${target.join(' ')}`));
}
