/** A headless Chromium of its own for each test file, and what a user does with it. */
import { mkdtempSync, readdirSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Builder, By, type WebDriver, type WebElement, Key, error, logging, until } from 'selenium-webdriver';
import { Options, ServiceBuilder } from 'selenium-webdriver/chrome';
import { URL } from './server';

export { By, Key, until };

/** Points of the screen to one of the page: half as many each way are a quarter to draw, which without a graphics card takes most of the time. */
const SCALE = 0.5;
/** Times are guards against what never comes, not figures: machines that share their processor take several times as long. */
const PATIENCE = Number(process.env.PIVOT_PATIENCE ?? 5);

export class Page {
  private constructor(
    readonly driver: WebDriver,
    readonly downloads: string,
    private readonly profile: string,
  ) {}

  static async open(size: [number, number] = [1280, 800], url = URL, language = 'en-GB', scale = SCALE): Promise<Page> {
    const profile = mkdtempSync(join(tmpdir(), 'vim-pivot-profile-'));
    const downloads = mkdtempSync(join(tmpdir(), 'vim-pivot-downloads-'));
    const options = new Options();
    options.setChromeBinaryPath('/usr/bin/chromium');
    options.addArguments(
      '--headless',
      '--no-sandbox',
      '--disable-quic',
      '--no-first-run',
      '--disable-background-networking',
      '--disable-component-update',
      '--disable-sync',
      `--user-data-dir=${profile}`,
      `--window-size=${size[0]},${size[1] + 87}`,
      `--force-device-scale-factor=${scale}`,
      `--lang=${language}`,
    );
    options.setUserPreferences({
      'intl.accept_languages': language,
      'download.default_directory': downloads,
      'download.prompt_for_download': false,
    });
    const prefs = new logging.Preferences();
    prefs.setLevel(logging.Type.BROWSER, logging.Level.ALL);
    options.setLoggingPrefs(prefs);
    const driver = await new Builder()
      .forBrowser('chrome')
      .setChromeOptions(options)
      .setChromeService(new ServiceBuilder('/usr/bin/chromedriver'))
      .build();
    const page = new Page(driver, downloads, profile);
    await driver.get(url);
    // the window is larger than what it shows; make what it shows the size asked for
    const inner = await driver.executeScript<[number, number]>('return [innerWidth, innerHeight]');
    await driver
      .manage()
      .window()
      .setRect({ width: size[0] + (size[0] - inner[0]), height: size[1] + 87 + (size[1] - inner[1]) });
    return page;
  }

  /** Number of the browser's process. */
  async process(): Promise<number> {
    return Number((await this.driver.getCapabilities()).get('goog:processID'));
  }

  /** @throws when the page has written an error to the console that no test provoked */
  async close(): Promise<void> {
    await this.complaints().catch(() => undefined);
    await this.driver.quit();
    rmSync(this.profile, { recursive: true, force: true });
    rmSync(this.downloads, { recursive: true, force: true });
    const errors = this.errors.filter((e) => !this.expected.some((p) => p.test(e)));
    if (errors.length > 0) throw new Error(`The page wrote errors to the console:\n${errors.join('\n')}`);
  }

  /**
   * Times of the longest task of the page's main thread while something is done, ms: by the clock, and of the processor.
   * On a busy machine, or where one thread waits for the software that draws, the clock counts waiting too.
   */
  async longestTask(act: () => Promise<unknown>): Promise<{ clock: number; own: number }> {
    type Event = { name: string; dur?: number; tdur?: number; pid: number; tid: number; args?: { name?: string } };
    const cdp = (await this.driver.createCDPConnection('page')) as unknown as {
      send(method: string, params: object): Promise<unknown>;
      _wsConnection: import('node:events').EventEmitter;
    };
    const events: Event[] = [];
    const complete = new Promise<void>((resolve) => {
      cdp._wsConnection.on('message', (text: Buffer) => {
        const { method, params } = JSON.parse(text.toString()) as { method?: string; params: { value: Event[] } };
        if (method === 'Tracing.dataCollected') events.push(...params.value);
        if (method === 'Tracing.tracingComplete') resolve();
      });
    });
    await cdp.send('Tracing.start', { categories: '-*,toplevel,__metadata', transferMode: 'ReportEvents' });
    await act();
    void cdp.send('Tracing.end', {}).catch(() => undefined);
    await complete;
    const main = new Set(
      events.filter((e) => e.name === 'thread_name' && e.args?.name === 'CrRendererMain').map((e) => `${e.pid} ${e.tid}`),
    );
    const tasks = events.filter((e) => e.name.endsWith('RunTask') && main.has(`${e.pid} ${e.tid}`));
    if (tasks.length === 0) throw new Error('The browser told no tasks of the page.');
    return { clock: Math.max(...tasks.map((e) => e.dur ?? 0)) / 1000, own: Math.max(...tasks.map((e) => e.tdur ?? e.dur ?? 0)) / 1000 };
  }

  /** Chooses from the list behind a combobox, as one does with the mouse. */
  async choose(label: string, option: string | RegExp): Promise<void> {
    await this.click('combobox', label);
    await this.click('option', option);
    await this.until('the list has gone', async () => (await this.driver.findElements(By.css('[role=listbox]'))).length === 0);
  }

  /** The element of a role and accessible name. */
  find(role: string, name: string | RegExp, timeout = 20_000, patience = PATIENCE): Promise<WebElement> {
    return this.driver.wait(
      async () => {
        // Candidates by their label or text, in one go; the browser's own accessible name of the one found must agree.
        const found = await this.script<WebElement | null>(
          CANDIDATE,
          SELECTOR[role] ?? `[role="${role}"]`,
          typeof name === 'string' ? name : name.source,
          typeof name !== 'string',
        );
        try {
          const text = found ? (await found.getAccessibleName()).trim() : '';
          return found && (typeof name === 'string' ? text === name : name.test(text)) ? found : null;
        } catch {
          return null; // redrawn meanwhile
        }
      },
      timeout * patience,
      `no ${role} “${String(name)}”`,
    ) as Promise<WebElement>;
  }
  /** Presses an element; once more when it moved away from under the pointer, as a user would. */
  async click(role: string, name: string | RegExp): Promise<void> {
    // families for which the Ledger has no room stand behind one press
    if (role === 'tab' && !(await this.find(role, name, 3000, 1).catch(() => undefined))) {
      await this.click('button', 'More kinds of element');
      role = 'menuitem';
    }
    for (let tries = 1; ; tries++) {
      const element = await this.find(role, name);
      try {
        await this.script(AWAIT_PRESS, element);
        await element.click();
        if (tries === 3 || (await this.script<boolean | undefined>('return window.pressedThere')) !== false) return;
      } catch (e) {
        if (tries === 3 || !(e instanceof error.StaleElementReferenceError || e instanceof error.ElementClickInterceptedError)) throw e;
      }
    }
  }
  /** Opens a menu and takes an item of it. */
  async menu(button: string | RegExp, item: RegExp): Promise<void> {
    await this.click('button', button);
    await this.click('menuitem', item);
  }
  /** Presses a button that may be there or not. */
  async clickIf(role: string, name: string | RegExp): Promise<void> {
    await this.find(role, name, 1500, 1)
      .then((e) => e.click())
      .catch(() => undefined);
  }
  /** Replaces the text of a field and commits it. */
  async type(name: string | RegExp, text: string): Promise<void> {
    const field = await this.find('textbox', name);
    await field.click();
    await field.sendKeys(Key.chord(Key.CONTROL, 'a'), text, Key.ENTER);
  }
  async until<T>(what: string, probe: () => Promise<T | undefined | null | false>, timeout = 20_000): Promise<T> {
    return (await this.driver.wait(
      async () => {
        try {
          return (await probe()) || null;
        } catch {
          return null;
        }
      },
      timeout * PATIENCE,
      what,
    )) as T;
  }
  /** The path of the file downloaded under such a name, once it is whole: the browser makes the name first, empty, and moves what came onto it. */
  async downloaded(name: RegExp): Promise<string> {
    const there = () =>
      readdirSync(this.downloads).find((f) => name.test(f) && !f.endsWith('.crdownload') && statSync(join(this.downloads, f)).size > 0);
    return join(this.downloads, await this.until(`a file ${name}`, async () => there(), 90_000));
  }
  text(css: string): Promise<string> {
    return this.driver.findElement(By.css(css)).getText();
  }
  script<T>(code: string, ...args: unknown[]): Promise<T> {
    return this.driver.executeScript<T>(code, ...args);
  }
  async status(): Promise<string> {
    return this.text('#run-status');
  }
  /** Runs the machine. @param plays lets it be played afterwards, as it is by itself: drawing that takes half of the processor */
  async run(plays = false): Promise<string> {
    await this.click('button', 'Run');
    await this.until(
      'the run has not ended',
      async () => /done|failed|cancelled|stopped/.test(await this.status()) && (await this.find('button', 'Run', 100)),
      20_000,
    );
    if (!plays) await this.script(`document.querySelector('button[aria-label=Pause]')?.click()`);
    return this.status();
  }
  async shot(file: string): Promise<void> {
    writeFileSync(file, await this.driver.takeScreenshot(), 'base64');
  }
  async complaints(): Promise<string[]> {
    const log = await this.driver.manage().logs().get(logging.Type.BROWSER);
    this.errors.push(...log.filter((l) => l.level.value >= logging.Level.SEVERE.value).map((l) => l.message));
    return log.filter((l) => l.level.value >= logging.Level.WARNING.value).map((l) => l.message);
  }
  private readonly errors: string[] = [];
  private readonly expected: RegExp[] = [/WebGL|GL Driver/];
  /** Errors in the console that a test provokes on purpose. */
  provokes(pattern: RegExp): void {
    this.expected.push(pattern);
  }
}

const CANDIDATE = `
  const [css, name, pattern] = arguments;
  const fits = (s) => s != null && (pattern ? new RegExp(name).test(s.trim()) : s.trim() === name);
  return [...document.querySelectorAll(css)].find((e) => e.checkVisibility() && (e.hasAttribute('aria-label') ? fits(e.getAttribute('aria-label')) : fits(e.textContent.replace(/\\s+/g, ' ')) || fits(e.title))) ?? null;`;

const AWAIT_PRESS = `
  const element = arguments[0];
  window.pressedThere = undefined;
  addEventListener('pointerdown', (e) => { window.pressedThere = element.contains(e.target); }, { once: true, capture: true });`;

const SELECTOR: Record<string, string> = {
  button: 'button',
  textbox: 'input:not([type=checkbox]):not([type=file]), textarea',
  combobox: '[role=combobox], select',
  tab: '[role=tab]',
  checkbox: '[role=checkbox]',
  menuitem: '[role=menuitem]',
  slider: '[role=slider]',
};
