import type * as z from 'zod';

const KINDS: Readonly<Record<string, string>> = {
  string: 'a text',
  number: 'a number',
  int: 'a whole number',
  boolean: 'true or false',
  array: 'a list',
  object: 'an object in braces',
  record: 'an object in braces',
};

/** What a schema found wrong, in a sentence; the place is said by the caller. */
export function sayIssue(issue: z.core.$ZodIssue): string {
  switch (issue.code) {
    case 'invalid_type':
      return issue.input === undefined && /undefined$/.test(issue.message)
        ? `${upper(KINDS[issue.expected] ?? issue.expected)} is missing here.`
        : `This has to be ${KINDS[issue.expected] ?? issue.expected}.`;
    case 'too_small':
      return issue.origin === 'number' || issue.origin === 'int'
        ? `The least is ${issue.minimum}.`
        : `At least ${issue.minimum} ${issue.origin === 'string' ? 'characters' : 'entries'} are needed.`;
    case 'too_big':
      return issue.origin === 'number' || issue.origin === 'int'
        ? `The most is ${issue.maximum}.`
        : `At most ${issue.maximum} ${issue.origin === 'string' ? 'characters' : 'entries'} are taken.`;
    case 'invalid_value':
      return `One of ${issue.values.map((v) => JSON.stringify(v)).join(', ')} is needed.`;
    case 'unrecognized_keys':
      return `${issue.keys.map((k) => `"${k}"`).join(', ')} ${issue.keys.length === 1 ? 'is not a known key' : 'are no known keys'}.`;
    case 'invalid_union':
      return 'None of the forms that this may have fits.';
    default:
      return `${issue.message.replace(/\.$/, '')}.`;
  }
}

const upper = (text: string) => text.charAt(0).toUpperCase() + text.slice(1);
