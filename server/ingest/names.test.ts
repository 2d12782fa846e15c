import { expect, test } from 'vitest'
import { newFolder } from '../../tests/workspace.js'
import { openDatabase } from '../store/database.js'
import type { IncomingEvent, IncomingPerson } from './event.js'
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
  const named = (event: string) => guard.refusal({ event, source: null, properties: {} } as unknown as IncomingEvent)
  expect([named('e7'), named('the last'), named('the last')]).toEqual([null, null, null])
  expect(named('order 4711 paid')).toMatch(/5000 different event names .* “order 4711 paid” .* property/)
  expect(named('e7')).toBeNull()
  db.close()
  folder.remove()
})

test('the same of names of properties, of events and of profiles each; what is refused leaves no name behind', () => {
  const folder = newFolder()
  const db = openDatabase(`${folder.dir}/w.db`)
  const guard = nameGuard(db)
  const event = (...names: string[]) =>
    guard.refusal({
      ...{ event: 'ridden', source: null },
      properties: Object.fromEntries(names.map((name) => [name, 1])),
    } as unknown as IncomingEvent)
  for (let i = 0; i < LIMITS.propertyNames - 1; i++) expect(event(`p${i}`)).toBeNull()
  expect(event('one', 'ride 4711')).toMatch(/2000 different names of properties .* “ride 4711” .* value/)
  expect(event('another')).toBeNull()
  expect(event('one')).not.toBeNull()
  expect(guard.profileRefusal({ properties: { one: 1 } } as unknown as IncomingPerson)).toBeNull()
  db.close()
  folder.remove()
})
