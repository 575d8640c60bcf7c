import { shallowRef } from 'vue';
import type { StepForm } from '../../worker/protocol';
import { engine } from '../stores/engine';

/** One field of a step's parameters, as a form shows it. */
export interface Field {
  readonly name: string;
  readonly label: string;
  readonly required: boolean;
  readonly kind:
    'whole' | 'number' | 'text' | 'yes' | 'one-of' | 'some-of' | 'numbers' | 'lines' | 'rows';
  readonly choices: readonly (string | number)[];
  readonly lowest: number | null;
  readonly highest: number | null;
  /** Of rows: the fields of one. */
  readonly fields: readonly Field[];
}

interface JsonSchema {
  type?: string;
  enum?: (string | number)[];
  items?: JsonSchema;
  minimum?: number;
  maximum?: number;
  description?: string;
  properties?: Record<string, JsonSchema>;
  required?: string[];
}

const words = (name: string) => {
  const spaced = name.replace(/([A-Z])/g, (c) => ` ${c.toLowerCase()}`);
  return spaced.charAt(0).toUpperCase() + spaced.slice(1);
};

const lower = (text: string) =>
  /^[A-Z][a-z ]/.test(text) ? text.charAt(0).toLowerCase() + text.slice(1) : text;

function kindOf(schema: JsonSchema): Field['kind'] {
  if (schema.enum) return 'one-of';
  if (schema.type === 'boolean') return 'yes';
  if (schema.type === 'integer') return 'whole';
  if (schema.type === 'number') return 'number';
  if (schema.type === 'array') {
    if (schema.items?.properties) return 'rows';
    if (schema.items?.type === 'string' && !schema.items.enum) return 'lines';
    return schema.items?.enum ? 'some-of' : 'numbers';
  }
  return 'text';
}

export const fieldsOf = (form: StepForm): Field[] => fieldsIn(form.params as JsonSchema);

function fieldsIn(schema: JsonSchema): Field[] {
  const required = new Set(schema.required ?? []);
  return Object.entries(schema.properties ?? {}).map(([name, of]) => ({
    name,
    label: of.description ? `${words(name)}: ${lower(of.description)}` : words(name),
    required: required.has(name),
    kind: kindOf(of),
    choices: of.enum ?? of.items?.enum ?? [],
    lowest: of.minimum ?? null,
    highest: of.maximum ?? null,
    fields: of.items?.properties ? fieldsIn(of.items) : [],
  }));
}

/** What a form begins with, so that it can be applied where a sensible first value is known. */
export function firstValues(fields: readonly Field[]): Record<string, unknown> {
  const out: Record<string, unknown> = {};
  for (const field of fields) {
    if (!field.required) continue;
    if (field.kind === 'one-of') out[field.name] = field.choices[0];
    if (field.kind === 'yes') out[field.name] = true;
    if (field.kind === 'some-of') out[field.name] = [field.choices[0]];
    if (field.kind === 'rows') out[field.name] = [firstValues(field.fields)];
  }
  return out;
}

const forms = shallowRef<readonly StepForm[]>([]);
let asked = false;

/** The forms of all steps, from the worker; the same list for all who ask. */
export function useStepForms() {
  if (!asked) {
    asked = true;
    void engine()
      .plain.stepForms()
      .then((list) => (forms.value = list));
  }
  return forms;
}
