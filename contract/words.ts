import { z } from 'zod';

const KIND: Record<string, string> = {
  string: 'has to be words',
  number: 'has to be a number',
  int: 'has to be a whole number',
  boolean: 'has to be yes or no',
  array: 'has to be a list',
  object: 'has to be a group of fields',
};
const counted = (origin: string | undefined, n: unknown) =>
  origin === 'string' ? `${String(n)} characters` : origin === 'array' ? `${String(n)} entries` : String(n);

/** What is wrong with a field, after its name; shapes that say it better themselves come first. */
z.config({
  customError: (issue) => {
    switch (issue.code) {
      // What a form makes of an empty field, or of words, where a figure is wanted.
      case 'invalid_type':
        return Number.isNaN(issue.input)
          ? 'is missing or no figure'
          : issue.input === undefined || issue.input === null
            ? 'is missing'
            : (KIND[issue.expected] ?? 'is not of the right kind');
      case 'invalid_value':
        return issue.input === undefined
          ? 'is missing'
          : `has to be ${issue.values.length === 1 ? '' : 'one of: '}${issue.values.map(String).join(', ')}`;
      case 'too_small':
        return `has to have at least ${counted(issue.origin, issue.minimum)}`.replace(
          /have at least (?=[^ ]+$)/,
          'be at least ',
        );
      case 'too_big':
        return `can have at most ${counted(issue.origin, issue.maximum)}`.replace(
          /have at most (?=[^ ]+$)/,
          'be at most ',
        );
      case 'invalid_format':
        return 'is not written as it has to be';
      case 'invalid_union':
        return issue.input === undefined ? 'is missing' : 'is none of what can stand here';
      case 'unrecognized_keys':
        return `has what is not known here: ${issue.keys.join(', ')}`;
      default:
        return undefined;
    }
  },
});
