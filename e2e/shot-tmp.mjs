import { chromium } from '@playwright/test';
const base = 'http://127.0.0.1:4747';
const browser = await chromium.launch({
  executablePath: '/usr/bin/chromium',
  args: ['--no-sandbox', '--disable-background-networking'],
});
const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
page.on('console', (m) => {
  if (m.type() === 'error') console.log('CONSOLE', m.text());
});
page.on('pageerror', (e) => console.log('PAGEERROR', e.message));
const steps = (await import(process.argv[2])).default;
await steps(page, base, (name) => page.screenshot({ path: `/tmp/shots/${name}.png` }));
await browser.close();
