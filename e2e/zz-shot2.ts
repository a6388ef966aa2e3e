import { Browser, DESK } from './browser.ts';
import { writeFileSync } from 'node:fs';
const b = await Browser.open('http://127.0.0.1:4170', DESK);
try {
  await b.signIn('Ilse'); await b.go('/day'); await b.see('//div[@class="bench"]');
  const { data } = await b.driver.sendAndGetDevToolsCommand('Page.printToPDF', { paperWidth: 8.27, paperHeight: 11.69, printBackground: true }) as unknown as { data: string };
  writeFileSync('/tmp/day.pdf', Buffer.from(data, 'base64'));
} finally { await b.close(); }
