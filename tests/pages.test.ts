import { createElement, type ReactNode } from 'react'
import { prerender } from 'react-dom/static'
import { createRoutesStub } from 'react-router'
import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import { viewOf } from '../app/analyses/registry.js'
import { whereNext } from '../app/study/lead.server.js'
import { StudyPage } from '../app/study/StudyPage.js'
import { WorkspaceContext, type Workspace } from '../app/page/workspace.js'
import { sentenceOf } from '../core/analyses/inWords.js'
import { besideForms, cellForms } from '../core/analyses/crosstab/question.js'
import { funnelForms } from '../core/analyses/funnel/question.js'
import { gapForms } from '../core/analyses/gaps/question.js'
import { attributionForms } from '../core/analyses/attribution/question.js'
import { sessionForms } from '../core/analyses/sessions/question.js'
import { growthForms } from '../core/analyses/growth/question.js'
import { habitForms } from '../core/analyses/habit/question.js'
import { analysisOf, parseQuestion } from '../core/analyses/registry.js'
import { retentionForms } from '../core/analyses/retention/question.js'
import { trendForms } from '../core/analyses/trend/question.js'
import { walkDemo, type Walk, type Walked } from './walkDemo.js'

/** Pages as the server sends them, and the editors behind the words of their questions. */
let walk: Walk
let workspace: Workspace
beforeAll(async () => {
  walk = await walkDemo(1)
  const { dowser, catalog, words, zone, status } = walk
  workspace = {
    ...{
      name: 'Saltmarsh Bikes',
      zone,
      thisYear: words.thisYear,
      firstDayOfWeek: 1,
      sessions: '',
      words,
      status,
      catalog,
    },
    studies: dowser.studies.list(),
    dashboards: dowser.dashboards.list(),
    destinations: [],
    segments: dowser.segments.list().map((each) => ({ ...each, frozen: false })),
  }
})
afterAll(() => walk.end())

/** What stands on a page of the workspace. */
async function html(node: ReactNode): Promise<string> {
  const Stub = createRoutesStub([{ path: '*', Component: () => node }])
  const { prelude } = await prerender(
    createElement(WorkspaceContext, { value: workspace }, createElement(Stub, { initialEntries: ['/studies/new'] })),
  )
  return new Response(prelude).text()
}

async function page({ question, result }: Walked): Promise<string> {
  const { words, status, near } = walk
  const next = await whereNext(question, result, near)
  return html(
    createElement(StudyPage, {
      data: {
        ...{ study: null, question, edited: false, faults: [], answered: null, result },
        reading: analysisOf(question.kind).findings(result, question, words),
        next,
        ...{ version: 1, now: status.now, words, history: [] },
      },
    }),
  )
}
const textOf = (markup: string) =>
  markup
    .replace(/<style[^>]*>.*?<\/style>/gs, '')
    .replace(/<[^>]+>/g, ' ')
    .replace(/\s+/g, ' ')

test('every study has its question as a heading, its figures, what they say, and where to look next', async () => {
  for (const each of walk.walked) {
    const text = textOf(await page(each))
    const whole = `${each.way}: ${text.slice(0, 400)}`
    expect(text, whole).not.toMatch(/NaN|undefined|\[object|Infinity/)
    expect(text, whole).toContain('What this says')
    for (const { label } of each.next) expect(text, whole).toContain(label.replaceAll('&', '&amp;'))
  }
})

test('every form of every kind draws its own result, or says why it cannot', async () => {
  const forms: Record<string, readonly object[]> = {
    trend: trendForms.flatMap((form) => [
      { form, as: 'number' },
      { form, as: 'share' },
    ]),
    funnel: funnelForms.map((form) => ({ form, ...(form === 'after' ? { step: 0, within: 'session' } : {}) })),
    crosstab: cellForms.flatMap((cells) => besideForms.map((beside) => ({ cells, beside }))),
    retention: [
      ...retentionForms.map((form) => ({ form })),
      { form: 'curve', each: true },
      { form: 'cohorts', turned: true },
    ],
    habit: [...habitForms.map((form) => ({ form })), { form: 'over time', days: 4 }],
    growth: [...growthForms.map((form) => ({ form })), { form: 'one', state: 'lapsed' }],
    gaps: gapForms.map((form) => ({ form })),
    sessions: sessionForms.map((form) => ({ form })),
    attribution: attributionForms.map((form) => ({ form })),
    tipping: [{ form: 'strips' }, { form: 'strips', trivial: true }],
    // Of so few people nothing is learned: its forms are looked at in the browser.
    likelihood: [{ form: 'quality' }],
  }
  for (const [kind, shows] of Object.entries(forms)) {
    const { question } = walk.walked.find((each) => each.question.kind === kind)!
    const pages = new Set<string>()
    for (const show of shows) {
      const asked = parseQuestion({ ...question, show })
      expect([kind, show, asked.faults]).toEqual([kind, show, []])
      const { result, faults } = await walk.dowser.run(asked.question)
      expect([kind, show, faults]).toEqual([kind, show, []])
      const markup = await page({ way: kind, question: asked.question, result: result!, next: [] })
      const text = textOf(markup)
      expect(text, `${kind} ${JSON.stringify(show)}`).not.toMatch(/NaN|undefined|\[object|Infinity/)
      pages.add(markup)
    }
    expect([kind, pages.size]).toEqual([kind, shows.length])
  }
})

describe('the words of a question', () => {
  test('each opens an editor with something to choose, and so does each addition', async () => {
    const empty: string[] = []
    const opened = new Map<string, number>()
    for (const { way, question, result } of walk.walked) {
      const view = viewOf(question.kind)
      const tokens = [
        ...sentenceOf(question, walk.words).flatMap(({ token }) => (token && token !== 'among' ? [token] : [])),
        ...view.additions(question).map(({ token }) => token),
      ]
      for (const token of new Set(tokens)) {
        // Three questions tell enough of one kind's token.
        const times = opened.get(`${question.kind} ${token}`) ?? 0
        if (times === 3) continue
        opened.set(`${question.kind} ${token}`, times + 1)
        const editor = await html(
          createElement(view.Editor, { token, question, result, edit: () => {}, close: () => {} } as never),
        )
        if (!/<(input|button|textarea)|role="(option|listbox|menuitem)/.test(editor)) empty.push(`${way}: ${token}`)
      }
    }
    expect(empty).toEqual([])
    expect(opened.size).toBeGreaterThan(60)
  })
})
