import { writeFileSync } from 'node:fs'
import path from 'node:path'
import { afterAll, expect, test } from 'vitest'
import { newFolder } from '../tests/workspace.js'
import { workspaceFile } from './store/home.js'
import { readSettings } from './settings.js'

const folder = newFolder()
afterAll(() => folder.remove())

test('a setting that cannot be used is named, with what it takes and what was there', () => {
  expect(() => readSettings({ DOWSER_PORT: 'abc' })).toThrow('DOWSER_PORT: a number is wanted, and something else is')
  expect(() => readSettings({ DOWSER_PORT: '80.5' })).toThrow('DOWSER_PORT')
  expect(readSettings({}).port).toBe(4810)
})

test('a data folder that is none is told with what to do', () => {
  const file = path.join(folder.dir, 'a-file')
  writeFileSync(file, '')
  expect(() => workspaceFile(file, 0)).toThrow(/cannot be kept in .*a-file.*DOWSER_DATA=/)
})
