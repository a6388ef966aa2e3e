import { Browser, DESK, PHONE } from './browser.ts';
const b = await Browser.open('http://127.0.0.1:4150', DESK);
const [who, size, ...paths] = process.argv.slice(2);
try {
  if (size === 'phone') await b.resize(PHONE);
  if (who !== '-') await b.signIn(who!);
  for (const [i, p] of paths.entries()) {
    const [path, ...acts] = p.split('|');
    if (path) await b.go(path); 
    await b.driver.sleep(900);
    for (const a of acts) { if (a.startsWith('//')||a.startsWith('(//')) await b.click(a); else if (a.startsWith('fill:')) { const [,l,v]=a.split(':'); await b.fill(l!,v!);} else if (a.startsWith('js:')) await b.driver.executeScript(a.slice(3)); else if (a.startsWith('file:')) await b.driver.findElement({css:'input[type=file]'} as never).sendKeys(a.slice(5)); else await b.button(a); await b.driver.sleep(600); }
    await b.shot(`/tmp/shot${i}.png`);
  }
  for (const l of (await b.driver.manage().logs().get('browser')).slice(0,10)) console.log(l.message);
} catch (e) { console.error(String(e)); await b.shot('/tmp/shot-error.png'); }
await b.close();
