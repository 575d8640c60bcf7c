import { mount } from '@vue/test-utils';
import { describe, expect, it, onTestFinished } from 'vitest';
import { doubtsOf } from '../../../../core/formats/own/doubts';
import {
  FormatSchema,
  OwnFileSchema,
  ValueSchema,
  type Container,
  type OwnFile,
  type Value,
} from '../../../../core/formats/own/schema';
import FormatFile from './FormatFile.vue';
import { newContainer, newFile } from './new-container';
import { EVENT_ORDERS, ORDERS } from '../../../../core/outputs/example/candidates';
import { ROW_ORDERS } from './row-choices';
import { choiceOf, detailsOf, VALUE_CHOICES, withDetail } from './value-choices';

const KINDS = ['table', 'lines', 'json', 'xml', 'binary'] as const;
const fileOf = (container: Container): OwnFile => ({ path: 'a.own', container });

/** A page that holds what it was given last, as the editor does. */
function held(file: OwnFile) {
  const wrapper = mount(FormatFile, {
    props: { file, onSet: (next: OwnFile) => void wrapper.setProps({ file: next }) },
  });
  onTestFinished(() => wrapper.unmount());
  const now = () => wrapper.props('file') as OwnFile;
  const named = (name: string) => wrapper.find(`[aria-label="${name}"]`);
  const say = async (name: string, value: string) => {
    const field = named(name);
    (field.element as HTMLInputElement).value = value;
    await field.trigger('change');
  };
  const press = async (words: string, nth = 0) =>
    wrapper
      .findAll('button')
      .filter((b) => b.text() === words)
      [nth]!.trigger('click');
  return { wrapper, now, named, say, press };
}

describe('a file of one’s own in sentences', () => {
  it.each(KINDS)('%s: what it begins with is a description without doubts', (kind) => {
    const files = [{ ...newFile(), container: newContainer(kind) }];
    const format = FormatSchema.parse({ formatVersion: 1, id: 'a', name: 'A', files });
    expect(doubtsOf(format)).toEqual([]);
  });

  it.each(KINDS)('%s: whatever is pressed and chosen, it stays a description', async (kind) => {
    const { wrapper, now } = held(fileOf(newContainer(kind)));
    const total = wrapper.findAll('button').length;
    for (let i = 0; i < total; i++) {
      const buttons = wrapper.findAll('button');
      await buttons[i % buttons.length]!.trigger('click');
      const result = OwnFileSchema.safeParse(now());
      expect(result.success, JSON.stringify([i, result.error?.issues])).toBe(true);
    }
    for (let i = 0; i < wrapper.findAll('select').length && i < 40; i++) {
      const select = wrapper.findAll('select')[i]!;
      const options = select.findAll('option');
      await select.setValue((options.at(-1)!.element as HTMLOptionElement).value);
      expect(OwnFileSchema.safeParse(now()).success, select.attributes('aria-label')).toBe(true);
    }
    // Nothing on the page is a key of the schema.
    expect(wrapper.text()).not.toMatch(/perQuarter|perBar|\beach:|vlq|lf\b|undefined|\[object/);
    for (const field of wrapper.findAll('input, select, button'))
      expect(field.attributes('aria-label') ?? field.text()).not.toBe('');
  });

  it('a list in a cell, its rows and their order are said without writing any of it as text', async () => {
    const { now, say, press, named } = held({ ...newFile(), container: newContainer('table') });
    const value = 'What column 1 holds';
    await say(value, 'list');
    await say(`${value}: parted by`, '+');
    await named(`${value}: for each: which of them`).trigger('click');
    await say(`${value}: for each: in order of`, 'start key-down');
    await say(`${value}: for each: of the keys`, '60, 64 67');
    await press('Add words');
    const { container } = now();
    expect(container.kind === 'table' && container.columns[0]!.value).toEqual({
      is: 'list',
      each: { of: 'notes', order: ['start', 'key-down'], keys: [60, 64, 67] },
      between: '+',
      parts: [{ is: 'key', as: 'name' }, ' '],
    });
    // What it cannot be is put back.
    await say(`${value}: for each: of the keys`, '60 900');
    expect((named(`${value}: for each: of the keys`).element as HTMLInputElement).value).toBe(
      '60 64 67',
    );
  });

  it('a word for long notes and one for others is said without writing any of it as text', async () => {
    const { now, say, press, named } = held({ ...newFile(), container: newContainer('table') });
    const value = 'What column 1 holds';
    await say(value, 'case');
    await say(`${value}, case 1`, 'length-ms');
    await say(`${value}, case 1: lasting ms or more`, '180');
    await say(`${value}, else: value`, '0');
    await press('Add a case');
    await named(`${value}, case 2: for which notes`).trigger('click');
    await say(`${value}, case 2: of velocity or harder`, '100');
    await say(`${value}, case 2: lasting ms or more`, '');
    await say(`${value}, case 2: of the parts (parted by ;)`, 'Low bells; High bells');
    const cases = () => {
      const { container } = now();
      return container.kind === 'table' ? container.columns[0]!.value : null;
    };
    const length: Value = { is: 'time', of: 'length', unit: 'ms' };
    expect(cases()).toEqual({
      is: 'case',
      cases: [
        { when: { longerMs: 180 }, value: length },
        { when: { harder: 100, parts: ['Low bells', 'High bells'] }, value: length },
      ],
      otherwise: { is: 'constant', value: '0' },
    });
    // A case that holds always is none: what was said last is put back.
    await say(`${value}, case 1: lasting ms or more`, '');
    const field = named(`${value}, case 1: lasting ms or more`).element as HTMLInputElement;
    expect(field.value).toBe('180');
    await press('away');
    expect(cases()).toMatchObject({ cases: [{ when: { harder: 100 } }] });
  });

  it('a line for some rows alone is said beside it, and taken back', async () => {
    const { now, say, named } = held({ ...newFile(), container: newContainer('lines') });
    const line = () => {
      const { container } = now();
      return container.kind === 'lines' ? container.lines[0]!.lines![0] : null;
    };
    const { parts } = line()!;
    await named('Line 1. 1: for which notes').trigger('click');
    await say('Line 1. 1: of velocity or harder', '96');
    expect(line()).toEqual({ parts, when: { harder: 96 } });
    await say('Line 1. 1: of velocity or harder', '0');
    expect(line()).toEqual({ parts, when: { harder: 96 } });
    await say('Line 1. 1: of velocity or harder', '');
    expect(line()).toEqual({ parts });
    const skip = named('Line 1. 1: left out where its number is 0');
    await skip.trigger('change');
    expect(line()).toEqual({ parts, skip: 'zero' });
    await skip.trigger('change');
    expect(line()).toEqual({ parts });
  });

  it('so are a key of an object and an attribute', async () => {
    const object = held({ ...newFile(), container: newContainer('json') });
    await object.named('JSON, notes, each, note: for which notes').trigger('click');
    await object.say('JSON, notes, each, note: lasting ms or more', '250');
    expect(JSON.stringify(object.now())).toContain('"when":{"longerMs":250}');
    const element = held({ ...newFile(), container: newContainer('xml') });
    const [first] = element.wrapper.findAll('[aria-label$=": for which notes"]');
    await first!.trigger('click');
    const name = first!.attributes('aria-label')!.replace(': for which notes', '');
    await element.say(`${name}: lasting ms or more`, '250');
    expect(JSON.stringify(element.now())).toContain('"when":{"longerMs":250}');
  });

  it('the first line of XML says what is written there; what it cannot say is put back', async () => {
    const { now, say, named } = held({ ...newFile(), container: newContainer('xml') });
    const first = 'What its first line says';
    await say(first, 'version="1.0"');
    expect(now().container).toMatchObject({ declaration: ' version="1.0"' });
    await say(first, 'version=<1>');
    expect((named(first).element as HTMLInputElement).value).toBe('version="1.0"');
    await say(first, '');
    expect(now().container).toMatchObject({ declaration: false });
    await say('Empty elements are ended by', 'spaced');
    expect(now().container).toMatchObject({ closing: 'spaced' });
  });

  it('keys are said as numbers; a velocity of one of them, digits from 0 to f', async () => {
    const { now, say, named } = held({ ...newFile(), container: newContainer('table') });
    const value = 'What column 1 holds';
    const own = () => {
      const { container } = now();
      return container.kind === 'table' ? container.columns[0]!.value : null;
    };
    await say(value, 'bits');
    await say(`${value}: the keys`, '36 38, 42');
    await named(`${value}: what more can be said`).trigger('click');
    await say(`${value}: written`, 'capital');
    expect(own()).toEqual({ is: 'key', as: 'bits', keys: [36, 38, 42], hex: 'capital' });
    await say(`${value}: the keys`, '36 900');
    expect(own()).toMatchObject({ keys: [36, 38, 42] });
    await say(value, 'velocity-of');
    await say(`${value}: the key`, '40');
    expect(own()).toEqual({ is: 'velocity', key: 40 });
  });

  it('a step grid is said without writing any of it as text', async () => {
    const { now, named, say, press } = held(newFile());
    await say('Name of the file', '{title}.steps');
    await say('Line 1: for each', 'cells');
    await say('Line 1: for each: how many to a quarter', '8');
    await press('Add a list in the line');
    for (const left of [2, 1, 0]) await press('away', left);
    await say('Line 1. 1, 1: for each', 'lanes');
    await say('Line 1. 1, 1: parted by', '');
    await say('Line 1. 1, 1, 1', 'struck');
    await named('Line 1. 1, 1, 1: what more can be said').trigger('click');
    await say('Line 1. 1, 1, 1: sounding on', '=');
    expect(now()).toEqual({
      path: '{title}.steps',
      container: {
        kind: 'lines',
        lines: [
          {
            each: { of: 'cells', perQuarter: 8, empty: true },
            lines: [
              {
                parts: [
                  {
                    each: { of: 'lanes' },
                    between: '',
                    parts: [{ value: { is: 'struck', yes: 'x', no: '.', held: '=' } }],
                  },
                ],
              },
            ],
          },
        ],
      },
    });
  });

  it('what a detail cannot be is put back', async () => {
    const { now, named, say } = held(fileOf(newContainer('table')));
    await say('What column 1 holds', 'start-ticks');
    await say('What column 1 holds: at PPQ', '0');
    expect((named('What column 1 holds: at PPQ').element as HTMLInputElement).value).toBe('480');
    await say('What column 1 holds: at PPQ', '192');
    expect((now().container as { columns: unknown[] }).columns[0]).toEqual({
      name: 'start',
      value: { is: 'time', of: 'start', unit: 'ticks', ppq: 192 },
    });
  });

  it('every order that an example can show has its words', () => {
    const words = new Map(ROW_ORDERS);
    for (const order of [...ORDERS, ...EVENT_ORDERS])
      expect(words.get((order ?? []).join(' ')), order?.join(' ')).toBeTruthy();
    expect(new Set(words.values()).size).toBe(ROW_ORDERS.length);
  });

  it('a value keeps its words whatever its details say', () => {
    for (const { id, value } of VALUE_CHOICES)
      for (const detail of detailsOf(value)) {
        if (detail.kind === 'rows' || detail.kind === 'choice') continue;
        const numbers = detail.key === 'first' ? ['0', '1'] : ['1', '2'];
        const all = { number: numbers, keys: ['36', '36, 40 41'], text: ['q'] };
        for (const said of all[detail.kind]) {
          const next = ValueSchema.safeParse(withDetail(value, detail, said));
          expect(next.success, `${id} ${detail.key}`).toBe(true);
          expect(choiceOf(next.data!), `${id} ${detail.key}`).toBe(id);
        }
      }
  });
});
