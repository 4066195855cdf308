// @vitest-environment happy-dom
import { afterEach, describe, expect, it, vi } from 'vitest';
import { click, openRoom, press } from '../../testing/room.ts';
import CompareMethods from './CompareMethods.vue';
import type { Compared } from './editors/ways.ts';

afterEach(() => vi.unstubAllGlobals());

const nothing = { map: null, proof: null };
const compared = new Map<Compared, typeof nothing>([['cut', nothing]]);
const opened = () => openRoom(CompareMethods, { compared, repeats: 2, name: 'Stone', axes: 'both' });

describe('methods side by side', () => {
  it('opens one in large by its number or its name, and closes it again', async () => {
    const { room, part } = await opened();
    const shown = (): string[] => room.findAll('figcaption > :first-child').map((each) => each.text());
    expect(shown()).toHaveLength(5);
    await press(document.body, '2');
    expect(shown()).toEqual(['2 Minimum-error cut']);
    await press(document.body, '4');
    expect(shown()).toEqual(['4 Mirror']);
    await press(document.body, 'Escape');
    expect(shown()).toHaveLength(5);
    await click(part(/Mirror/, 'figcaption button'));
    expect(shown()).toEqual(['4 Mirror']);
    await click(part('All methods'));
    expect(shown()).toHaveLength(5);
  });

  it('says what is not possible, and what is being made', async () => {
    const { text } = await opened();
    expect(text().match(/not possible with these settings/g)).toHaveLength(1);
    expect(text().match(/working …/g)).toHaveLength(4);
  });
});
