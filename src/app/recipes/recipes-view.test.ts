import 'fake-indexeddb/auto';
import { createPinia, setActivePinia } from 'pinia';
import { beforeEach, describe, expect, it } from 'vitest';
import { eventually } from '../../../testing/eventually';
import { button, mounted } from '../../../testing/mounted';
import { emptyBase, openJob } from '../../../testing/open-job';
import { useJob } from '../stores/job';
import { useRecipes } from '../stores/recipes';
import { useShelf } from '../stores/shelf';
import RecipesView from './RecipesView.vue';

beforeEach(async () => {
  setActivePinia(createPinia());
  await emptyBase();
});

const view = async () => {
  useShelf().watchJobs();
  return (await mounted(RecipesView, { path: '/recipes' })).wrapper;
};

describe('recipes, where there is none yet', () => {
  it('says what one is; a job without a step is none that could be kept', async () => {
    const record = await openJob('demo-turn-of-the-tide', 'lantern-rail');
    expect(record.plans[0]!.now.steps).toEqual([]);
    const wrapper = await view();
    await eventually(() => expect(useShelf().jobs).toHaveLength(1));
    expect(wrapper.text()).toContain('A recipe is the plan of a job');
    expect(wrapper.text()).not.toContain('Jobs that have a plan');
  });

  it('keeps the plan of a job by one click, as the job itself would', async () => {
    const step = { key: 'a', step: 'transpose', params: { semitones: 12 }, scope: {}, on: true };
    await openJob('demo-turn-of-the-tide', 'lantern-rail', [step]);
    const job = useJob();
    const wrapper = await view();
    await eventually(() => expect(wrapper.text()).toContain('Jobs that have a plan'));
    const row = wrapper.find('section section li');
    expect(row.text()).toContain('Turn of the tide');
    expect(row.text()).toMatch(/Lantern rail,\s+\d+ steps?/);
    const keep = button(wrapper, 'Keep the plan of Turn of the tide');
    // A double click keeps it once.
    await Promise.all([keep.trigger('click'), keep.trigger('click')]);
    await eventually(() => expect(useRecipes().rows).toHaveLength(1));
    const { recipe } = useRecipes().rows[0]!;
    expect(recipe.target).toMatchObject({ id: 'lantern-rail' });
    expect(recipe.plan.steps).toEqual(job.plan!.now.steps);
    expect(recipe.sources!.map((s) => s.name)).toEqual(['turn-of-the-tide.mid']);
    // What else has a plan stays at hand beside what is kept.
    await eventually(() => expect(wrapper.text()).not.toContain('Jobs that have a plan'));
    expect(wrapper.text()).toContain('Choose a recipe');
    // Another state of the plan is another recipe.
    job.addSteps('Up again', [{ ...step }]);
    await eventually(() => expect(wrapper.text()).toContain('Jobs that have a plan'));
    expect(useRecipes().rows).toHaveLength(1);
  });
});
