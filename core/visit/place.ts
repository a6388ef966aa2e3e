import { isAccessTemplate, type TemplateKey, type TemplateLine } from './template.ts';

/** Where in the work a step is, the same on every engine and card: `impeller/housing`, `cowl off`. */
export const stepPlace = (stepId: string): string => stepId.replace(/^\d+ /, '');

/** The same for a line of a template, as cards name the step it becomes. */
export const linePlace = (of: TemplateKey, line: Pick<TemplateLine, 'key' | 'once'>): string =>
  line.once ?? (isAccessTemplate(of) ? line.key : `${of}/${line.key}`);
