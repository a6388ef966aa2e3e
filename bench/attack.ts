import { attackChaos } from './attack/chaos.ts';
import { attackFiles, attackFuzz } from './attack/fuzz.ts';
import { Target } from './attack/target.ts';

/** How much each attack does when nothing is said. */
const USUAL = { fuzz: 50_000, files: 2_000, chaos: 100 };
type Attack = keyof typeof USUAL;
const isAttack = (word: string | undefined): word is Attack => word !== undefined && word in USUAL;

const [asked, count, seedText] = process.argv.slice(2);
if (asked !== undefined && !isAttack(asked)) {
  console.error(`Usage: npm run attack -- [${Object.keys(USUAL).join(' | ')}] [HOW MANY] [SEED]`);
  process.exit(2);
}
const attacks: Attack[] = asked ? [asked] : (Object.keys(USUAL) as Attack[]);
const seed = Number(seedText ?? Math.floor(Math.random() * 1e9));
console.log(`seed ${seed}`);
const DOES = { fuzz: attackFuzz, files: attackFiles, chaos: attackChaos };
let held = true;
for (const attack of attacks) {
  const target = await Target.open(['--processes', '2', '--workers', '1']);
  try {
    held = (await DOES[attack](target, Number(count ?? USUAL[attack]), seed)) && held;
  } finally {
    await target.close();
  }
}
process.exit(held ? 0 : 1);
