import { viewOf } from '../app/analyses/registry.js'
import type { Near } from '../app/analyses/leads.js'
import { commonEvents } from '../app/study/common.js'
import { amongThem } from '../app/address/address.js'
import { countedPart } from '../core/analyses/countedPart.js'
import { kindName, printedOf, sentenceOf } from '../core/analyses/inWords.js'
import { peopleWords } from '../core/analyses/peopleWords.js'
import { allKinds, analysisOf, markSchema, parseQuestion, type AnalysisKind } from '../core/analyses/registry.js'
import { readPrinted } from '../core/ask/printed.js'
import type { Vocabulary } from '../core/ask/vocabulary.js'
import { amongMarks } from '../core/questions/marks.js'
import type { Words } from '../core/words/words.js'
import { answer, peopleIn, type TestLog } from './eventLog.js'

/** What a contract is held against: a log, and what its things are called. */
export interface Ground {
  log: TestLog
  near: Near
  words: Words
  vocabulary: Vocabulary
}

/**
 * What a kind of study has forgotten of what the rest of the program asks of it, each as a sentence that says what is
 * missing. Empty where the kind is whole.
 */
export async function missingOf(kind: string, ground: Ground): Promise<string[]> {
  const missing: string[] = []
  const need = (holds: boolean, sentence: string) => {
    if (!holds) missing.push(sentence)
  }
  const { log, near, words, vocabulary } = ground
  const analysis = analysisOf(kind as AnalysisKind)
  const view = viewOf(kind as AnalysisKind)
  need(analysis.kind === kind, `its module says it is the kind “${analysis.kind}”`)
  need(view !== undefined, 'the interface’s registry has no line for it')
  if (!view) return missing
  need(allKinds().filter(({ name }) => name === kindName(kind)).length === 1, 'another kind is called by the same name')

  const leads = await view.leads()
  const question = leads.start(commonEvents(near.catalog), near)
  const again = parseQuestion(JSON.parse(JSON.stringify(question)))
  need(again.faults.length === 0, `its first study has faults: ${JSON.stringify(again.faults)}`)
  need(JSON.stringify(again.question) === JSON.stringify(question), 'its first study is read as another question')
  const broken = parseQuestion({ kind, 'no such thing': 1 })
  need(broken.question.kind === kind && broken.faults.length > 0, 'a definition that is wrong is not told so')

  const text = printedOf(question, words)
  need(text.length > 10 && !/undefined|\[object/.test(text), `its sentence is “${text}”`)
  const explain = await view.explain()
  need(explain(question, 'UTC', words).length > 0, 'it does not say how its numbers are counted')
  const tokens = sentenceOf(question, words).flatMap(({ token }) => token ?? [])
  need(tokens.length > 0, 'nothing of its sentence can be changed')
  const read = readPrinted(text, vocabulary)
  need(read !== null, `its own sentence is not read back: “${text}”`)
  if (read)
    need(
      JSON.stringify(countedPart(read)) === JSON.stringify(countedPart(question)) || printedOf(read, words) === text,
      `its own sentence is read back as “${printedOf(read, words)}”`,
    )

  const { kinds, places } = analysis.marks
  need(kinds.length > 0, 'it has no marks')
  const all = places(question, words)
  need(all.length > 0, 'it offers no place that people are counted in')
  for (const { label, value } of all) {
    need(kinds.includes(value.kind), `${label}: its mark is of a kind that it does not list`)
    need(markSchema.safeParse(value).success, `${label}: its mark is not what its schema allows`)
    need(
      amongMarks([value])(JSON.parse(JSON.stringify(value)) as typeof value),
      `${label}: its mark is not itself again`,
    )
    const people = { study: question, marks: [value] }
    need(/^who \S/.test(peopleWords(people, words)), `${label}: it does not say who is counted there`)
    const among = amongThem(people)
    const printed = printedOf(among, words)
    const back = readPrinted(printed, vocabulary)
    need(
      back !== null && printedOf(back, words) === printed,
      `${label}: its people are not read back from “${printed}”`,
    )
    need(peopleIn(log, question, [value]).length >= 0, `${label}: its people cannot be read`)
  }
  for (const { path } of analysis.splits(question))
    need(
      path.reduce<unknown>((of, step) => (of as Record<string | number, unknown>)?.[step], question) !== undefined,
      `a group is said to stand at ${path.join('.')}, where nothing is`,
    )

  const whole = answer(log, question)
  for (const cuts of [[0.5], [0, 0.2, 0.2, 0.9, 1]])
    need(
      JSON.stringify(answer(log, question, { cuts })) === JSON.stringify(whole),
      `cut at ${cuts.join(', ')}, it counts otherwise`,
    )
  need(whole.kind === kind, 'its result is of another kind')
  const { findings, cautions } = analysis.findings(whole, question, words)
  need(
    [...findings, ...cautions].every((pieces) => pieces.length > 0),
    'it says something that is empty',
  )

  const [head, ...rows] = leads.table(question, whole, words)
  need(head.length > 1 && rows.every((row) => row.length === head.length), 'the rows of its table are not whole')
  for (const { label, question: next } of leads.next(question, whole, near))
    need(parseQuestion(next).faults.length === 0, `where it leads, “${label}” has faults`)
  const loaded = await view.load()
  need(typeof loaded.Body === 'object' || typeof loaded.Body === 'function', 'it has no picture')
  need(view.wide === true || loaded.Numbers !== null, 'it has no table, and does not say that its picture is one')
  need((await view.editor()) !== undefined, 'the words of its sentence open nothing')
  return missing
}
