import { wilson } from '../../stats/proportion.js'
import { countOf, formatNumber, joinWords, proseShare } from '../../words/format.js'
import type { Reading } from '../../words/sentence.js'
import { plain, propertyWords, strong, type Finding, type Words } from '../../words/words.js'
import type { LikelihoodResult } from './finish.js'
import { isEverybody } from '../peopleWords.js'
import type { KeptModel, Told } from './model.js'
import { LEAST_EACH } from './passes.js'
import { cutsOf, type LikelihoodQuestion } from './question.js'
import { heaviest, isTelling, Z99 } from './weights.js'
import { slicesOf } from './slices.js'
import { featureWords, goalWords, pairsWords, partWords, speaksWords } from './words.js'

/** One in a hundred over ten tenths. */
const Z_TENTHS = 3.290527
/** Weights that change likelihoods by less than this over a standard deviation are not told. */
const LEAST_WEIGHT = 0.05
const MOST_TOLD = 3

/** How far it can be trusted, what the likeliest hold, and what weighs. */
export function likelihoodFindings(result: LikelihoodResult, question: LikelihoodQuestion, words: Words): Reading {
  const { model, scored, tooFew } = result
  if (!model || !scored) {
    const last = question.days === 1 ? 'the last day' : `the last ${question.days} days`
    return { findings: [fewOf(tooFew, goalWords(question, words, last))], cautions: [] }
  }
  const { told } = model
  const tells = isTelling(model)
  return {
    findings: [
      trust(model),
      ...(tells ? [top(model), beside(model)] : []),
      ...(tells && scored.people > 0 ? [expected(result, question)] : []),
      ...(tells ? weighing(model, words) : []),
    ],
    cautions: [
      ...drifted(model, result.since),
      ...off(told.tenths),
      ...asked(question),
      ...leaking(model, words),
      ...late(model, words),
      ...(tells
        ? [
            [
              plain(
                'What weighs goes with doing it, and need not bring it about: an experiment decides whether changing it does.',
              ),
            ],
          ]
        : []),
    ],
  }
}

function trust(model: KeptModel): Finding {
  const { people, did, auc } = model.told
  const of = `${countOf(people, 'person', 'people')} it was not trained on, of whom ${formatNumber(did)} did it`
  if (!auc) return [plain(`How good it is cannot be told: ${of}.`)]
  const between = ` (95 %: ${pairsWords(auc.low)} to ${pairsWords(auc.high)})`
  if (!isTelling(model))
    return [
      strong('It does not tell clearly better than chance: '),
      plain(
        `of somebody who did it and somebody who did not, the first has the higher likelihood in ${pairsWords(auc.value)} of cases${between}, where chance gives half. Told of ${of}.`,
      ),
    ]
  return [
    plain('Of somebody who did it and somebody who did not, the first has the higher likelihood in '),
    strong(pairsWords(auc.value)),
    plain(` of cases${between}; chance gives half. Told of ${of}.`),
  ]
}

/** What the likeliest fifth held of all who did it. */
function top({ told }: KeptModel): Finding {
  const caught = told.caught[20]
  const between = wilson(caught, told.did)!
  return [
    plain('The likeliest fifth held '),
    strong(pairsWords(caught / told.did)),
    plain(
      ` of all who did it (95 %: ${pairsWords(between.low)} to ${pairsWords(between.high)}); a fifth by chance holds 20 %.`,
    ),
  ]
}

/** Against ranking by last activity, which needs no model. */
function beside({ told }: KeptModel): Finding {
  const { auc, better } = told.byLast!
  const points = (share: number) => (share * 100).toFixed(1).replace('-', '−')
  const between = `${points(better.low)} to ${points(better.high)}`
  if (better.low > 0)
    return [
      plain('Simply ranking by last activity gives '),
      strong(pairsWords(auc.value)),
      plain(`: the model is ${points(better.value)} points better (95 %: ${between}).`),
    ]
  return [
    strong(
      better.high < 0
        ? 'Simply ranking by last activity is better: '
        : 'No clear gain over simply ranking by last activity: ',
    ),
    plain(`that gives ${pairsWords(auc.value)}, a difference of ${points(better.value)} points (95 %: ${between}).`),
  ]
}

function expected({ scored, model }: LikelihoodResult, question: LikelihoodQuestion): Finding {
  const [first] = slicesOf(scored!, model!, cutsOf(question))
  return [
    plain(`Of ${countOf(scored!.people, 'person', 'people')} now, `),
    strong(aboutOf(scored!.expected[100])),
    plain(
      ` ${scored!.expected[100] >= 1.5 || scored!.expected[100] < 0.5 ? 'are' : 'is'} expected to; ${aboutOf(first.expected)} of them among ${partWords({ from: 0, to: cutsOf(question)[0] })}.`,
    ),
  ]
}

const aboutOf = (n: number) => formatNumber(n < 10 ? Math.round(n * 10) / 10 : Math.round(n))

function weighing(model: KeptModel, words: Words): Finding[] {
  const clear = heaviest(model).filter(({ pull }) => Math.abs(pull) >= LEAST_WEIGHT)
  const parts = [true, false].flatMap((likelier) => {
    const own = clear.filter(({ pull }) => pull > 0 === likelier).slice(0, MOST_TOLD)
    const said = joinWords(
      own.map(({ feature }) => speaksWords(feature, true, words)),
      'and',
    )
    return own.length > 0 ? [`${likelier ? 'for it' : 'against it'}, ${said}`] : []
  })
  return parts.length > 0 ? [[plain(`What weighs most: ${parts.join('; ')}.`)]] : []
}

/** Who is asked among is read as of now, also of those it is learned from. */
function asked({ among }: LikelihoodQuestion): Finding[] {
  if (!among || isEverybody(among)) return []
  return [
    [
      plain(
        'Who is asked among are those who are in it now: where that depends on what they did since the cut-off, it knows what came after.',
      ),
    ],
  ]
}

/** It tells less well than it did, beyond what chance makes of either. */
function drifted({ told }: KeptModel, since: Told | null): Finding[] {
  if (!since?.auc || !told.auc) return []
  const [then, now] = [told.auc, since.auc]
  const said = `of ${countOf(since.people, 'person', 'people')} whose time has passed since it was trained, it puts ${pairsWords(now.value)} of pairs in the right order (95 %: ${pairsWords(now.low)} to ${pairsWords(now.high)}), ${pairsWords(then.value)} of those it was told of then`
  const isWorse = then.value - now.value > Z99 * Math.sqrt(then.variance + now.variance)
  return [
    isWorse
      ? [strong('It tells less well by now: '), plain(`${said}. Train it anew.`)]
      : [plain(`It is not clearly worse by now: ${said}.`)],
  ]
}

/** Tenths in which what was foretold is clearly not what happened. */
function off(tenths: KeptModel['told']['tenths']): Finding[] {
  const wrong = tenths.filter(({ people, did, foretold }) => {
    const between = wilson(did, people, Z_TENTHS)
    return between !== null && (foretold < between.low || foretold > between.high)
  })
  if (wrong.length === 0) return []
  const [worst] = wrong
  return [
    [
      plain(
        `In ${wrong.length} of ten tenths clearly more or fewer did it than foretold, such as ${proseShare(worst.did / worst.people)} against ${proseShare(worst.foretold)}: its order can be trusted further than its numbers.`,
      ),
    ],
  ]
}

function leaking({ out }: KeptModel, words: Words): Finding[] {
  if (out.leaks.length === 0) return []
  const names = out.leaks.slice(0, MOST_TOLD).map(({ feature }) => featureWords(feature, words))
  const more = out.leaks.length - names.length
  return [
    [
      plain(
        `Left out, as it tells who does it nearly alone and may know what came after: ${joinWords([...names, ...(more > 0 ? [`${more} more`] : [])], 'and')}.`,
      ),
    ],
  ]
}

function late({ out }: KeptModel, words: Words): Finding[] {
  if (out.late.length === 0) return []
  const names = out.late.map(({ property }) => propertyWords({ of: 'person', name: property }, words))
  return [
    [
      plain(
        `Not looked at, as it came after the cut-off without a time of its own: ${joinWords(names, 'and')}. It can be kept on purpose, if it was so before.`,
      ),
    ],
  ]
}

function fewOf(tooFew: LikelihoodResult['tooFew'], goal: string): Finding {
  const { people = 0, did = 0 } = tooFew ?? {}
  if (people === 0) return [plain('Nobody was there at the cut-off who might have done it.')]
  const lack =
    did < LEAST_EACH
      ? `Only ${formatNumber(did)} of ${countOf(people, 'person', 'people')} to train on did ${goal}`
      : `All but ${formatNumber(people - did)} of ${countOf(people, 'person', 'people')} to train on did ${goal}`
  return [
    plain(
      `${lack}: too few to learn from. At least ${LEAST_EACH} who did it and ${LEAST_EACH} who did not are needed; more days, or an event that more people do, bring them.`,
    ),
  ]
}
