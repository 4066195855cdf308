// @vitest-environment happy-dom
import { createPinia, setActivePinia } from 'pinia';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { computed, ref } from 'vue';
import { strokesOf, type Layer } from '@zographos/core/layers';
import { useNotices } from '../../../stores/notices.ts';
import { made } from '../adding/newLayers.ts';
import { usePainting } from './usePainting.ts';

const HASH = 'a'.repeat(64);
const painted = made({ id: 'p', name: 'p', content: 'painted', channels: ['basecolor'] });
const added = made({ id: 'x', name: 'From another window', content: 'plain', values: { roughness: 0.5 } });

beforeEach(() => {
  setActivePinia(createPinia());
  vi.stubGlobal('fetch', () => Promise.resolve(Response.json({ hash: HASH })));
});
afterEach(() => vi.unstubAllGlobals());

function painting(keep: (next: Layer[]) => void) {
  const layers = ref<Layer[]>([painted]);
  const own = usePainting({
    projectId: () => '00000000-0000-4000-8000-000000000001',
    layers: computed(() => layers.value),
    chosen: computed(() => layers.value.find(({ id }) => id === 'p')),
    extent: computed(() => 600),
    view: () => null,
    show: (next) => (layers.value = next),
    keep: (next) => {
      keep(next);
      return Promise.resolve();
    },
  });
  return { layers, own };
}

async function stroke(own: ReturnType<typeof usePainting>): Promise<void> {
  own.begin(1);
  for (let i = 0; i < 4; i++) own.goOn({ place: [i, 0, 0], normal: [0, 0, 1], pressure: 1 });
  await own.end();
}

describe('a stroke', () => {
  it('is laid on what another window has made meanwhile, and nothing is lost', async () => {
    const asked: string[][] = [];
    const { layers, own } = painting((next) => {
      asked.push(strokesOf(next));
      // The first change is refused, and the stack is read anew as the other window has left it.
      layers.value = asked.length === 1 ? [painted, added] : next;
    });
    await stroke(own);
    expect(asked).toEqual([[HASH], [HASH]]);
    expect(layers.value.map(({ id }) => id)).toEqual(['p', 'x']);
    expect(strokesOf(layers.value)).toEqual([HASH]);
  });

  it('whose layer is gone is not laid anywhere else', async () => {
    let asked = 0;
    const { layers, own } = painting(() => {
      asked++;
      layers.value = [added];
    });
    await stroke(own);
    expect([asked, layers.value]).toEqual([1, [added]]);
  });

  it('that the server could not keep is taken away again, and told', async () => {
    vi.stubGlobal('fetch', () => Promise.reject(new Error('away')));
    const { layers, own } = painting(() => expect.unreachable());
    await stroke(own);
    expect(strokesOf(layers.value)).toEqual([]);
    expect(useNotices().notices).toHaveLength(1);
  });
});
