import { createRouter, createWebHistory, type RouteRecordRaw } from 'vue-router';

/** The rooms of a project in the order of the work. A room without a view is not built yet and not shown. */
export const ROOMS: { name: string; title: string; path: string; view?: () => Promise<unknown> }[] = [
  {
    name: 'contactSheet',
    title: 'Contact sheet',
    path: '',
    view: () => import('./rooms/contactSheet/ContactSheet.vue'),
  },
  { name: 'intake', title: 'Intake', path: 'intake', view: () => import('./rooms/intake/IntakeRoom.vue') },
  { name: 'uv', title: 'UV', path: 'uv/:meshIds?', view: () => import('./rooms/uv/UvRoom.vue') },
  { name: 'bake', title: 'Bake', path: 'bake/:ticketId?', view: () => import('./rooms/bake/BakeRoom.vue') },
  { name: 'flat', title: 'Flat', path: 'flat/:setId?', view: () => import('./rooms/flat/FlatRoom.vue') },
  { name: 'layers', title: 'Layers', path: 'layers/:setId?', view: () => import('./rooms/layers/LayersRoom.vue') },
  { name: 'light', title: 'Light', path: 'light/:ticketId?', view: () => import('./rooms/light/LightRoom.vue') },
  { name: 'proof', title: 'Proof', path: 'proof/:ticketId?', view: () => import('./rooms/proof/ProofRoom.vue') },
  { name: 'deliver', title: 'Deliver', path: 'deliver', view: () => import('./rooms/deliver/DeliverRoom.vue') },
];

const rooms = ROOMS.map(({ name, path, view }): RouteRecordRaw => {
  if (!view) return { path, redirect: { name: 'contactSheet' } };
  return { name, path, component: view, props: true };
});

export const router = createRouter({
  history: createWebHistory(),
  routes: [
    { name: 'projects', path: '/', component: () => import('./rooms/projects/ProjectsRoom.vue') },
    {
      path: '/projects/:projectId',
      component: () => import('./frame/ProjectFrame.vue'),
      props: true,
      children: [
        ...rooms,
        { name: 'atlas', path: 'atlas', component: () => import('./rooms/atlas/AtlasRoom.vue'), props: true },
        { name: 'map', path: 'maps/:mapId', component: () => import('./rooms/map/MapRoom.vue'), props: true },
      ],
    },
    { name: 'signIn', path: '/sign-in', component: () => import('./rooms/signIn/SignInRoom.vue') },
    { name: 'receive', path: '/receive', component: () => import('./rooms/receive/ReceiveRoom.vue') },
    { path: '/:anything(.*)*', redirect: { name: 'projects' } },
  ],
});
