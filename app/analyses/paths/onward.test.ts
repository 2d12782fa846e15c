import { describe, expect, test } from 'vitest'
import type { PathsMark } from '../../../core/analyses/paths/marks.js'
import { usualPaths, type PathsQuestion } from '../../../core/analyses/paths/question.js'
import { parseQuestion } from '../../../core/analyses/registry.js'
import { asFunnel, onward, pickOf } from './onward.js'

const by = { of: 'event' as const, name: 'page' }
const base: PathsQuestion = {
  ...usualPaths('Opened'),
  open: [{ event: { names: ['Viewed'] }, by }],
  leaveOut: { event: { names: ['Froze'] } },
}
const words = { thisYear: 2026 }
const labels = (question: PathsQuestion, mark: PathsMark) => onward(question, [mark], words).map(({ label }) => label)
const taken = (question: PathsQuestion, mark: PathsMark, label: string) => {
  const choice = onward(question, [mark], words).find((each) => each.label === label)!
  return 'question' in choice ? choice.question : null
}

describe('what a selection of a stream leads to', () => {
  const node: PathsMark = {
    kind: 'node',
    step: 2,
    place: { event: 'Viewed', value: '/help' },
    from: { event: 'Tapped' },
  }

  test('each study it leads to is whole', () => {
    const marks: PathsMark[] = [
      node,
      { kind: 'node', step: 1, place: { event: 'Tapped' } },
      { kind: 'node', step: 1, place: { rest: true } },
      { kind: 'node', step: 1, place: { ends: true } },
      { kind: 'way', nodes: [{ event: 'Tapped' }, { event: 'Viewed', value: null }] },
      { kind: 'way', nodes: [] },
      { kind: 'anchor' },
      { kind: 'loop' },
    ]
    for (const question of [
      base,
      { ...base, end: { event: { names: ['Bought'] } } },
      { ...base, backward: true as const },
      { ...base, steps: 10 },
    ])
      for (const mark of marks)
        for (const choice of onward(question, [mark], words))
          if ('question' in choice)
            expect([choice.label, parseQuestion(choice.question).faults]).toEqual([choice.label, []])
  })

  test('only ways through it, with where they came from', () => {
    expect(taken(base, node, 'Only ways through Viewed “/help”')).toMatchObject({
      through: [
        { step: 1, node: { event: 'Tapped' } },
        { step: 2, node: { event: 'Viewed', value: '/help' } },
      ],
    })
  })

  test('left out beside what is left out already; where ways begin and end cannot be', () => {
    expect(taken(base, node, 'Leave Viewed “/help” out')).toMatchObject({
      leaveOut: { event: { names: ['Froze', 'Viewed'] } },
    })
    // What is left out is on no way that could be asked for.
    const through = [{ step: 2, node: { event: 'Viewed', value: '/help' } }]
    expect(taken({ ...base, through }, node, 'Leave Viewed “/help” out')).not.toHaveProperty('through')
    expect(labels(base, { kind: 'node', step: 2, place: { event: 'Opened' } })).not.toContain('Leave Opened out')
  })

  test('of those who end: who they are, and who went on beside those who cannot any more', () => {
    const ended: PathsMark = { kind: 'node', step: 2, place: { ends: true } }
    const choices = onward(base, [ended], words)
    expect(choices.map(({ label }) => label)).toEqual([
      'What are those like who end here?',
      'What sets those apart who went on?',
    ])
    const study = { ...base, show: { form: 'stream' } }
    expect(choices[1]).toMatchObject({
      people: {
        rule: {
          hold: 'all',
          of: [
            { kind: 'study', study, marks: [{ kind: 'anchor' }] },
            { hold: 'none', of: [{ kind: 'study', study, marks: [{ step: 1, place: { ends: true } }, ended] }] },
          ],
        },
      },
      beside: { study, marks: [{ ...ended, forGood: true }] },
    })
    // Back in time, between two events and of occurrences there are no two sides of people.
    for (const more of [{ backward: true as const }, { count: 'occurrences' as const }])
      expect(labels({ ...base, ...more }, ended)).toEqual(['What are those like who end here?'])
    // What comes after the last step that is followed is not known.
    expect(labels({ ...base, steps: 2 }, node).filter((label) => label.startsWith('What sets'))).toEqual([])
    expect(labels(base, node)).toContain('What sets those apart who went on from Viewed “/help”?')
  })

  test('everything else opens at its step, once', () => {
    const rest: PathsMark = { kind: 'node', step: 2, place: { rest: true } }
    expect(taken({ ...base, wide: [3] }, rest, 'Open everything else here')).toMatchObject({ wide: [2, 3] })
    expect(labels({ ...base, wide: [2] }, rest)).toEqual([])
    expect(taken({ ...base, keep: 40 }, rest, 'Show more ways at every step')).toMatchObject({ keep: 50 })
  })

  test('of several selected, and of whoever began, nothing is offered', () => {
    expect(onward(base, [node, { kind: 'anchor' }], words)).toEqual([])
    expect(labels(base, { kind: 'anchor' })).toEqual([])
  })

  test('no further than steps are followed', () => {
    expect(labels({ ...base, steps: 10 }, node)).not.toContain('One step further from here')
    expect(taken(base, node, 'One step further from here')).toMatchObject({ steps: 4 })
  })
})

describe('a way as a funnel', () => {
  test('has its steps in order, its time and its people; a value is the condition', () => {
    const among = { rule: { kind: 'segment' as const, segment: 's' } }
    const way = [{ event: 'Tapped' }, { event: 'Viewed', value: '/help' }]
    expect(asFunnel({ ...base, among }, way)).toEqual({
      ...{ kind: 'funnel', window: base.window, range: base.range, among },
      steps: [
        { event: { names: ['Opened'] } },
        { event: { names: ['Tapped'] } },
        { event: { names: ['Viewed'] }, where: { property: by, op: 'is', values: ['/help'] } },
      ],
    })
  })

  test('ends where ways have to get, and back at the start', () => {
    const end = { event: { names: ['Bought'] } }
    expect(asFunnel({ ...base, end }, [{ event: 'Tapped' }]).steps.at(-1)).toEqual(end)
    expect(asFunnel({ ...base, end }, [{ event: 'Tapped' }, { event: 'Bought' }]).steps).toHaveLength(3)
    expect(asFunnel({ ...base, backward: true }, [{ event: 'Tapped' }]).steps.at(-1)).toEqual(base.start)
  })

  test.each([
    [null, { op: 'has no value' }],
    [7, { op: '=', number: 7 }],
    [true, { op: 'is true' }],
    [false, { op: 'is false' }],
    ['x', { op: 'is', values: ['x'] }],
  ] as const)('a node of the value %s', (value, where) => {
    expect(pickOf({ event: 'Viewed', value }, base).where).toEqual({ property: by, ...where })
  })
})
