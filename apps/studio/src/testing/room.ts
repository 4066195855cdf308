import { mount, type VueWrapper } from '@vue/test-utils';
import { createPinia, setActivePinia } from 'pinia';
import PrimeVue from 'primevue/config';
import ConfirmationService from 'primevue/confirmationservice';
import ToastService from 'primevue/toastservice';
import { vi } from 'vitest';
import type { Component, DefineComponent } from 'vue';
import { createMemoryHistory, createRouter, type Router } from 'vue-router';
import { ENDPOINTS, type Endpoint, type Project } from '@zographos/contracts';
import { router as studioRouter } from '../router.ts';
import { bringInKey } from '../stores/bringIn.ts';
import { useProject } from '../stores/project.ts';
import { tooltip } from '../theme/tooltip.ts';
import { fullProject } from './fullProject.ts';

/** A call that was made, with the endpoint of the contract that it was. */
export interface Call {
  name: keyof typeof ENDPOINTS;
  params: Record<string, string>;
  body: unknown;
}

type Answers = Partial<Record<keyof typeof ENDPOINTS, unknown>>;

/**
 * A server that knows the contract: each call must be one of its endpoints with a body that it takes. It answers with
 * the project, or with what is given for an endpoint: a value, or a function of the body; an Error as an answer is a
 * refusal.
 */
export function contractServer(project: Project, answers: Answers = {}): Call[] {
  const calls: Call[] = [];
  vi.stubGlobal('fetch', (path: string, { method = 'GET', body }: { method?: string; body?: string } = {}) => {
    const found = Object.entries(ENDPOINTS).flatMap(([name, endpoint]: [string, Endpoint]) => {
      const names = [...endpoint.path.matchAll(/:(\w+)/g)].map(([, each]) => each!);
      const match = new RegExp(`^${endpoint.path.replace(/:\w+/g, '([^/]+)')}$`).exec(path.split('?')[0]!);
      if (!match || endpoint.method.toUpperCase() !== method) return [];
      return [
        {
          name: name as Call['name'],
          endpoint,
          params: Object.fromEntries(names.map((each, i) => [each, match[i + 1]!])),
        },
      ];
    });
    // A path without parameters is meant before one whose parameter it would fill.
    const [asked] = found.sort((a, b) => Object.keys(a.params).length - Object.keys(b.params).length);
    if (!asked) return Promise.resolve(new Response('', { status: 404 }));
    const given: unknown = body === undefined ? undefined : JSON.parse(body);
    asked.endpoint.body.parse(given);
    calls.push({ name: asked.name, params: asked.params, body: given });
    const known = asked.name in answers ? answers[asked.name] : project;
    const answer: unknown = typeof known === 'function' ? (known as (body: unknown) => unknown)(given) : known;
    if (answer instanceof Error) {
      return Promise.resolve(Response.json({ code: 'input/bad-settings', message: answer.message }, { status: 400 }));
    }
    return Promise.resolve(answer === undefined ? new Response(null, { status: 204 }) : Response.json(answer));
  });
  return calls;
}

/** What is drawn by the graphics card or computed in a worker is not tried here. */
const DRAWN = [
  ...['ModelView', 'MapView', 'LayoutView', 'FlatModel', 'TileView', 'FrameView', 'BarsChart'],
  ...['LayersModel', 'LayersMap', 'StratumStrip'],
];

class SilentWorker {
  onmessage: ((event: MessageEvent) => void) | null = null;
  postMessage(): void {}
  terminate(): void {}
  addEventListener(): void {}
  removeEventListener(): void {}
}

let opened: VueWrapper | null = null;

export interface Room {
  room: VueWrapper;
  router: Router;
  calls: Call[];
  bringIn: ReturnType<typeof vi.fn>;
  store: ReturnType<typeof useProject>;
  /** All that is written, also in what lies over the page. */
  text: () => string;
  /** The first button, link or other part whose words are these. */
  part: (words: string | RegExp, selector?: string) => HTMLElement;
}

interface RoomOptions {
  /** The open project; null for none. */
  project?: Project | null;
  query?: Record<string, string>;
  answers?: Answers;
  /** Components that stand for others. */
  stubs?: Record<string, boolean | Component>;
}

/** Opens a room as the studio does, on a project that a contract server holds. */
export async function openRoom(
  component: Component,
  props: Record<string, unknown> = {},
  { project = fullProject(), query = {}, answers = {}, stubs = {} }: RoomOptions = {},
): Promise<Room> {
  opened?.unmount();
  localStorage.clear();
  document.body.innerHTML = '';
  vi.stubGlobal('Worker', SilentWorker);
  const pinia = createPinia();
  setActivePinia(pinia);
  const calls = contractServer(project ?? fullProject(), answers);
  const store = useProject();
  store.project = project;
  const places = studioRouter.getRoutes().filter(({ name }) => name);
  const router = createRouter({
    history: createMemoryHistory(),
    routes: [
      ...places.map(({ name, path }) => ({ name: name!, path, component: { template: '<i />' } })),
      { path: '/test', component: { template: '<i />' } },
    ],
  });
  await router.push({ path: '/test', query });
  const bringIn = vi.fn(() => Promise.resolve());
  const room = mount(component as DefineComponent, {
    props,
    global: {
      plugins: [pinia, router, PrimeVue, ConfirmationService, ToastService],
      directives: { tooltip },
      provide: { [bringInKey as symbol]: bringIn },
      stubs: { ...Object.fromEntries(DRAWN.map((name) => [name, true])), teleport: false, ...stubs },
    },
    attachTo: document.body,
  });
  opened = room;
  await settle();
  const text = (): string => document.body.textContent.replace(/\s+/g, ' ');
  const part = (words: string | RegExp, selector = 'button, a, [role="option"], label'): HTMLElement => {
    const all = [...document.body.querySelectorAll<HTMLElement>(selector)];
    const found = all.find((element) => {
      const said = element.getAttribute('aria-label') ?? element.textContent.replace(/\s+/g, ' ').trim();
      return typeof words === 'string' ? said === words : words.test(said);
    });
    if (!found)
      throw new Error(
        `There is no “${String(words)}” among: ${all.map((each) => each.textContent.trim()).join(' | ')}`,
      );
    return found;
  };
  return { room, router, calls, bringIn, store, text, part };
}

/** Waits until all that was asked for is there. */
export async function settle(): Promise<void> {
  for (let i = 0; i < 6; i++) await new Promise((resolve) => setTimeout(resolve, 0));
}

/** Clicks, and waits until all that follows is there. */
export async function click(element: HTMLElement): Promise<void> {
  element.dispatchEvent(new MouseEvent('click', { bubbles: true }));
  await settle();
}

/** Types into an input as a person does, and leaves it. */
export async function type(element: Element, value: string): Promise<void> {
  (element as HTMLInputElement).value = value;
  for (const name of ['input', 'change', 'blur']) element.dispatchEvent(new Event(name, { bubbles: true }));
  await settle();
}

/** Presses a key. */
export async function press(target: EventTarget, key: string, more: KeyboardEventInit = {}): Promise<void> {
  target.dispatchEvent(new KeyboardEvent('keydown', { key, bubbles: true, cancelable: true, ...more }));
  await settle();
}

/** What a component of the library tells, as if somebody had done it. */
export function tell(component: { vm: unknown }, event: string, value?: unknown): void {
  (component.vm as { $emit: (event: string, value: unknown) => void }).$emit(event, value);
}
