export const RULES_LEAVES: [string, string][] = [
  ['/rules', 'Questions of school'],
  ['/rules/own', 'Rules of their own'],
  ['/fleet/models', 'Programmes of the models'],
];
