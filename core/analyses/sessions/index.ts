import type { Analysis } from '../analysis.js'
import { explainSessions } from './explain.js'
import { sessionsFindings } from './findings.js'
import { finishSessions, type SessionsResult } from './finish.js'
import { listSessions } from './listed.js'
import { sessionsMark, type SessionsMark } from './marks.js'
import { nextSessions, planSessions, type SessionsPart, type SessionsPlan } from './plan.js'
import { sessionMarks, sessionStudies } from './printed.js'
import { usualSessions, type SessionsQuestion } from './question.js'
import { mergeSessions, momentOfSessions, scanSessions, selectSessions } from './scan.js'
import { parseSessions, sessionsSchema } from './schema.js'
import { spokenSessions } from './spoken.js'

export const sessions: Analysis<SessionsQuestion, SessionsMark, SessionsPlan, SessionsPart, SessionsResult> = {
  ...spokenSessions,
  explain: explainSessions,
  schema: sessionsSchema,
  markSchemas: [sessionsMark],
  usual: usualSessions,
  // Groups and filters are read from whatever a session begins with.
  ofAnything: true,
  turn: {
    picks: ({ holds }) => (holds ? [holds] : []),
    about: (picks) => ({ ...usualSessions(), holds: picks.at(-1)! }),
    splitBy: (splits) => ({ breakdowns: splits.slice(0, 2) }),
  },
  parse: parseSessions,
  plan: planSessions,
  scan: scanSessions,
  merge: mergeSessions,
  anyOrder: true,
  next: nextSessions,
  finish: finishSessions,
  reads: ({ pass }) => pass === 'count',
  select: selectSessions,
  moment: momentOfSessions,
  listed: listSessions,
  printed: sessionStudies,
  printedMarks: sessionMarks,
  findings: sessionsFindings,
}
