import { expect, test } from 'vitest'
import { newFolder } from '../../tests/workspace.js'
import { openDatabase } from '../store/database.js'
import type { IncomingEvent } from './event.js'
import { LIMITS } from './limits.js'
import { nameGuard } from './names.js'

test('one name more than there may be is refused with what to do; known ones are taken on and on', () => {
  const folder = newFolder()
  const db = openDatabase(`${folder.dir}/w.db`)
  const add = db.prepare('INSERT INTO event_types (name) VALUES (?)')
  db.transaction(() => {
    for (let i = 0; i < LIMITS.eventNames - 1; i++) add.run(`e${i}`)
  })()
  const guard = nameGuard(db)
  const named = (event: string) => guard.refusal({ event, source: null } as IncomingEvent)
  expect([named('e7'), named('the last'), named('the last')]).toEqual([null, null, null])
  expect(named('order 4711 paid')).toMatch(/5000 different event names .* “order 4711 paid” .* property/)
  expect(named('e7')).toBeNull()
  db.close()
  folder.remove()
})
