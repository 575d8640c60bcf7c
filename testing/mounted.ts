import { flushPromises, mount, type VueWrapper } from '@vue/test-utils';
import { onTestFinished } from 'vitest';
import { markRaw, type Component } from 'vue';
import { createMemoryHistory, createRouter } from 'vue-router';

// Browsers have them; where nothing is shown there is always time.
globalThis.requestIdleCallback ??= ((run: () => void) => setTimeout(run, 0)) as never;
globalThis.cancelIdleCallback ??= clearTimeout as never;

const nothing = { template: '<div />' };

/** A part of the desk with the pinia that is active, at a stage of the open job, until the test ends. */
export async function mounted(
  component: Component,
  { props = {}, path = '/job/a/proof' }: { props?: object; path?: string } = {},
): Promise<{ wrapper: VueWrapper; path: () => string }> {
  const router = createRouter({
    history: createMemoryHistory(),
    routes: [
      { path: '/', component: nothing },
      { path: '/job/:id/:stage', name: 'job', component: nothing },
      { path: '/:rest(.*)', component: nothing },
    ],
  });
  await router.push(path);
  // What the desk hands down is no deep proxy, and crosses to the engine as it is.
  const raw = Object.fromEntries(
    Object.entries(props).map(([k, v]) => [
      k,
      v !== null && typeof v === 'object' ? markRaw(v as object) : v,
    ]),
  );
  const wrapper = mount(component, {
    props: raw,
    attachTo: document.body,
    global: { plugins: [router] },
  });
  onTestFinished(() => wrapper.unmount());
  await flushPromises();
  return { wrapper: wrapper as VueWrapper, path: () => router.currentRoute.value.fullPath };
}

/** The button with these words, or whose label begins with them. */
export function button(wrapper: VueWrapper, words: string) {
  const found = wrapper
    .findAll('button')
    .find((b) => b.text() === words || (b.attributes('aria-label') ?? '').startsWith(words));
  if (!found)
    throw new Error(
      `no button “${words}” among ${wrapper
        .findAll('button')
        .map((b) => b.text())
        .join(' | ')}`,
    );
  return found;
}
