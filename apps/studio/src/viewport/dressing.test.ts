import { describe, expect, it } from 'vitest';
import { Dressing } from './dressing.ts';

/** Something that is loaded when the test says so. */
function later<T>() {
  let finish!: (value: T) => void;
  let fail!: (error: Error) => void;
  const promise = new Promise<T>((resolve, reject) => ([finish, fail] = [resolve, reject]));
  return { load: () => promise, finish, fail };
}
const settle = (): Promise<void> => new Promise((resolve) => setTimeout(resolve, 0));

function dressing() {
  const shown: string[] = [];
  const worn = new Dressing<string, string>('bare', ({ geometry, maps }) => shown.push(`${geometry} with ${maps}`));
  return { worn, shown };
}

describe('a mesh and its maps', () => {
  it.each([
    ['mesh', 'maps'],
    ['maps', 'mesh'],
  ])('change together, whichever is there first: %s, then %s', async (first) => {
    const { worn, shown } = dressing();
    await worn.wear(
      '1',
      () => Promise.resolve('mesh 1'),
      () => Promise.resolve('maps 1'),
    );
    const [mesh, maps] = [later<string>(), later<string>()];
    const wearing = worn.wear('2', mesh.load, maps.load);
    if (first === 'mesh') mesh.finish('mesh 2');
    else maps.finish('maps 2');
    await settle();
    expect(shown).toEqual(['mesh 1 with bare', 'mesh 1 with maps 1']);
    mesh.finish('mesh 2');
    maps.finish('maps 2');
    await wearing;
    expect(shown.at(-1)).toBe('mesh 2 with maps 2');
    expect(shown).toHaveLength(3);
  });

  it('never go back to what was overtaken', async () => {
    const { worn, shown } = dressing();
    const [slow, fast] = [later<string>(), later<string>()];
    await worn.wear(
      '1',
      () => Promise.resolve('mesh 1'),
      () => Promise.resolve('maps 1'),
    );
    const overtaken = worn.wear('2', slow.load, () => Promise.resolve('maps 2'));
    const last = worn.wear('3', fast.load, () => Promise.resolve('maps 3'));
    fast.finish('mesh 3');
    await last;
    slow.finish('mesh 2');
    await overtaken;
    expect(shown.at(-1)).toBe('mesh 3 with maps 3');
    expect(shown).not.toContain('mesh 2 with maps 2');
  });

  it('stay as they are when the next cannot be had; the same mesh is not loaded again', async () => {
    const { worn, shown } = dressing();
    let loads = 0;
    const mesh = () => Promise.resolve(`mesh ${++loads}`);
    await worn.wear('1', mesh, () => Promise.resolve('maps 1'));
    await expect(worn.wear('1', mesh, () => Promise.reject(new Error('away')))).rejects.toThrow('away');
    await worn.wear('1', mesh, () => Promise.resolve('maps 2'));
    expect(shown.slice(1)).toEqual(['mesh 1 with maps 1', 'mesh 1 with maps 2']);
  });
});
