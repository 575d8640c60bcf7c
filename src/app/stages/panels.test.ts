import 'fake-indexeddb/auto';
import { builtInTargets } from '../../core/target/index';
import { flushPromises } from '@vue/test-utils';
import { NInputNumber, NSelect, NSwitch } from 'naive-ui';
import { createPinia, setActivePinia } from 'pinia';
import { beforeEach, describe, expect, it } from 'vitest';
import { eventually } from '../../../testing/eventually';
import { button, mounted } from '../../../testing/mounted';
import { atRest, droppedFile, emptyBase, openJob } from '../../../testing/open-job';
import { conductor, smf, Track } from '../../../testing/score-builder';
import DocketBar from '../job/DocketBar.vue';
import JobHead from '../job/JobHead.vue';
import NoticeBar from '../job/NoticeBar.vue';
import ProblemList from '../shelf/ProblemList.vue';
import { useHandover } from '../stores/handover';
import { useJob } from '../stores/job';
import { useLooking } from '../stores/looking';
import { useSettings } from '../stores/settings';
import { useShelf } from '../stores/shelf';
import ForWhat from './ForWhat.vue';
import HandoverPanel from './HandoverPanel.vue';
import PlanList from './PlanList.vue';
import StepEditor from './StepEditor.vue';

beforeEach(async () => {
  setActivePinia(createPinia());
  await emptyBase();
});
const steps = () => useJob().plan!.now.steps;
const rest = { step: 'rest-at-start', params: { bars: 3 }, scope: {}, on: true } as const;
const up = { step: 'transpose', params: { semitones: 12 }, scope: {}, on: true } as const;
const openTide = () => openJob('demo-turn-of-the-tide', 'lantern-rail');

describe('the plan', () => {
  async function plan() {
    await openTide();
    useJob().addSteps('rest', [rest]);
    await atRest();
    useJob().addSteps('up', [up]);
    await atRest();
    return (await mounted(PlanList)).wrapper;
  }

  it('has each step in words, with what it did', async () => {
    const wrapper = await plan();
    const said = wrapper.findAll('.step').map((s) => s.find('.says').text());
    expect(said).toHaveLength(steps().length);
    expect(said[0]).toMatch(/3 bars of rest/);
    expect(said[1]).toMatch(/up 12 semitones/i);
    for (const effect of wrapper.findAll('.small')) expect(effect.text()).not.toBe('');
  });

  it('a step is switched off, and does nothing then', async () => {
    const wrapper = await plan();
    wrapper.findAllComponents(NSwitch)[0]!.vm.$emit('update:value', false);
    await atRest();
    expect(steps().map((s) => s.on)).toEqual([false, true]);
    expect(useJob().shown!.commonShiftMs).toBe(0);
    expect(useJob().said).toMatch(/^Switched off: /);
    await flushPromises();
    expect(wrapper.find('.step').text()).toContain('switched off');
  });

  it('earlier and later; the first goes no earlier, the last no later', async () => {
    const wrapper = await plan();
    const first = wrapper.findAll('.step')[0]!;
    const earlier = first.findAll('button').find((b) => b.attributes('title') === 'Earlier')!;
    expect(earlier.attributes('disabled')).toBeDefined();
    await first
      .findAll('button')
      .find((b) => b.attributes('title') === 'Later')!
      .trigger('click');
    await atRest();
    expect(steps().map((s) => s.step)).toEqual(['transpose', 'rest-at-start']);
    useJob().undo();
    await atRest();
    expect(steps().map((s) => s.step)).toEqual(['rest-at-start', 'transpose']);
  });

  it('taken out it is gone, and comes back with undo', async () => {
    const wrapper = await plan();
    await button(wrapper, 'Take out: ').trigger('click');
    await atRest();
    expect(steps().map((s) => s.step)).toEqual(['transpose']);
    useJob().undo();
    await atRest();
    expect(steps()).toHaveLength(2);
  });

  it('one that is refused says why', async () => {
    await openTide();
    useJob().addSteps('fit', [{ step: 'fit-tempo', params: { anchors: [] }, scope: {}, on: true }]);
    await atRest();
    const { wrapper } = await mounted(PlanList);
    expect(wrapper.find('.refused').text()).toBe(
      'Did nothing. A tempo needs two anchors that count.',
    );
  });

  it('empty it says what will go out', async () => {
    await openTide();
    const { wrapper } = await mounted(PlanList);
    expect(wrapper.text()).toContain('what you hand over is the source as it came');
    expect(button(wrapper, 'Keep as a recipe').attributes('disabled')).toBeDefined();
  });
});

describe('a step of one’s own', () => {
  const editor = async (props: object = {}) => {
    const made = await mounted(StepEditor, { props });
    await eventually(() =>
      expect(made.wrapper.findComponent(NSelect).props('options')!.length).toBeGreaterThan(30),
    );
    return made.wrapper;
  };
  const choose = async (wrapper: Awaited<ReturnType<typeof editor>>, step: string) => {
    wrapper.findComponent(NSelect).vm.$emit('update:value', step);
    await flushPromises();
  };
  const number = (wrapper: Awaited<ReturnType<typeof editor>>, label: string) =>
    wrapper
      .findAllComponents(NInputNumber)
      .find((c) => c.props('inputProps')?.['aria-label']?.startsWith(label))!;

  it('is found by what it is called and by what it does', async () => {
    await openTide();
    const wrapper = await editor();
    const select = wrapper.findComponent(NSelect);
    const found = (typed: string) =>
      (select.props('options') as { label: string; value: string }[])
        .filter((o) => select.props('filter')!(typed, o as never))
        .map((o) => o.value);
    expect(found('transpose')).toContain('transpose');
    expect(found('REST bars')).toContain('rest-at-start');
    expect(found('no such thing')).toEqual([]);
  });

  it('goes into the plan; a value that is none says why and changes nothing', async () => {
    await openTide();
    const wrapper = await editor();
    await choose(wrapper, 'rest-at-start');
    await wrapper.find('form').trigger('submit');
    await flushPromises();
    if (steps().length === 0) {
      expect(wrapper.text()).toMatch(/missing|needed/i);
      number(wrapper, 'Bars').vm.$emit('update:value', 2);
      await flushPromises();
      await wrapper.find('form').trigger('submit');
      await flushPromises();
    }
    await atRest();
    expect(steps()).toMatchObject([{ step: 'rest-at-start' }]);
    expect(wrapper.emitted('done')).toHaveLength(1);
  });

  it('for a stretch of bars; bars the wrong way round are told', async () => {
    await openTide();
    const wrapper = await editor();
    await choose(wrapper, 'transpose');
    number(wrapper, 'Semitones').vm.$emit('update:value', 2);
    number(wrapper, 'From bar').vm.$emit('update:value', 9);
    number(wrapper, 'To bar').vm.$emit('update:value', 3);
    await flushPromises();
    await wrapper.find('form').trigger('submit');
    await flushPromises();
    expect(wrapper.text()).toContain('Bar 3 stands before bar 9');
    expect(steps()).toEqual([]);
    number(wrapper, 'To bar').vm.$emit('update:value', 12);
    await flushPromises();
    await wrapper.find('form').trigger('submit');
    await flushPromises();
    await atRest();
    // Bars of 3/4 at PPQ 480.
    expect(steps()).toMatchObject([
      { step: 'transpose', scope: { fromTick: 8 * 1440, toTick: 12 * 1440 } },
    ]);
  });

  it('offers only the scopes that the step honours', async () => {
    await openTide();
    const looking = useLooking();
    looking.walkParts(1);
    const wrapper = await editor();
    const reaches = () =>
      (wrapper.findAllComponents(NSelect).at(-1)!.props('options') as { value: string }[]).map(
        (o) => o.value,
      );
    await choose(wrapper, 'set-ppq');
    expect(reaches()).toEqual(['all']);
    await choose(wrapper, 'set-program');
    expect(reaches()).toEqual(['all', 'part']);
    await choose(wrapper, 'transpose');
    expect(reaches()).toEqual(['all', 'part', 'notes']);
  });

  it('one that is there is changed in its place', async () => {
    await openTide();
    useJob().addSteps('up', [up]);
    await atRest();
    const { wrapper } = await mounted(StepEditor, { props: { step: steps()[0]! } });
    await eventually(() => expect(number(wrapper as never, 'Semitones')).toBeDefined());
    expect(number(wrapper as never, 'Semitones').props('value')).toBe(12);
    number(wrapper as never, 'Semitones').vm.$emit('update:value', -12);
    await flushPromises();
    await wrapper.find('form').trigger('submit');
    await flushPromises();
    await atRest();
    expect(steps()).toMatchObject([{ step: 'transpose', params: { semitones: -12 } }]);
    expect(useJob().said).toMatch(/^Edited: .*down 12 semitones/i);
  });
});

describe('what is it for', () => {
  async function drop() {
    const bytes = smf(1, 480, [conductor(), new Track('T').note(16, 5760, 480, 30, 90)]);
    const [id] = await useShelf().dropFiles([droppedFile('cues.mid', bytes)]);
    await useJob().open(id!);
    await atRest();
  }
  it('every target says what it would take, the gladdest first; one click answers', async () => {
    await drop();
    const { wrapper } = await mounted(ForWhat);
    await eventually(() => expect(wrapper.findAll('.fit').length).toBe(builtInTargets.length));
    const rows = wrapper.findAll('.row').map((r) => r.text());
    const clean = rows.map((r) => /fits as it is/.test(r));
    expect(clean).toContain(true);
    expect(clean).toEqual([...clean].sort((a, b) => Number(b) - Number(a)));
    await wrapper
      .findAll('.row')
      .find((r) => r.text().startsWith('Lantern rail'))!
      .trigger('click');
    await atRest();
    expect([useJob().target!.id, useSettings().lastTarget]).toEqual([
      'lantern-rail',
      'lantern-rail',
    ]);
  });
  it('the last answer is offered first', async () => {
    useSettings().lastTarget = 'fog-pier';
    await drop();
    const { wrapper } = await mounted(ForWhat);
    await eventually(() => expect(wrapper.findAll('.fit').length).toBe(builtInTargets.length));
    const [first, second] = wrapper.findAll('.row').map((r) => r.text());
    expect(first).toMatch(/^Fog pier.*as last time/s);
    expect(second).not.toMatch(/as last time/);
  });
  it('until then docket, knots and handover say that nothing is judged', async () => {
    await drop();
    const docket = await mounted(DocketBar, { props: { stage: 'proof' }, path: '/job/a/proof' });
    expect(docket.wrapper.find('.tally').text()).toBe('not judged yet');
    await button(docket.wrapper, 'Say what it is for').trigger('click');
    await flushPromises();
    expect(docket.path()).toMatch(/\/intake$/);
    const head = await mounted(JobHead, { props: { stage: 'intake' } });
    expect(head.wrapper.text()).not.toMatch(/in order/);
    const panel = await mounted(HandoverPanel);
    expect(panel.wrapper.text()).toContain('No target is chosen yet.');
  });
});

describe('the docket and the head', () => {
  it('the facts that people check first', async () => {
    await openTide();
    const { wrapper } = await mounted(DocketBar, { props: { stage: 'proof' } });
    expect(wrapper.find('.facts-line').text().replace(/\s+/g, ' ')).toMatch(
      /SMF 1 · 480 PPQ ?3\/4 · 32 bars · 0:53\.196 ?3 tempos ?first note 1\.1/,
    );
    expect(wrapper.find('.source').text()).toBe('turn-of-the-tide.mid');
  });

  it('the button that matters: mends while some lose nothing, then the next stage', async () => {
    await openTide();
    const job = useJob();
    await eventually(() => expect(job.losslessCount).toBeGreaterThan(0));
    const { wrapper } = await mounted(DocketBar, { props: { stage: 'proof' } });
    await button(wrapper, `Mend what loses nothing (${job.losslessCount})`).trigger('click');
    await eventually(() => expect(steps().length).toBeGreaterThan(0));
    await atRest();
    await eventually(() => expect(job.losslessCount).toBe(0));
    await flushPromises();
    // Of what is left nothing is free: each press leads to a stop, until none is open.
    const stops = () => job.findings.filter((f) => f.severity === 'stop' && f.reason === null);
    expect(stops().length).toBeGreaterThan(1);
    const met: (string | null)[] = [];
    for (let i = 0; i <= stops().length; i++) {
      await button(wrapper, `To the next stop (${stops().length})`).trigger('click');
      await flushPromises();
      met.push(useLooking().finding);
    }
    expect(met).toEqual([...stops().map((f) => f.key), stops()[0]!.key]);
    for (const { key } of stops().slice(1)) job.leaveAsIs(key, 'They know it', '');
    await atRest();
    await button(wrapper, 'To the stop').trigger('click');
    await flushPromises();
    expect(useLooking().finding).toBe(stops()[0]!.key);
    job.leaveAsIs(stops()[0]!.key, 'They know it', '');
    await atRest();
    await flushPromises();
    expect(button(wrapper, 'On to the rehearsal').exists()).toBe(true);
    await wrapper.setProps({ stage: 'intake' });
    expect(button(wrapper, 'On to seating').exists()).toBe(true);
  });

  it('a title is changed with Enter, and not with Escape', async () => {
    await openTide();
    const { wrapper } = await mounted(JobHead, { props: { stage: 'proof' } });
    const begin = async () => {
      await wrapper.find('h1 button').trigger('click');
      return wrapper.find('input');
    };
    let input = await begin();
    await input.setValue('Turn of the moon');
    await input.trigger('keydown', { key: 'Escape' });
    await flushPromises();
    expect(useJob().record!.title).toBe('Turn of the tide');
    input = await begin();
    await input.setValue('Turn of the moon');
    await input.trigger('keydown', { key: 'Enter' });
    await atRest();
    expect(useJob().record!.title).toBe('Turn of the moon');
  });
});

describe('the handover', () => {
  it('says what is open, and afterwards what went out and what was left out', async () => {
    await openTide();
    const { wrapper } = await mounted(HandoverPanel);
    expect(wrapper.text()).toMatch(/\d stops are open\. You can hand\s+over anyway/);
    await useHandover().handOver({ anyway: true });
    await flushPromises();
    const text = wrapper.text();
    expect(text).toContain('Handover 1');
    expect(text).toContain('turn-of-the-tide.mid');
    expect(text).toMatch(/What was left out\s*Nothing\./);
    expect(text).toContain('At the far side');
    const parts = [useJob().shown!.delivered.parts.find((p) => p.name === 'Treble bells')!.ref];
    useJob().addSteps('out', [{ step: 'leave-out', params: {}, scope: { parts }, on: true }]);
    await atRest();
    await useHandover().handOver({ anyway: true });
    await flushPromises();
    expect(wrapper.text()).toContain('Handover 2');
    expect(wrapper.text()).toContain('Treble bells: 90 notes');
  });
});

describe('messages', () => {
  it('what went wrong with files stands until it is put away', async () => {
    const shelf = useShelf();
    shelf.problems.push('a.mid: torn.', 'b.mid: empty.');
    const { wrapper } = await mounted(ProblemList);
    expect(wrapper.find('[role="alert"]').text()).toContain('a.mid: torn.');
    await wrapper.findAll('button')[0]!.trigger('click');
    expect(wrapper.text()).toBe('b.mid: empty.');
    await wrapper.findAll('button')[0]!.trigger('click');
    expect(wrapper.find('[role="alert"]').exists()).toBe(false);
  });
  it('a target that was changed on the shelf is told, and taken over where that is wanted', async () => {
    await openTide();
    const job = useJob();
    await job.repin({ ...job.target!, version: '0.9.0' });
    await atRest();
    const { wrapper } = await mounted(NoticeBar);
    await eventually(() => expect(wrapper.text()).toContain('was changed on the shelf'));
    await button(wrapper, 'Use the updated target').trigger('click');
    await atRest();
    expect(job.plan!.version).toBe('1.0.0');
    expect(wrapper.text()).not.toContain('was changed on the shelf');
  });
});
