import { Browser, DESK, PHONE } from './browser.ts';
import { writeFileSync } from 'node:fs';
const [,, who, path, out, ...steps] = process.argv;
const phone = process.env.PHONE === '1';
const b = await Browser.open('http://127.0.0.1:4170', phone ? PHONE : DESK);
try {
  await b.signIn(who!);
  await b.go(path!);
  await new Promise((r) => setTimeout(r, Number(process.env.WAIT ?? 3000)));
  for (const s of steps) {
    if (s.startsWith('js:')) console.log(await b.driver.executeScript(s.slice(3)));
    else if (s.startsWith('wait:')) await new Promise((r) => setTimeout(r, Number(s.slice(5))));
    else await b.click(s);
    await new Promise((r) => setTimeout(r, 700));
  }
  const logs = await b.driver.manage().logs().get('browser').catch(() => []);
  for (const l of logs) console.log(l.level.name, l.message.slice(0, 300));
  writeFileSync(out!, await b.driver.takeScreenshot(), 'base64');
} finally { await b.close(); }
