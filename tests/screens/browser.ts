import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Builder, By, Key, until, type WebDriver, type WebElement } from 'selenium-webdriver';
import chrome from 'selenium-webdriver/chrome.js';

export { By };

const WAIT_MS = 40_000;

interface AxeResult {
  readonly violations: readonly { readonly id: string; readonly nodes: readonly { readonly html: string }[] }[];
}

/** One headless Chromium with the few gestures the screen tests need. */
export class Browser {
  readonly driver: WebDriver;
  private readonly profile: string;

  private constructor(driver: WebDriver, profile: string) {
    this.driver = driver;
    this.profile = profile;
  }

  static async open(downloads: string = tmpdir()): Promise<Browser> {
    const profile = mkdtempSync(join(tmpdir(), 'irimi-profile-'));
    const options = new chrome.Options();
    options.setChromeBinaryPath('/usr/bin/chromium');
    options.addArguments(
      '--headless=new',
      '--no-sandbox',
      '--disable-quic',
      '--no-first-run',
      '--disable-background-networking',
      '--disable-component-update',
      '--disable-sync',
      '--disable-dev-shm-usage',
      '--force-device-scale-factor=1',
      '--window-size=1280,800',
      `--user-data-dir=${profile}`,
    );
    options.setUserPreferences({ 'download.default_directory': downloads });
    const driver = await new Builder()
      .forBrowser('chrome')
      .setChromeOptions(options)
      .setChromeService(new chrome.ServiceBuilder('/usr/bin/chromedriver'))
      .build();
    const browser = new Browser(driver, profile);
    await browser.resize(1280, 800);
    return browser;
  }

  /** Gives the page itself this size; the window's frame takes more. */
  async resize(width: number, height: number): Promise<void> {
    const window = this.driver.manage().window();
    const [dx, dy] = await this.driver.executeScript<[number, number]>('return [outerWidth - innerWidth, outerHeight - innerHeight]');
    await window.setRect({ width: width + dx, height: height + dy });
  }

  async close(): Promise<void> {
    await this.driver.quit();
    rmSync(this.profile, { recursive: true, force: true });
  }

  find(css: string): Promise<WebElement> {
    return this.driver.wait(until.elementLocated(By.css(css)), WAIT_MS, `nothing matches ${css}`);
  }

  /** A button, tab or link by its name. */
  async named(name: string): Promise<WebElement> {
    const quoted = JSON.stringify(name);
    return this.driver.wait(
      until.elementLocated(
        By.xpath(
          `//*[self::button or self::a or @role="tab" or @role="radio" or self::input or self::label][@aria-label=${quoted} or normalize-space(.)=${quoted}]`,
        ),
      ),
      WAIT_MS,
      `nothing is named ${name}`,
    );
  }

  async click(name: string): Promise<void> {
    await (await this.named(name)).click();
  }

  /** Opens a section of a panel that is folded. */
  async unfold(section: string): Promise<void> {
    const header = await this.find(`[data-section="${section}"]`);
    if ((await header.getAttribute('data-state')) === 'closed') await header.click();
  }

  /** Opens a menu by its button's name and picks the first item that starts with `item`. */
  async choose(menu: string, item: string): Promise<void> {
    await this.click(menu);
    await this.until(`return document.querySelector('[role=menuitem]') !== null`, 'the menu is open');
    await this.script(
      `[...document.querySelectorAll('[role=menuitem]')].find((e) => e.textContent.startsWith(arguments[0])).click()`,
      item,
    );
  }

  /** Makes a join of a kind by its card on the sheet of kinds. */
  async chooseKind(kind: string): Promise<void> {
    await this.click('Choose the kind of join…');
    await (await this.find(`[role=dialog] [data-kind="${kind}"]`)).click();
    const [last] = (await this.driver.findElements(By.css('[role=dialog] button'))).slice(-1);
    await last!.click();
  }

  /** Goes to where the bench says that the next thing is done. */
  async followWay(): Promise<void> {
    await (await this.find('[data-way] button')).click();
  }

  /** Picks the value of a select element. */
  select(css: string, value: string): Promise<void> {
    return this.driver.executeScript(
      `const s = document.querySelector(arguments[0]);
       Object.getOwnPropertyDescriptor(HTMLSelectElement.prototype, 'value').set.call(s, arguments[1]); s.dispatchEvent(new Event('change', { bubbles: true }))`,
      css,
      value,
    );
  }

  async keys(...keys: string[]): Promise<void> {
    await this.driver
      .actions()
      .sendKeys(...keys)
      .perform();
  }

  /** Presses a key while others are held. */
  async chord(held: readonly string[], key: string): Promise<void> {
    const actions = this.driver.actions();
    for (const k of held) actions.keyDown(k);
    actions.sendKeys(key);
    for (const k of held) actions.keyUp(k);
    await actions.perform();
  }

  /** Presses at the first page position, moves through the others in steps and lets go at the last. */
  async drag(...path: readonly { readonly x: number; readonly y: number }[]): Promise<void> {
    const [first, ...rest] = path.map((p) => ({ x: Math.round(p.x), y: Math.round(p.y) }));
    const actions = this.driver
      .actions({ async: true })
      .move({ ...first!, duration: 0 })
      .press();
    let last = first!;
    for (const point of rest) {
      const middle = { x: Math.round((last.x + point.x) / 2), y: Math.round((last.y + point.y) / 2) };
      actions.move({ ...middle, duration: 20 }).move({ ...point, duration: 20 });
      last = point;
    }
    await actions.release().perform();
  }

  async clickAt(x: number, y: number): Promise<void> {
    await this.driver
      .actions({ async: true })
      .move({ x: Math.round(x), y: Math.round(y), duration: 0 })
      .press()
      .release()
      .perform();
  }

  /** Waits until `script` (a function body) gives something true, and gives that back. */
  async until<T>(script: string, what: string, milliseconds = WAIT_MS): Promise<T> {
    return this.driver.wait<T>(() => this.driver.executeScript<T>(script), milliseconds, `did not happen: ${what}`);
  }

  script<T>(body: string, ...args: unknown[]): Promise<T> {
    return this.driver.executeScript<T>(body, ...args);
  }

  /** Waits until the stage shows the drawing with this caption. */
  async stageShows(caption: string): Promise<void> {
    await this.until(
      `return document.querySelector('canvas[data-stage]')?.dataset.drawn === ${JSON.stringify(caption)}`,
      `stage shows ${caption}`,
    );
  }

  /** RGB of the stage's picture at film pixel (x, y) of a film `filmWidth` wide. */
  pixel(x: number, y: number, filmWidth: number): Promise<[number, number, number]> {
    return this.script(
      `const c = document.querySelector('canvas[data-stage]'), s = c.width / arguments[2];
       return Array.from(c.getContext('2d').getImageData(Math.floor(arguments[0] * s), Math.floor(arguments[1] * s), 1, 1).data.slice(0, 3))`,
      x,
      y,
      filmWidth,
    );
  }

  /** Page position of a film pixel on the stage; it may lie outside the frame. */
  async onStage(x: number, y: number, filmWidth: number): Promise<{ x: number; y: number }> {
    const box = await this.script<{ left: number; top: number; width: number }>(
      `const b = document.querySelector('canvas[data-stage]').getBoundingClientRect(); return { left: b.left, top: b.top, width: b.width }`,
    );
    const scale = box.width / filmWidth;
    return { x: box.left + x * scale, y: box.top + y * scale };
  }

  async screenshot(path: string): Promise<void> {
    writeFileSync(path, Buffer.from(await this.driver.takeScreenshot(), 'base64'));
  }

  /** What axe finds, its advice on landmarks and headings included. */
  async axeFindings(): Promise<string[]> {
    await this.script(readFileSync(createRequire(import.meta.url).resolve('axe-core/axe.min.js'), 'utf8'));
    const { violations } = await this.driver.executeAsyncScript<AxeResult>(
      'const done = arguments[arguments.length - 1]; window.axe.run().then(done)',
    );
    return violations.map((v) => `${v.id}: ${v.nodes.map((n) => n.html).join('\n')}`);
  }

  /** The name of what has the focus; empty when nothing has. */
  focused(): Promise<string> {
    return this.script(
      `const e = document.activeElement; return e === null || e === document.body ? '' : (e.getAttribute('aria-label') ?? e.textContent).trim()`,
    );
  }

  /** Toolbars and lists in which Tab stops more than once, by name. */
  rowsOfManyStops(): Promise<string[]> {
    return this.script(
      `return [...document.querySelectorAll('[role=toolbar], [role=tablist], [role=group][aria-label="Keyframes"], ul:has(button, a)')]
         .filter((row) => [...row.querySelectorAll('button:not(:disabled), a[href], [role=tab], input[type=checkbox]')].filter((e) => e.tabIndex >= 0).length > 1)
         .map((row) => row.getAttribute('aria-label') ?? row.textContent.slice(0, 60))`,
    );
  }

  /** Holds the page's thread, so that nothing else of it runs meanwhile. */
  holdThread(milliseconds: number): Promise<void> {
    return this.script(`const end = performance.now() + ${milliseconds}; while (performance.now() < end) Math.sqrt(end)`);
  }

  /** Waits until it plays, or stands. */
  plays(is: boolean): Promise<unknown> {
    return this.until(
      `return document.querySelector('[aria-label="Pause (Space)"]') ${is ? '!==' : '==='} null`,
      is ? 'it plays' : 'it stands',
      60_000,
    );
  }

  /** Opens a dialog by a key on its button and closes it again; the focus has to come back. @returns what axe finds in it */
  async findingsOfDialog(name: string): Promise<string[]> {
    await (await this.named(name)).sendKeys(Key.ENTER);
    await this.find('[role=dialog]');
    const findings = await this.axeFindings();
    await this.keys(Key.ESCAPE);
    await this.until(`return document.querySelector('[role=dialog]') === null`, 'the dialog is closed');
    await this.driver.wait(async () => (await this.focused()) === name, WAIT_MS, `the focus is back on ${name}`);
    return findings;
  }

  /** Opens a menu and closes it again. @returns what axe finds in it */
  async findingsOfMenu(name: string): Promise<string[]> {
    await this.click(name);
    await this.find('[role=menuitem]');
    const findings = await this.axeFindings();
    await this.keys(Key.ESCAPE);
    await this.until(`return document.querySelector('[role=menuitem]') === null`, 'the menu is closed');
    await this.driver.wait(async () => (await this.focused()) === name, WAIT_MS, `the focus is back on ${name}`);
    return findings;
  }

  /** Messages of the page's console that are errors. */
  async consoleErrors(): Promise<string[]> {
    const entries = await this.driver.manage().logs().get('browser');
    return entries.filter((e) => e.level.name === 'SEVERE').map((e) => e.message);
  }
}
