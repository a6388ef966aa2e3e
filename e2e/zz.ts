import { Browser, DESK, PHONE } from './browser.ts';
const [,, who, path, out, size, ...acts] = process.argv;
const b = await Browser.open(process.env.ADDR ?? 'http://127.0.0.1:4260', size === 'phone' ? PHONE : size === 'wide' ? { width: 1600, height: 900 } : DESK);
try {
  await b.signIn(who!);
  await b.go(path!);
  await new Promise((r) => setTimeout(r, 2500));
  for (const a of acts) { await b.click(a); await new Promise((r) => setTimeout(r, 700)); }
  await b.shot(out!);
  const log = await b.driver.manage().logs().get('browser').catch(() => []);
  for (const l of log) if (l.level.name === 'SEVERE') console.log(l.message);
} finally { await b.close(); }
