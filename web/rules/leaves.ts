export const RULES_LEAVES: [string, string][] = [
  ['/rules', 'Questions of school'],
  ['/rules/own', 'Rules of their own'],
  ['/rules/steps', 'Steps of the work'],
  ['/rules/minutes', 'Minutes learned'],
  ['/fleet/models', 'Programmes of the models'],
];
