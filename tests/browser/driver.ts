import { Builder, By, logging, until, type WebDriver, type WebElement } from 'selenium-webdriver'
import chrome from 'selenium-webdriver/chrome.js'

/** Starts a headless Chromium of exactly 1280 × 800. */
export async function openBrowser(downloads?: string): Promise<WebDriver> {
  const options = new chrome.Options()
  options.setChromeBinaryPath('/usr/bin/chromium')
  options.addArguments(
    '--headless=new',
    '--no-sandbox',
    '--disable-dev-shm-usage',
    '--disable-gpu',
    '--hide-scrollbars',
    '--no-first-run',
    '--disable-background-networking',
    '--disable-component-update',
    '--disable-sync',
    '--force-device-scale-factor=1',
  )
  if (downloads) options.setUserPreferences({ 'download.default_directory': downloads })
  const prefs = new logging.Preferences()
  prefs.setLevel(logging.Type.BROWSER, logging.Level.ALL)
  options.setLoggingPrefs(prefs)
  const driver = await new Builder()
    .forBrowser('chrome')
    .setChromeOptions(options)
    .setChromeService(new chrome.ServiceBuilder('/usr/bin/chromedriver'))
    .build()
  await resize(driver, 1280, 800)
  return driver
}

export async function resize(driver: WebDriver, width: number, height: number, mobile = false): Promise<void> {
  await (driver as chrome.Driver).sendDevToolsCommand('Emulation.setDeviceMetricsOverride', {
    width,
    height,
    deviceScaleFactor: 1,
    mobile,
  })
}

/** What the console has said since the last call that it should not have. */
export async function consoleFaults(driver: WebDriver): Promise<string[]> {
  const entries = await driver.manage().logs().get(logging.Type.BROWSER)
  return entries.filter(({ level }) => level.value >= logging.Level.WARNING.value).map(({ message }) => message)
}

export async function byCss(driver: WebDriver, css: string): Promise<WebElement> {
  return driver.wait(until.elementLocated(By.css(css)), 10_000, `nothing matches ${css}`)
}

/** The element with exactly or partly this text. */
export async function byText(driver: WebDriver, text: string, tag = '*'): Promise<WebElement> {
  const quoted = JSON.stringify(text)
  const path = `//${tag}[normalize-space(text())=${quoted} or (self::button or self::a) and normalize-space(.)=${quoted}]`
  return driver.wait(until.elementLocated(By.xpath(path)), 10_000, `no ${tag} says ${quoted}`)
}

/**
 * Clicks as soon as nothing is in the way and it stands still: menus and dialogs take a moment to come to rest, and a
 * click on what is still growing lands on its neighbour.
 */
export async function press(driver: WebDriver, find: () => Promise<WebElement>): Promise<void> {
  await driver.wait(
    async () => {
      try {
        const found = await find()
        const before = JSON.stringify(await found.getRect())
        await driver.executeAsyncScript('requestAnimationFrame(() => requestAnimationFrame(arguments[0]))')
        if (JSON.stringify(await found.getRect()) !== before) return false
        await found.click()
        return true
      } catch (error) {
        if (/intercepted|not interactable|stale/i.test(String(error))) return false
        throw error
      }
    },
    10_000,
    'it could never be clicked',
  )
}

/**
 * The words of each match as they stand now, read in one step of the page: an element found first and read later may
 * have been replaced in between.
 */
export async function textsOf(driver: WebDriver, css: string): Promise<string[]> {
  return driver.executeScript(
    (selector: string) =>
      // What is drawn has no inner text.
      [...document.querySelectorAll<HTMLElement>(selector)].map(({ innerText, textContent }) =>
        ((innerText as string | undefined) ?? textContent ?? '').trim(),
      ),
    css,
  )
}

/** The words of the first match, as soon as there is one. */
export async function textOf(driver: WebDriver, css: string): Promise<string> {
  let first: string | undefined
  await driver.wait(
    async () => {
      ;[first] = await textsOf(driver, css)
      return first !== undefined
    },
    10_000,
    `nothing matches ${css}`,
  )
  return first!
}

export async function waitForText(driver: WebDriver, css: string, text: string | RegExp): Promise<string> {
  let seen = ''
  await driver.wait(
    async () => {
      const [first] = await textsOf(driver, css)
      if (first === undefined) return false
      seen = first
      return typeof text === 'string' ? seen.includes(text) : text.test(seen)
    },
    10_000,
    `${css} never said ${String(text)}`,
  )
  return seen
}

/** Waits until the page's scripts have taken over what the server sent. */
export async function ready(driver: WebDriver): Promise<void> {
  await driver.wait(
    () => driver.executeScript(() => Object.keys(document.body).some((key) => key.startsWith('__react'))),
    10_000,
    'the page was never taken over by its scripts',
  )
}
