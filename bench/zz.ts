import { readFileSync } from 'node:fs';
import loadHighs from 'highs';
import { solveWith } from '@diurna/core/planner';
import { referenceMip } from './plan-reference.ts';
const solve = solveWith(await loadHighs());
const p = JSON.parse(readFileSync(process.argv[2]!,'utf8'));
const m = referenceMip(p);
const a = solve(m, { seconds: 60, gap: 1e-4 });
console.log(a.value, a.bound);
// decode: walk the same construction order
const engineOf = new Map(p.engines.map((e: any) => [e.id, e]));
let c = p.tasks.length; const out: any = {};
for (const boat of p.boats) {
  const tasks = p.tasks.filter((t: any) => (engineOf.get(t.engine) as any).boat === boat.id);
  for (let day = 0; day < p.days; day++) p.technicians.forEach((tech: any) => {
    const shift = tech.shift[day]; const at = typeof tech.base === 'string' ? tech.base : tech.base[day];
    if (!shift || at !== boat.base) return;
    for (const w of boat.free[day]) {
      const release = Math.max(w.from, shift.from), deadline = Math.min(w.to, shift.to + tech.overtime[day]);
      const able = tasks.filter((t: any) => t.dayCost[day] !== null && t.skills.every((s: any) => tech.skills.includes(s)));
      if (deadline - release <= 0 || able.length === 0) continue;
      c += 2; const opened = new Set(); let lift = false;
      for (const t of able) { if (a.x![c]! > 0.5) out[t.id] = `${day} ${tech.id}`; c++; for (const n of new Set(t.access)) { const k = t.engine + n; if (!opened.has(k)) { opened.add(k); c++; } } if (t.needsLift && !lift) { lift = true; c++; } }
    }
  });
}
const plan = JSON.parse(readFileSync(process.argv[3]!,'utf8')); const ours: any = {};
for (const v of plan.visits) for (const t of v.tasks) ours[t] = `${v.day} ${v.technician}`;
for (const t of p.tasks) if (out[t.id] !== ours[t.id]) console.log(t.id.padEnd(26), String(out[t.id]).padEnd(20), String(ours[t.id]).padEnd(20), 'skip', t.skipCost, JSON.stringify(t.parts), out[t.id] ? t.dayCost[+out[t.id].split(' ')[0]] : '', ours[t.id] ? t.dayCost[+ours[t.id].split(' ')[0]] : '');
