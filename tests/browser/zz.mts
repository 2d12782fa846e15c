import { writeFileSync } from 'node:fs'
import { By } from 'selenium-webdriver'
import { openBrowser, resize, consoleFaults } from './driver.js'
// usage: tsx zz.mts path out [wxh] [click-css ...]
const [path, out, size = '1280x800', ...clicks] = process.argv.slice(2)
const driver = await openBrowser()
try {
  const [w, h] = size.split('x').map(Number)
  await resize(driver, w!, h!, w! < 500)
  await driver.get('http://127.0.0.1:4810' + path)
  await new Promise((r) => setTimeout(r, 1200))
  for (const css of clicks) {
    if (css.startsWith('type:')) {
      await driver.switchTo().activeElement().sendKeys(css.slice(5))
    } else if (css.startsWith('x:')) await (await driver.findElement(By.xpath(css.slice(2)))).click()
    else await (await driver.findElement(By.css(css))).click()
    await new Promise((r) => setTimeout(r, 700))
  }
  writeFileSync(out!, Buffer.from(await driver.takeScreenshot(), 'base64'))
  const f = await consoleFaults(driver)
  if (f.length) console.log(f)
} finally {
  await driver.quit()
}
