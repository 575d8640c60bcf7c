import { mount } from '@vue/test-utils';
import { describe, expect, it, onTestFinished } from 'vitest';
import { defineComponent } from 'vue';
import { createMemoryHistory, createRouter } from 'vue-router';
import { useLeadOn } from './use-lead-on';

const nextTask = () => new Promise<void>((done) => setTimeout(done));
const page = { template: '<p />' };

/** Somebody on the targets, and work that was begun there; the jobs' page takes its time to load. */
async function working() {
  let loaded = () => {};
  const loading = new Promise<typeof page>((done) => (loaded = () => done(page)));
  const router = createRouter({
    history: createMemoryHistory(),
    routes: [
      { path: '/', component: () => loading },
      { path: '/targets', component: page },
      { path: '/targets/:id', component: page },
    ],
  });
  await router.push('/targets');
  let leadOn!: ReturnType<typeof useLeadOn>;
  const setup = () => void (leadOn = useLeadOn());
  const host = mount(defineComponent({ setup, render: () => null }), {
    global: { plugins: [router] },
  });
  onTestFinished(() => host.unmount());
  return { router, leadOn, loaded, at: () => router.currentRoute.value.fullPath };
}

describe('what leads on to what was made', () => {
  it('shows it to who waited for it', async () => {
    const { leadOn, at, router } = await working();
    const lead = leadOn();
    await router.replace('/targets?search=heron');
    await lead('/targets/heron');
    expect(at()).toBe('/targets/heron');
  });
  it('leaves who went elsewhere where they are, whether its page is there yet or not', async () => {
    const { leadOn, loaded, at, router } = await working();
    const lead = leadOn();
    const going = router.push('/');
    await nextTask();
    await lead('/targets/heron');
    loaded();
    await going;
    expect(at()).toBe('/');
    await lead('/targets/heron');
    expect(at()).toBe('/');
    await leadOn()('/targets/heron');
    expect(at()).toBe('/targets/heron');
  });
});
