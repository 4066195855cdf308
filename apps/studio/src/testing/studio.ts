import { mount } from '@vue/test-utils';
import { createPinia, setActivePinia } from 'pinia';
import PrimeVue from 'primevue/config';
import { vi } from 'vitest';
import type { DefineComponent } from 'vue';
import type { MeshAsset, Project } from '@zographos/contracts';
import { DEFAULT_BAKE } from '@zographos/operations';
import { useProject } from '../stores/project.ts';
import { tooltip } from '../theme/tooltip.ts';

export const PROJECT_ID = '00000000-0000-4000-8000-000000000001';
const idOf = (number: number): string => `00000000-0000-4000-8000-0000000000${number + 10}`;
const hashOf = (number: number): string => String(number).padStart(64, '0');

const mesh = (number: number, name: string, triangles: number): MeshAsset =>
  ({
    ...{ kind: 'mesh', id: idOf(number), name, version: 1, unit: 'mm', contentHash: hashOf(number), revision: 1 },
    ...{ fileName: `${name}.obj`, stackedIslands: {} },
    inspection: {
      ...{ triangles, vertices: triangles / 2, uvSets: ['UV 1', 'UV 2'], slots: ['default'], hasColors: false },
      ...{ bounds: { min: [-1, -1, -1], max: [1, 1, 1] }, uvTiles: [[1001, 1002], [1001]], findings: [] },
    },
  }) as unknown as MeshAsset;

/** A project with a receiver, a source, and one bake ticket. */
export function smallProject(settings: object = {}): Project {
  const ticket = {
    ...{ id: idOf(5), name: 'Float normal', version: 1, operation: 'bake', imageSetId: idOf(6), key: null },
    ...{ settings: { ...DEFAULT_BAKE, ...settings }, inputs: { receivers: [idOf(1)], sources: [idOf(2)] } },
    createdAt: '2026-01-01T00:00:00.000Z',
  };
  return {
    ...{ id: PROJECT_ID, name: 'Slip', version: 1, runs: [], profiles: [] },
    assets: [mesh(1, 'Float light', 1200), mesh(2, 'Float dense', 90_000)],
    imageSets: [],
    tickets: [ticket],
  } as unknown as Project;
}

/** What the server was asked for. */
export interface Asked {
  method: string;
  path: string;
  body: unknown;
}

/** A server that takes every change of a ticket and answers with the ticket as it is then. */
export function answeringServer(project: Project): Asked[] {
  const asked: Asked[] = [];
  let current = project;
  vi.stubGlobal('fetch', (path: string, { method = 'GET', body }: { method?: string; body?: string } = {}) => {
    const given = body ? (JSON.parse(body) as Record<string, unknown>) : undefined;
    asked.push({ method, path, body: given });
    if (method === 'PATCH') {
      const tickets = current.tickets.map((each) => ({ ...each, ...given, version: each.version + 1 }));
      current = { ...current, tickets };
      return Promise.resolve(Response.json(tickets[0]));
    }
    if (path.includes('/reach')) return Promise.resolve(Response.json({ out: 2, in: 1, found: 0.9, better: 'fitted' }));
    return Promise.resolve(Response.json(current));
  });
  return asked;
}

/** A store that has a project open. */
export function openProject(project: Project): ReturnType<typeof useProject> {
  setActivePinia(createPinia());
  const store = useProject();
  store.$patch({ project } as never);
  store.project = project;
  return store;
}

/** Mounts a component with everything that the studio gives its components. */
export const mountInStudio = (component: DefineComponent, props: Record<string, unknown>) =>
  mount(component, {
    props,
    global: { plugins: [PrimeVue], directives: { tooltip }, stubs: { RouterLink: true } },
    attachTo: document.body,
  });
