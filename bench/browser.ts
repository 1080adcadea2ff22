/** From the shelf to a usable bench, in a real browser: the click until the lamp is drawn and can be picked. */
import { startApp, openBrowser } from '../tests/support';

export async function openBench(): Promise<number> {
  const app = await startApp(), browser = await openBrowser();
  try {
    const times: number[] = [];
    for (let i = 0; i < 5; i++) {
      const page = await browser.newPage();
      await page.goto(app.address, { waitUntil: 'networkidle0' });
      await page.waitForSelector('a[aria-label="Open Signal lamp"]');
      const start = performance.now();
      await page.click('a[aria-label="Open Signal lamp"]');
      await page.waitForFunction(() => {
        const v = (globalThis as unknown as { glyptaView?: { screenOf(kind: string, i: number): unknown } }).glyptaView;
        return document.querySelector('[data-ready=true]') && v?.screenOf('face', 0);
      }, { polling: 20, timeout: 30000 });
      times.push(performance.now() - start);
      await page.close();
    }
    return times.sort((a, b) => a - b)[2];
  } finally { await browser.close(); await app.stop(); }
}
