import { mount } from '@vue/test-utils';
import { describe, expect, it, onTestFinished } from 'vitest';
import { builtInTargets, findTarget } from '../../../core/target/index';
import { SUBJECTS, type Data } from '../../../core/target/sentences';
import KeyboardDrawing from '../KeyboardDrawing.vue';
import { readField, readKey, readKeys, readNamedKeys } from './fields';
import KeyPainter from './KeyPainter.vue';
import { ValueSchema } from '../../../core/formats/own/schema';
import { sayValue } from './format/format-words';
import SentencePage from './SentencePage.vue';
import { choiceOf, VALUE_CHOICES } from './format/value-choices';

const loft = JSON.parse(JSON.stringify(findTarget('bell-loft'))) as Data;
function page(data: Data = loft, learnt: string[] = [], problems: [string, string][] = []) {
  const wrapper = mount(SentencePage, {
    props: { data, learnt: new Set(learnt), problems: new Map(problems) },
  });
  onTestFinished(() => wrapper.unmount());
  return wrapper;
}
const last = (wrapper: ReturnType<typeof page>) =>
  wrapper.emitted('change')!.at(-1) as [Record<string, unknown>, string];
const lineOf = (wrapper: ReturnType<typeof page>, words: string) =>
  wrapper.findAll('.line').find((l) => l.text().includes(words))!;
const offer = (wrapper: ReturnType<typeof page>, words: string) =>
  wrapper.findAll('.unsaid button').find((b) => b.text() === words)!;

describe('a target as a page of sentences', () => {
  it('a number is typed, stepped with the arrows, and gives the whole target anew', async () => {
    const wrapper = page();
    const field = lineOf(wrapper, 'The same key comes again after').find('input');
    expect(field.element.value).toBe('180');
    await field.setValue('200');
    await field.trigger('change');
    expect(last(wrapper)).toMatchObject([
      { spacing: { sameKeyApartMs: 200 } },
      'spacing.sameKeyApartMs',
    ]);
    await field.trigger('keydown', { key: 'ArrowUp' });
    expect(last(wrapper)[0]['spacing']).toEqual({ sameKeyApartMs: 185 });
    expect(loft['spacing']).toEqual({ sameKeyApartMs: 180 });
  });

  it('a wrong value says why under its sentence and changes nothing', async () => {
    const wrapper = page();
    const line = lineOf(wrapper, 'Tempos lie between');
    const [lowest] = line.findAll('input');
    for (const [typed, why] of [
      ['soon', '“soon” is no number'],
      ['0', 'between 1 and 1000'],
    ] as const) {
      await lowest!.setValue(typed);
      await lowest!.trigger('change');
      expect(line.find('[role="alert"]').text()).toContain(why);
    }
    // Each alone is a tempo; together they contradict one another.
    await lowest!.setValue('300');
    await lowest!.trigger('change');
    expect(line.find('[role="alert"]').text()).toContain('above the highest');
    expect(wrapper.emitted('change')).toBeUndefined();
    await lowest!.trigger('keydown', { key: 'Escape' });
    expect(lowest!.element.value).toBe('30');
  });

  it('what is not said stands faint; one click says it, one takes it back', async () => {
    const wrapper = page();
    await offer(wrapper, 'the shortest note').trigger('click');
    expect(last(wrapper)[0]['length']).toEqual({ shortestMs: 40 });
    const said = page({ ...loft, length: { shortestMs: 40 } });
    await lineOf(said, 'A note lasts').find('.back').trigger('click');
    expect('length' in last(said)[0]).toBe(false);
  });

  it('what rests on another sentence says that one too', async () => {
    const bare = { ...loft, polyphony: undefined };
    const wrapper = page(bare);
    await offer(wrapper, 'how far a hand reaches').trigger('click');
    expect(last(wrapper)[0]['polyphony']).toEqual({
      together: 1,
      over: 'seat',
      spanSemitones: 12,
    });
  });

  it('how grave a breach is stands before the sentence', async () => {
    const wrapper = page();
    await lineOf(wrapper, 'The same key comes').find('.grave select').setValue('caution');
    expect(last(wrapper)[0]['spacing']).toEqual({ sameKeyApartMs: 180, severity: 'caution' });
  });

  it('seats are cards: one more, several at once, another kind, away', async () => {
    const wrapper = page();
    const seats = () => last(wrapper)[0]['seats'] as Record<string, unknown>[];
    const button = (words: string) =>
      wrapper.findAll('#say-seats button').find((b) => b.text() === words)!;
    await button('Add a seat').trigger('click');
    expect(seats()).toHaveLength(2);
    await button('add').trigger('click');
    expect(seats()).toHaveLength(7);
    expect(new Set(seats().map((s) => s['id'])).size).toBe(7);
    await wrapper.find('#say-seats .kind select').setValue('laneGroup');
    expect(seats()).toMatchObject([
      { kind: 'laneGroup', name: 'Bells', laneNotes: [60, 61, 62, 63] },
    ]);
    await button('take this seat away').trigger('click');
    expect(seats()).toEqual([]);
  });

  it('no key of the schema is a label, in any target that ships with it', () => {
    const keys = /\b[a-z]+[A-Z][A-Za-z]*\b/;
    for (const target of builtInTargets) {
      const text = page(target as unknown as Data)
        .html()
        .replace(/<[^>]*>/g, '\n');
      expect(keys.exec(text)?.[0], target.id).toBeUndefined();
    }
  });

  it('learnt numbers and problems stand at their sentences', () => {
    const wrapper = page(loft, ['notes.lowest'], [['tempo.lowestBpm', 'Above the highest.']]);
    expect(wrapper.findAll('.from-file')).toHaveLength(1);
    expect(lineOf(wrapper, 'Tempos lie between').text()).toContain('Above the highest.');
    expect(wrapper.findAll('.subject')).toHaveLength(SUBJECTS.length);
  });
});

describe('what is typed in a field', () => {
  it('keys by number, by name and in stretches', () => {
    expect(['60', 'C4', 'c#4', 'B♭3', 'A0', 'C-1', 'G9'].map(readKey)).toEqual([
      60, 60, 61, 58, 21, 0, 127,
    ]);
    expect(['128', 'H4', 'C', ''].map(readKey)).toEqual([null, null, null, null]);
    expect(readKeys('36–38, C4 62-63')).toEqual({ value: [36, 37, 38, 60, 62, 63] });
    expect(readKeys('')).toEqual({ wrong: 'At least one key is needed.' });
  });
  it('names from a spreadsheet, meters, programs as people count them', () => {
    expect(readNamedKeys('36\tBass drum\nD2 Snare drum')).toEqual({
      value: [
        { noteNumber: 36, name: 'Bass drum' },
        { noteNumber: 38, name: 'Snare drum' },
      ],
    });
    expect(readNamedKeys('Bass drum').wrong).toContain('Bass drum');
    expect(readField('meters', '4/4, 6/8', null).value).toEqual([
      { numerator: 4, denominator: 4 },
      { numerator: 6, denominator: 8 },
    ]);
    expect(readField('program', '1', null)).toEqual({ value: 0 });
    expect(readField('program', '129', null).wrong).toContain('128');
    expect(readField('numbers', '1–4, 10', null)).toEqual({ value: [1, 2, 3, 4, 10] });
  });
});

describe('a keyboard', () => {
  it('keys are given and taken by a stroke and by keys', async () => {
    const wrapper = mount(KeyPainter, { props: { chosen: [60, 62], label: 'Keys' } });
    await wrapper.trigger('keydown', { key: 'ArrowRight' });
    await wrapper.trigger('keydown', { key: ' ' });
    expect(wrapper.emitted('change')!.at(-1)).toEqual([[60, 61, 62]]);
    await wrapper.trigger('keydown', { key: 'ArrowLeft' });
    await wrapper.trigger('keydown', { key: 'Enter' });
    expect(wrapper.emitted('change')!.at(-1)).toEqual([[62]]);
    expect(wrapper.text()).toContain('C4 (60): there');
  });
  it('tells the keys that are there from those that are not', () => {
    const wrapper = mount(KeyboardDrawing, {
      props: { allowed: [60, 62, 64], label: 'Three keys', names: new Map([[60, 'Low bell']]) },
    });
    expect(wrapper.findAll('rect.there')).toHaveLength(3);
    expect(wrapper.findAll('rect.missing').length).toBeGreaterThan(8);
    expect(wrapper.text()).toContain('C4 (60), Low bell');
    expect(wrapper.text()).toContain('C♯4 (61): not there');
    expect(wrapper.attributes('aria-label')).toBe('Three keys');
  });
});

describe('a table of its own', () => {
  const withTable: Data = {
    ...loft,
    formats: [
      {
        formatVersion: 1,
        id: 'own',
        name: 'Own',
        files: [
          {
            path: '{file}.csv',
            container: {
              kind: 'table',
              rows: { of: 'notes' },
              columns: [
                { name: 'at', value: { is: 'time', of: 'start', unit: 'ms' } },
                { name: 'key', value: { is: 'key', as: 'number' } },
              ],
            },
          },
        ],
      },
    ],
  };
  const columns = (wrapper: ReturnType<typeof page>) =>
    (
      last(wrapper)[0]['formats'] as {
        files: { container: { columns: { name: string; value: object }[] } }[];
      }[]
    )[0]!.files[0]!.container.columns;
  it('columns are named, chosen by words, moved and taken away, without a line of JSON', async () => {
    const wrapper = page(withTable);
    const place = (name: string) => wrapper.find(`[aria-label="${name}"]`);
    await place('What column 1 holds').setValue('clock');
    expect(columns(wrapper)[0]!.value).toMatchObject({ is: 'joined' });
    await place('Name of column 2').setValue('lamp');
    expect(columns(wrapper)[1]!.name).toBe('lamp');
    await place('Column 1: one place behind').trigger('click');
    expect(columns(wrapper).map((c) => c.name)).toEqual(['key', 'at']);
    const add = wrapper.findAll('button').find((b) => b.text() === 'Add a column')!;
    await add.trigger('click');
    expect(columns(wrapper)).toHaveLength(3);
    await place('Column 1: take away').trigger('click');
    expect(columns(wrapper).map((c) => c.name)).toEqual(['key']);
  });
  it('every choice is a value that the schema takes, and finds its words again', () => {
    expect(new Set(VALUE_CHOICES.map((c) => c.id)).size).toBe(VALUE_CHOICES.length);
    for (const { id, words, value } of VALUE_CHOICES) {
      expect(ValueSchema.safeParse(value).success, words).toBe(true);
      expect(choiceOf(value)).toBe(id);
      expect(sayValue(value)).not.toMatch(/undefined|\[object/);
    }
  });
});
