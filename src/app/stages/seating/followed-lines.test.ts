import 'fake-indexeddb/auto';
import { NSelect } from 'naive-ui';
import { createPinia, setActivePinia } from 'pinia';
import { beforeEach, expect, it } from 'vitest';
import { bandSongs } from '../../../../demo/band-songs';
import { mounted } from '../../../../testing/mounted';
import { atRest, emptyBase, openSong } from '../../../../testing/open-job';
import MusicFigures from '../../parts/MusicFigures.vue';
import { useJob } from '../../stores/job';
import FollowedLines from './FollowedLines.vue';

beforeEach(async () => {
  setActivePinia(createPinia());
  await emptyBase();
});
const SONG = bandSongs().find((s) => s.name === 'a-full-orchestra-2.mid')!;

it('a line that was followed is chosen anew stretch by stretch, in the one step', async () => {
  const { bytes, name: file } = SONG;
  await openSong({ id: 'orchestra', title: 'Orchestra', file, bytes, targetId: 'lantern-rail' });
  const job = useJob();
  expect(job.shown!.music.roles.filter((r) => r.says === 'the tune')).not.toHaveLength(0);
  job.addSteps('follow', [{ step: 'follow', params: { line: 'tune' }, scope: {}, on: true }]);
  await atRest();
  const { wrapper } = await mounted(FollowedLines);
  const rows = () => wrapper.findAll('li').map((li) => li.find('.bars').text());
  expect(rows()[0]).toBe('Bars 1–8');
  expect(rows()).toHaveLength(wrapper.findAllComponents(NSelect).length);
  const first = wrapper.findAllComponents(NSelect)[0]!;
  const options = first.props('options') as { label: string; value: string }[];
  const notesIn = () =>
    job.shown!.delivered.parts.find((p) => p.name.endsWith(', tune'))!.columns.count;
  const before = notesIn();
  first.vm.$emit('update:value', options.find((o) => o.label === 'Harp')!.value);
  await atRest();
  const [step] = job.plan!.now.steps;
  expect(step!.params).toMatchObject({
    line: 'tune',
    takes: [{ fromBar: 1, bars: 8, part: { track: 'Harp' } }],
  });
  expect(job.plan!.now.steps).toHaveLength(1);
  // The harp plays eighths where the violins play a tune.
  expect(notesIn()).toBeGreaterThan(before);
  expect(wrapper.find('li').text()).toContain('chosen');
});

it('the four figures are told in words, and only those that there are', async () => {
  const figures = { tune: 0.984, bass: 1, beat: null, chords: 0.001 };
  const { wrapper } = await mounted(MusicFigures, { props: { figures } });
  expect(wrapper.findAll('li').map((li) => li.text().replace(/\s+/g, ' '))).toEqual([
    'tune98 %',
    'bass100 %',
    'chords1 %',
  ]);
});
