export { WhatItWould } from './WhatItWould.tsx';
export { RULES_LEAVES } from './leaves.ts';
