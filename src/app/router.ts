import { createRouter, createWebHistory } from 'vue-router';

export const router = createRouter({
  history: createWebHistory(),
  routes: [
    { path: '/', name: 'jobs', component: () => import('./shelf/JobsView.vue') },
    { path: '/job/:id', redirect: (to) => `/job/${String(to.params['id'])}/proof` },
    { path: '/job/:id/:stage', name: 'job', component: () => import('./job/JobView.vue') },
    { path: '/targets', name: 'targets', component: () => import('./targets/TargetsView.vue') },
    {
      path: '/targets/new',
      name: 'target-new',
      component: () => import('./targets/new/NewTarget.vue'),
    },
    { path: '/targets/:id', name: 'target', component: () => import('./targets/TargetView.vue') },
    {
      path: '/targets/:id/edit',
      name: 'target-edit',
      component: () => import('./targets/TargetEditor.vue'),
    },
    { path: '/sets', name: 'sets', component: () => import('./sets/SetsView.vue') },
    { path: '/sets/:id', name: 'set', component: () => import('./sets/SetView.vue') },
    { path: '/recipes', name: 'recipes', component: () => import('./recipes/RecipesView.vue') },
    { path: '/fit', name: 'fit', component: () => import('./fit/FitView.vue') },
    { path: '/:rest(.*)*', redirect: '/' },
  ],
});
