export const RULES_LEAVES: [string, string][] = [
  ['/rules', 'Questions of school'],
  ['/rules/own', 'Rules of their own'],
  ['/rules/steps', 'Steps of the work'],
  ['/rules/minutes', 'Minutes learned'],
  ['/rules/life', 'How long they last'],
  ['/fleet/models', 'Programmes of the models'],
];
