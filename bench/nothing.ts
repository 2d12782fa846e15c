import { analysisOf, parseQuestion, type Question } from '../core/analyses/registry.js'
import '../tests/kinds.js'
import { answer, days, logOf, MONDAY, type TestEvent, type TestLog } from '../tests/eventLog.js'
import { said } from '../tests/said.js'

/**
 * Simulated months in which nothing changes: how often each kind of study says that something did. People differ from
 * each other in how often they come and how far they get, join all along, and stay as they are.
 * Run by `npm run bench:nothing [months] [show sentences] [of questions named so]`; told in docs/nothing-happens.md.
 */
const MONTHS = Number(process.argv[2] ?? 500)
const DAYS = 200
const PEOPLE = 500

/** A generator of numbers that is the same each time. */
function dice(seed: number): () => number {
  let state = seed >>> 0
  return () => {
    state = (state + 0x6d2b79f5) >>> 0
    let t = state
    t = Math.imul(t ^ (t >>> 15), t | 1)
    t ^= t + Math.imul(t ^ (t >>> 7), t | 61)
    return ((t ^ (t >>> 14)) >>> 0) / 4_294_967_296
  }
}

function simulate(seed: number): TestLog {
  const roll = dice(seed)
  const events: TestEvent[] = []
  for (let p = 0; p < PEOPLE; p++) {
    const person = `p${p}`
    // Half have always been there; the others join at any time and stay for some weeks, as many as ever go.
    const stays = p % 2 === 0
    const joined = stays ? -1000 : DAYS - roll() * 540
    const left = stays ? DAYS : joined - 50 * Math.log(1 - roll())
    // Days on which they come, from a few in a hundred to most of them; how sure they are to go on.
    const often = 0.02 + 0.5 * roll() ** 3
    const sure = 0.5 + 0.5 * roll()
    if (!stays) events.push({ person, event: 'join', time: at(joined) })
    for (let day = Math.max(0, Math.floor(joined) + 1); day < Math.min(DAYS, left); day++) {
      // Weekends are quieter, every week alike.
      if (roll() >= often * (day % 7 > 4 ? 0.6 : 1)) continue
      const opened = at(day + 0.3 + 0.5 * roll())
      const colour = roll() < 0.3 ? 'red' : 'blue'
      events.push({ person, event: 'open', time: opened, properties: { colour } })
      if (roll() >= sure) continue
      events.push({ person, event: 'unlock', time: opened + 60_000 * (1 + 4 * roll()), properties: { colour } })
      if (roll() < 0.9) events.push({ person, event: 'ride', time: opened + 600_000 * (1 + 2 * roll()) })
    }
  }
  const plans = Object.fromEntries(
    Array.from({ length: PEOPLE }, (_, p) => [`p${p}`, { plan: p % 3 ? 'basic' : 'plus' }]),
  )
  return logOf(events, { profiles: plans })
}

/** People who join, do this and that in their first days, each as often as they do, and to whom a lot falls by chance. */
function simulateLots(seed: number): TestLog {
  const roll = dice(seed * 7919)
  const events: TestEvent[] = []
  for (let p = 0; p < 2 * PEOPLE; p++) {
    const person = `p${p}`
    const joined = roll() * (DAYS - 20)
    const often = roll()
    events.push({ person, event: 'join', time: at(joined) })
    for (const event of ['open', 'look', 'share', 'ask', 'rate'])
      for (let n = 0; n < 6; n++)
        if (roll() < 0.5 * often) events.push({ person, event, time: at(joined + 15 * roll()) })
    if (roll() < 0.6) events.push({ person, event: 'lot', time: at(joined + 8 + 60 * roll()) })
    // As likely on each day, whoever they are and however long they have been there.
    const drawn = joined - 100 * Math.log(1 - roll())
    if (drawn < DAYS) events.push({ person, event: 'draw', time: at(drawn) })
  }
  return logOf(events)
}
const at = (day: number) => MONDAY + Math.round(days(day))

const pick = (name: string) => ({ event: { names: [name] } })
const steps = [pick('open'), pick('unlock')]
const hour = { count: 1, unit: 'hour' }
const trend = (measure: string, every: string, last: number) => ({
  ...{ kind: 'trend', series: [{ ...pick('ride'), measure }], every, range: { last, unit: every } },
  show: { form: 'lines', as: 'number' },
})
const sessions = (more: object) => ({
  ...{ kind: 'sessions', every: 'week', range: { last: 12, unit: 'week' }, show: { form: 'over time' } },
  ...more,
})
const colour = { of: 'event', name: 'colour' }
const LOTS: Record<string, object> = {
  'tipping point of a lot': {
    ...{ kind: 'tipping', start: pick('join'), range: { last: 200, unit: 'day' }, days: 7, goal: pick('lot') },
    outcome: { days: 30 },
  },
  'likelihood of a draw': { kind: 'likelihood', goal: pick('draw'), days: 60, back: 28 },
}
const QUESTIONS: Record<string, object> = {
  'funnel, 30 days': { kind: 'funnel', steps, window: hour, range: { last: 30, unit: 'day' } },
  'funnel, 12 weeks': { kind: 'funnel', steps, window: hour, range: { last: 12, unit: 'week' } },
  'funnel, 90 days, three steps': {
    ...{ kind: 'funnel', steps: [...steps, pick('ride')], window: hour, range: { last: 90, unit: 'day' } },
  },
  'retention, 12 weeks': {
    ...{ kind: 'retention', start: pick('join'), back: pick('ride'), first: true, every: 'week' },
    ...{ range: { last: 12, unit: 'week' }, show: { form: 'curve' } },
  },
  'trend of people by week': trend('people', 'week', 12),
  'trend of people by day': trend('people', 'day', 60),
  'trend of times by week': trend('events', 'week', 12),
  'trend of times by day': trend('events', 'day', 30),
  'growth by week': {
    ...{ kind: 'growth', start: pick('ride'), interval: { unit: 'week' }, range: { last: 12, unit: 'week' } },
    show: { form: 'states' },
  },
  'habit by week': {
    ...{ kind: 'habit', start: pick('ride'), period: 'week', range: { last: 12, unit: 'week' } },
    show: { form: 'at least' },
  },
  'paths of two groups': {
    ...{ kind: 'paths', start: pick('open'), steps: 3, window: hour, range: { last: 30, unit: 'day' }, keep: 8 },
    breakdowns: [{ by: { of: 'person', name: 'plan' }, keep: 2 }],
    show: { form: 'stream' },
  },
  'paths of two groups, backward': {
    ...{ kind: 'paths', start: pick('ride'), backward: true, steps: 5, range: { last: 30, unit: 'day' }, keep: 8 },
    window: { count: 1, unit: 'week' },
    breakdowns: [{ by: { of: 'person', name: 'plan' }, keep: 2 }],
    show: { form: 'stream' },
  },
  'sessions, how long they are': sessions({ measure: 'median length' }),
  'sessions, time per person': sessions({ measure: 'time per person' }),
  'sessions, by day': sessions({ every: 'day', range: { last: 8, unit: 'week' }, measure: 'median length' }),
  'attribution, early or late': {
    ...{ kind: 'attribution', goals: [pick('ride')], by: colour, touches: pick('open'), models: ['last', 'first'] },
    ...{ lookBack: { count: 7, unit: 'day' }, range: { last: 60, unit: 'day' } },
  },
  'attribution of two conversions': {
    ...{ kind: 'attribution', goals: [pick('unlock'), pick('ride')], by: colour, touches: pick('open') },
    ...{ models: ['first'], first: true, lookBack: { count: 7, unit: 'day' }, range: { last: 200, unit: 'day' } },
  },
  ...LOTS,
  'sessions of two groups': sessions({ breakdowns: [{ by: { of: 'person', name: 'plan' }, keep: 2 }] }),
}
/** What a sentence says where something is said to have changed, or to be unlike the rest of the time or another group. */
const CHANGE =
  /\bmore were lost\b|\bcame back (?:less|more) often\b|\bof the later half\b|\bmoved\b|\b(?:rises|falls) steadily\b|\bwas unusual\b|\bwent from\b|\bthen back\b|\bis more than noise\b|\bthan those of the others\b/i
/** A value is said to come early or late, or to bring another part of one conversion than of another. */
const CREDIT = /: it comes (?:early|late)\b|\bof unlock and .* of ride\b/
/** Something is said to go with what falls by chance, or to foretell it. */
const FORETOLD = /\bgoes with it best\b|\bgoes with the contrary\b|\bthe first has the higher likelihood in \d/
/** People come by a rhythm of the week here; how long they stay has none. */
const RHYTHM = /\bhas a rhythm\b/

const asked = Object.entries(QUESTIONS).filter(([name]) => name.includes(process.argv[4] ?? ''))
const alarms = new Map(asked.map(([name]) => [name, [] as string[]]))
for (let month = 0; month < MONTHS; month++) {
  const plain = simulate(month + 1)
  const lots = simulateLots(month + 1)
  for (const [name, definition] of asked) {
    const { question, faults } = parseQuestion(definition)
    if (faults.length > 0) throw new Error(JSON.stringify(faults))
    const result = answer(Object.hasOwn(LOTS, name) ? lots : plain, question as Question, { now: at(DAYS) - 1 })
    const { findings } = said(
      analysisOf(question.kind).findings(result as never, question as never, { thisYear: 2026 }),
    )
    const alarm = findings.find(
      (finding) =>
        (CHANGE.test(finding) && !finding.startsWith('No clear')) ||
        (question.kind === 'sessions' && RHYTHM.test(finding)) ||
        (question.kind === 'attribution' && CREDIT.test(finding)) ||
        (Object.hasOwn(LOTS, name) && FORETOLD.test(finding) && !finding.startsWith('It does not tell')),
    )
    if (alarm) alarms.get(name)!.push(alarm)
  }
  if ((month + 1) % 50 === 0) process.stderr.write(`${month + 1} months …\n`)
}
process.stdout.write(`| of ${MONTHS} months without any change | said that something had changed | |\n|---|---|---|\n`)
for (const [name, found] of alarms)
  process.stdout.write(
    `| ${name} | ${found.length} | ${((100 * found.length) / MONTHS).toFixed(1)} %${process.argv[3] ? ` | ${found.slice(0, 3).join(' / ')}` : ''} |\n`,
  )
