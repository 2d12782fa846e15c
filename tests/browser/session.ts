import type { WebDriver } from 'selenium-webdriver'
import { afterAll, afterEach, beforeAll, expect } from 'vitest'
import { consoleFaults, openBrowser, ready } from './driver.js'
import { startServer, type TestServer } from './server.js'

/** What the tests of a file share; to be read within tests, for it is there once they begin. */
export interface Session {
  server: TestServer
  driver: WebDriver
}

/**
 * One server with the demo's data and one browser for all tests of a file. A test fails when the console says what it
 * should not.
 * @param people how many people the demo has
 * @param begin told of the session before the first test
 * @returns opens a page, and waits until its scripts have taken it over
 */
export function demoSession(people: number, begin: (session: Session) => void): (place: string) => Promise<void> {
  let session: Session
  const go = async (place: string) => {
    await session.driver.get(session.server.base + place)
    await ready(session.driver)
  }
  beforeAll(async () => {
    session = { server: await startServer({ demo: people }), driver: await openBrowser() }
    begin(session)
  })
  afterAll(async () => {
    await session.driver.quit()
    await session.server.stop()
  })
  afterEach(async () => expect(await consoleFaults(session.driver)).toEqual([]))
  return go
}
