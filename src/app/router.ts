import { createRouter, createWebHistory } from 'vue-router';

export const router = createRouter({
  history: createWebHistory(),
  routes: [
    { path: '/', name: 'jobs', component: () => import('./shelf/JobsView.vue') },
    { path: '/job/:id', redirect: (to) => `/job/${String(to.params['id'])}/proof` },
    { path: '/job/:id/:stage', name: 'job', component: () => import('./job/JobView.vue') },
    { path: '/:rest(.*)*', redirect: '/' },
  ],
});
