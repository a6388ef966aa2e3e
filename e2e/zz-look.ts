import { Browser, DESK } from './browser.ts';
import { writeFileSync, mkdirSync } from 'node:fs';
mkdirSync('/tmp/shots', { recursive: true });
const b = await Browser.open('http://127.0.0.1:4310', DESK);
const shot = async (n: string) =>
  writeFileSync(`/tmp/shots/${n}.png`, Buffer.from(await b.driver.takeScreenshot(), 'base64'));
await b.signIn('Ilse Maren');
await b.go('/rules/life');
await b.see('//table');
await new Promise((d) => setTimeout(d, 800));
await shot('life');
await b.resize({ width: 844, height: 390 });
await b.go('/due?view=weeks');
await b.see('//main');
await new Promise((d) => setTimeout(d, 2500));
await shot('weeks');
console.log(
  await b.driver.executeScript(
    `const out=[]; for (const e of document.querySelectorAll('main *')) { const r=e.getBoundingClientRect(); if (r.right > innerWidth+2) out.push([e.tagName, e.className.baseVal ?? e.className, Math.round(r.left), Math.round(r.right), (e.textContent||'').slice(0,60)].join(' ')); } return out.slice(0,25).join('\\n')`,
  ),
);
await b.close();
