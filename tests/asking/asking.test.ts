import { readFileSync } from 'node:fs'
import { describe, expect, test } from 'vitest'
import { ask } from '../../core/ask/ask.js'
import { askExamples } from '../../core/ask/examples.js'
import { Random } from '../../demo/random.js'
import { catalogOf } from './catalog.js'
import { tables, wrong } from './run.js'

describe.each(Object.entries(tables))('questions as people type them, over %s', (name, questions) => {
  const vocabulary = catalogOf(name as keyof typeof tables)

  test.each(questions)('$text', (question) => {
    expect(wrong(question, vocabulary)).toBeNull()
  })

  test('their words in any order, and those of all others, break nothing', () => {
    const random = new Random(7)
    const words = [...new Set(Object.values(tables).flatMap((list) => list.flatMap(({ text }) => text.split(' '))))]
    for (let round = 0; round < 150; round++) {
      const salad = Array.from({ length: random.whole(1, 14) }, () => random.pick(words)).join(' ')
      for (const { question, rule, understood } of ask(salad, vocabulary)) {
        expect((question === undefined) !== (rule === undefined)).toBe(true)
        for (const { from, to } of understood) expect(salad.slice(from, to).trim()).not.toBe('')
      }
    }
  })
})

test('every example of what can be asked is understood in full', () => {
  const bikes = catalogOf('bikes')
  const page = readFileSync(new URL('../../docs/asking.md', import.meta.url), 'utf8')
  const examples = [...page.matchAll(/^\|[^|]*\|([^|]*)\|$/gm)].flatMap(([, cell]) =>
    [...cell!.matchAll(/`([^`]+)`/g)].map(([, text]) => text!),
  )
  expect(examples.length).toBeGreaterThan(30)
  const left = examples.flatMap((text) => {
    const [reading] = ask(text, bikes)
    const unused = reading?.unused.map(({ from, to }) => text.slice(from, to)) ?? ['no reading']
    return unused.length > 0 ? [[text, ...unused]] : []
  })
  expect(left).toEqual([])
})

test.each([
  ['bikes', 'Ride completed'],
  ['shop', 'cart'],
  ['teams', 'Task completed'],
] as const)('the examples over %s are each wholly read, over its own names', (name, act) => {
  const vocabulary = catalogOf(name)
  const examples = askExamples(vocabulary, 1)
  expect(new Set(examples.map(({ asks }) => asks)).size).toBeGreaterThanOrEqual(14)
  expect(examples.filter(({ text }) => text.includes(act.toLowerCase())).length).toBeGreaterThan(8)
  for (const { text } of examples) {
    const [reading] = ask(text, vocabulary, 1)
    expect([text, reading!.unused, reading!.notes]).toEqual([text, [], []])
  }
})

test('where nothing is recorded there are no examples', () => {
  expect(askExamples({ ...catalogOf('shop'), events: [] }, 1)).toEqual([])
})

describe('what must not be made of a question', () => {
  const bikes = catalogOf('bikes')
  const first = (text: string) => JSON.stringify(ask(text, bikes)[0] ?? null)

  test('a word in what is said of an event is not that event', () => {
    expect(first('who stopped riding last week')).not.toContain('Screen froze')
    expect(first('which districts lose the most riders')).not.toContain('"kind":"trend"')
  })

  test('a property that the event never carries is not its groups', () => {
    expect(first('rides by district in october')).not.toContain('"name":"district"')
  })

  test('what is combined of others does not stand for one of them, nor what only a test sent', () => {
    expect(first('passes sold by plan')).not.toContain('Pass paid')
    expect(first('rides each week')).not.toContain('ride_done_old')
  })

  test('how often is denied with what is denied; either is not both', () => {
    const rule = (text: string) => ask(text, bikes)[0]!.rule
    expect(rule('people who did not ride more than 3 times in september')).toMatchObject({
      of: [{ event: { names: ['Ride completed'] }, count: { measure: 'times', test: { op: '≤', number: 3 } } }],
    })
    expect(JSON.stringify(rule('people who did not ride more than 3 times in september'))).not.toContain('"not"')
    expect(rule('people who invited a friend or bought a pass')).toMatchObject({
      of: [{ hold: 'any', of: [{ event: { names: ['Friend invited'] } }, { event: { names: ['Pass bought'] } }] }],
    })
  })

  test('a share that is compared with another time is that in its definition too', () => {
    const [reading] = ask('percent of rides with a helmet this year vs last', bikes)
    expect(reading!.question).toMatchObject({ formulas: [{ unit: 'percent' }], compare: { to: 'year' } })
  })

  test('what is not offered is said, with what is in its place', () => {
    const [reading] = ask('95th percentile wait on the help line', bikes)
    expect(reading!.notes).toEqual([expect.stringContaining('this is the 90th')])
  })

  test('what the definition does not carry is told as not used', () => {
    const unused = (text: string) => ask(text, bikes)[0]!.unused.map(({ from, to }) => text.slice(from, to))
    expect(unused('rides in the rain')).toEqual(['rain'])
    expect(unused('rides at weekends')).toEqual(['weekends'])
  })
})
