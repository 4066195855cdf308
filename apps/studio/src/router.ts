import { createRouter, createWebHistory, type RouteRecordRaw } from 'vue-router';

/** The rooms of a project in the order of the work. A room without a view is not built yet and not shown. */
export const ROOMS: { name: string; title: string; path: string; view?: () => Promise<unknown> }[] = [
  { name: 'sheet', title: 'Contact sheet', path: '', view: () => import('./rooms/ContactSheet.vue') },
  { name: 'intake', title: 'Intake', path: 'intake', view: () => import('./rooms/IntakeRoom.vue') },
  { name: 'uv', title: 'UV', path: 'uv/:meshIds?', view: () => import('./rooms/UvRoom.vue') },
  { name: 'bake', title: 'Bake', path: 'bake/:ticketId?', view: () => import('./rooms/BakeRoom.vue') },
  { name: 'flat', title: 'Flat', path: 'flat/:setId?', view: () => import('./rooms/FlatRoom.vue') },
  { name: 'layers', title: 'Layers', path: 'layers' },
  { name: 'proof', title: 'Proof', path: 'proof/:ticketId?', view: () => import('./rooms/ProofRoom.vue') },
  { name: 'deliver', title: 'Deliver', path: 'deliver', view: () => import('./rooms/DeliverRoom.vue') },
];

const rooms = ROOMS.map(({ name, path, view }): RouteRecordRaw => {
  if (!view) return { path, redirect: { name: 'sheet' } };
  return { name, path, component: view, props: true };
});

export const router = createRouter({
  history: createWebHistory(),
  routes: [
    { name: 'projects', path: '/', component: () => import('./rooms/ProjectsRoom.vue') },
    {
      path: '/projects/:projectId',
      component: () => import('./rooms/ProjectFrame.vue'),
      props: true,
      children: [
        ...rooms,
        { name: 'place', path: 'place', component: () => import('./rooms/PlaceRoom.vue'), props: true },
        { name: 'map', path: 'maps/:mapId', component: () => import('./rooms/MapRoom.vue'), props: true },
      ],
    },
    { name: 'receive', path: '/receive', component: () => import('./rooms/ReceiveRoom.vue') },
    { path: '/:anything(.*)*', redirect: { name: 'projects' } },
  ],
});
