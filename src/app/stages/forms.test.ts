import { describe, expect, it } from 'vitest';
import { engine } from '../../worker/engine';
import { fieldsOf, firstValues } from './step-forms';

const forms = engine.stepForms();

describe('forms made from the steps', () => {
  it('every step has one, with a kind for every parameter', () => {
    expect(forms.length).toBeGreaterThan(20);
    for (const form of forms)
      for (const field of fieldsOf(form)) {
        expect(field.label).toMatch(/^[A-Z]/);
        if (field.kind === 'one-of' || field.kind === 'some-of')
          expect(field.choices.length, `${form.id}.${field.name}`).toBeGreaterThan(1);
      }
  });
  it('knows limits, choices and what is needed', () => {
    const of = (id: string) => fieldsOf(forms.find((f) => f.id === id)!);
    expect(of('rest-at-start')).toMatchObject([
      { name: 'bars', kind: 'whole', required: true, lowest: 1, highest: 64 },
      { name: 'soundToo', required: false },
    ]);
    expect(of('keep-voices').map((f) => f.kind)).toEqual(['whole', 'one-of', 'one-of', 'number']);
    expect(of('carve')).toMatchObject([{ kind: 'rows', fields: [{ name: 'place' }, {}, {}, {}] }]);
    expect(of('captions').map((f) => f.kind)).toContain('lines');
    expect(of('strip')[0]).toMatchObject({ kind: 'some-of', required: true });
    expect(firstValues(of('keep-voices'))).toEqual({ keep: 'highest', over: 'seat' });
  });
  it('a form without parameters can be applied at once', () => {
    expect(
      engine.checkStep({ step: 'state-tempo', params: firstValues([]), scope: {}, on: true }),
    ).toEqual({
      says: 'Write the tempo at the start',
      problem: null,
    });
    expect(
      engine.checkStep({ step: 'transpose', params: {}, scope: {}, on: true }).problem,
    ).toMatch(/semitones/);
  });
});
